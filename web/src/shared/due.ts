import { useEffect, useRef, useSyncExternalStore } from "react";
import type { RackItemOut } from "./api/client";
import { word } from "./words";

/** Calls when hands are wanted: by the page's title, and by a sound where that is wished for. */

const STORE = "yb.sound";
const listeners = new Set<() => void>();
let context: AudioContext | undefined;

/** A browser sounds only once its page was pressed. */
let pressed = false;
for (const kind of ["pointerdown", "keydown"])
  addEventListener(
    kind,
    () => {
      if (pressed) return;
      pressed = true;
      for (const tell of listeners) tell();
    },
    { capture: true },
  );

/** Whether a danger could not be heard now. */
export function useMute(): boolean {
  return useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => !pressed,
  );
}

function wanted(): boolean {
  try {
    return localStorage.getItem(STORE) === "on";
  } catch {
    return false;
  }
}

/** Whether the sound is wished for on this device, and the switch of it. */
export function useSound(): [boolean, () => void] {
  const on = useSyncExternalStore((tell) => {
    listeners.add(tell);
    return () => listeners.delete(tell);
  }, wanted);
  return [
    on,
    () => {
      try {
        localStorage.setItem(STORE, on ? "off" : "on");
      } catch {
        // no room on the device: the title still calls
      }
      if (!on) ring(1); // the press lets the browser sound, and it is heard what it will be
      for (const tell of listeners) tell();
    },
  ];
}

/** So many strokes of a bell. */
function ring(strokes: number) {
  try {
    context ??= new AudioContext();
    void context.resume();
    for (let k = 0; k < strokes; k++) {
      const from = context.currentTime + 0.05 + 0.45 * k;
      const gain = context.createGain();
      gain.gain.setValueAtTime(0.35, from);
      gain.gain.exponentialRampToValueAtTime(0.001, from + 0.4);
      const tone = context.createOscillator();
      tone.frequency.value = 880;
      tone.connect(gain).connect(context.destination);
      tone.start(from);
      tone.stop(from + 0.42);
    }
  } catch {
    // a browser without sound: the title still calls
  }
}

export interface Due {
  runId: string;
  words: string;
  danger: boolean;
}

/** What hands are wanted for now, danger first. */
export function dueOf(rack: readonly RackItemOut[], now: Date): Due[] {
  return rack
    .flatMap((item) => {
      const next = item.next;
      if (!next) return [];
      const danger = next.danger;
      const due = danger || (next.at !== null && new Date(next.at) <= now);
      const words = word("due.one", { name: item.name, what: next.title });
      return due ? [{ runId: item.run_id, words, danger }] : [];
    })
    .sort((a, b) => Number(b.danger) - Number(a.danger));
}

const AGAIN = 30_000; // ms between two calls for a danger that nobody has answered

/** Call by title and sound as things become due. */
export function useDue(rack: readonly RackItemOut[] | undefined, now: Date) {
  const due = dueOf(rack ?? [], now);
  const known = useRef(new Set<string>());
  const rung = useRef(0);
  const mute = useMute();
  const first = due.at(0);
  const title = first ? `(${due.length}) ${first.words}` : "Yellow Bath";
  useEffect(() => {
    document.title = title;
  }, [title]);
  useEffect(() => {
    const keys = new Set(mute ? [] : due.map((d) => `${d.runId} ${d.words}`));
    const fresh = [...keys].some((k) => !known.current.has(k));
    known.current = keys;
    const danger = due.some((d) => d.danger);
    const again = danger && Date.now() - rung.current > AGAIN;
    if (!(wanted() || danger) || mute || !(fresh || again)) return; // a danger is always heard
    rung.current = Date.now();
    ring(danger ? 5 : 2);
  });
  return { danger: due.find((d) => d.danger), mute };
}
