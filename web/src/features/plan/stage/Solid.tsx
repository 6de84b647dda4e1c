import { type PointerEvent, useEffect, useRef, useState } from "react";
import type { SceneOut } from "@/shared/api/client";
import { painted } from "@/shared/painted";
import type { Facets } from "@/shared/scene/facets";
import type { View3D } from "@/shared/scene/view3d";
import { useHand } from "./hand";
import { useLiveStore } from "./live";
import type { Grip } from "./moves";

interface SolidProps {
  scene: SceneOut;
  facets: Facets | null;
  shift: { x: number; y: number; z: number };
  top: number;
  unit: string;
  selected: Grip | null;
  select: (grip: Grip | null) => void;
  words: string;
  /** From a map of density to what is shown. */
  map: (f: Facets) => Facets | null;
}

/** Once the browser has time, within a second; returns how to call it off. */
function whenIdle(work: () => void): () => void {
  if (!("requestIdleCallback" in window)) {
    const timer = setTimeout(work, 300);
    return () => clearTimeout(timer);
  }
  const asked = requestIdleCallback(work, { timeout: 1000 });
  return () => cancelIdleCallback(asked);
}

let inks: Theme | null = null;
window.matchMedia("(prefers-color-scheme: dark)").addEventListener("change", () => {
  inks = null;
});

/** The page's colours, read once: asking for them makes the browser work out its styles. */
function theme(): Theme {
  inks ??= readTheme();
  return inks;
}

type Theme = ReturnType<typeof readTheme>;

function readTheme() {
  return painted("ink", "line", "liquid", "steel", "rust");
}

/** The tank to turn and look into; its 3-D part is fetched after the page stands. */
export function Solid(props: SolidProps) {
  const { scene, facets, shift, top, unit, selected, select, words, map } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const view = useRef<View3D | null>(null);
  const [state, setState] = useState<"loading" | "ready" | "none">("loading");
  const [probe, setProbe] = useState<{ x: number; y: number; value: number } | null>(null);
  const hand = useHand();
  const held = useRef<{
    grip: Grip;
    off: [number, number];
    z: number;
    from: [number, number] | null;
  } | null>(null);

  useEffect(() => {
    let gone = false;
    const fetch3d = () =>
      import("@/shared/scene/view3d").then(
        (m) => {
          if (gone || !canvas.current) return;
          try {
            view.current = new m.View3D(canvas.current, theme);
            setState("ready");
          } catch {
            setState("none"); // no WebGL here
          }
        },
        () => setState("none"),
      );
    const waiting = whenIdle(() => void fetch3d()); // the drawings can be used meanwhile
    return () => {
      gone = true;
      waiting();
      view.current?.stop();
      view.current = null;
    };
  }, []);

  const chosen = selected && "id" in selected ? selected.id : null;
  useEffect(() => {
    if (state === "ready") view.current?.show(scene, chosen);
  }, [scene, chosen, state]);
  useEffect(() => {
    if (state === "ready") view.current?.paint(facets, top, [shift.x, shift.y]);
  }, [facets, top, shift.x, shift.y, state]);
  const live = useLiveStore();
  useEffect(() => {
    live.painter = (f) => {
      view.current?.paint(map(f), top);
      return view.current !== null;
    };
    return () => {
      live.painter = null;
    };
  }, [live, map, top]);

  const spot = (e: PointerEvent): [number, number] => {
    const box = (canvas.current as HTMLCanvasElement).getBoundingClientRect();
    return [e.clientX - box.left, e.clientY - box.top];
  };
  const down = (e: PointerEvent) => {
    const [x, y] = spot(e);
    const found = view.current?.pick(x, y);
    const named = scene.pieces.some((p) => p.id === found?.id);
    const [only] = scene.pieces;
    const one = found?.kind === "piece" && !named ? only?.id : found?.id;
    if (!found || !one) return select(null);
    const face = named ? found.face : undefined;
    const grip: Grip =
      found.kind === "piece" ? { kind: "piece", id: one, face } : { kind: "anode", id: one };
    select(grip);
    const several = found.kind === "piece" && !named && scene.pieces.length > 1;
    if (several) return; // the map of lines of sight does not say which of several pieces it is
    const it = [...scene.rods, ...scene.pieces].find((i) => i.id === one);
    const z = found.kind === "anode" ? scene.height_m : scene.level_m;
    const at = view.current?.onLevel(x, y, z);
    if (!it || !at) return;
    held.current = { grip, off: [at[0] - it.x_m, at[1] - it.y_m], z, from: [x, y] };
    view.current?.turning(false);
    e.currentTarget.setPointerCapture(e.pointerId);
    hand.grab(grip);
  };
  const move = (e: PointerEvent) => {
    const [x, y] = spot(e);
    const h = held.current;
    if (!h) {
      const found = e.pointerType === "mouse" && e.buttons === 0 ? view.current?.pick(x, y) : null;
      setProbe(found?.value == null ? null : { x, y, value: found.value });
      return;
    }
    if (h.from && Math.hypot(x - h.from[0], y - h.from[1]) <= 3) return; // a press only picks
    h.from = null;
    const at = view.current?.onLevel(x, y, h.z);
    if (at)
      hand.move(h.grip, [at[0] - h.off[0], at[1] - h.off[1]], e.altKey ? 0 : 0.006, e.timeStamp);
  };
  const up = () => {
    if (!held.current) return;
    held.current = null;
    view.current?.turning(true);
    hand.drop();
  };
  const look = (yaw: number, pitch: number) => () => view.current?.look(scene, yaw, pitch);
  return (
    <div className="relative h-full min-h-0 bg-sheet" data-solid={state}>
      <canvas
        ref={canvas}
        className="block h-full w-full cursor-grab touch-none"
        role="img"
        aria-label={`The tank in three dimensions. ${words}`}
        onPointerDownCapture={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={up}
        onPointerLeave={() => setProbe(null)}
      />
      {state === "loading" && (
        <p role="status" className="absolute inset-0 grid place-items-center text-sm text-ink-2">
          Fetching the 3-D view …
        </p>
      )}
      {state === "none" && (
        <p className="absolute inset-0 grid place-items-center p-6 text-center text-sm text-ink-2">
          This browser draws no 3-D. The two drawings and the table say the same.
        </p>
      )}
      {probe && (
        <p
          className="sign pointer-events-none absolute border border-line bg-sheet px-1.5 text-base"
          style={{
            left: Math.min(probe.x + 12, (canvas.current?.clientWidth ?? 0) - 90),
            top: Math.max(probe.y - 30, 0),
          }}
        >
          {probe.value < 0.095 ? probe.value.toFixed(3) : probe.value.toFixed(2)} {unit}
        </p>
      )}
      {state === "ready" && (
        <div className="absolute bottom-1 left-1 flex flex-wrap gap-1 text-sm">
          {(
            [
              ["Front", 0, 0.12],
              ["Back", Math.PI, 0.12],
              ["End", Math.PI / 2, 0.12],
              ["Above", 0, 1.5],
              ["Corner", -0.62, 0.42],
            ] as const
          ).map(([name, yaw, pitch]) => (
            <button
              key={name}
              type="button"
              className="btn btn-small min-h-7 !px-2"
              onClick={look(yaw, pitch)}
            >
              {name}
            </button>
          ))}
        </div>
      )}
    </div>
  );
}
