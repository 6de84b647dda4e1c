import { useSyncExternalStore } from "react";
import { practiceId, timeNow } from "../clock";
import { Away, api, ask, Broken, type Detail, type Entry, Refused, type RunOut } from "./client";
import {
  type EntryEvent,
  entries,
  nextToSend,
  type Pending,
  together,
  type Written,
} from "./entries";

/** The entries of this device: kept until the server has them, as ``entries`` has it, and sent. */
export type { Pending } from "./entries";

// what was written at a practice is its own, and no more than that
const STORE = practiceId() ? `yb.outbox.${practiceId()}` : "yb.outbox";
const listeners = new Set<() => void>();
let items: Pending[] = load([]);
let sending = false;

function load(held: Pending[]): Pending[] {
  try {
    return JSON.parse(localStorage.getItem(STORE) ?? "[]") as Pending[];
  } catch {
    return held;
  }
}

/** Something happened to them; as they stand on the device by now. */
function happened(e: EntryEvent) {
  items = entries(together(load(items), items), e);
  try {
    localStorage.setItem(STORE, JSON.stringify(items));
    items = items.map(({ unkept: _, ...p }) => p);
  } catch {
    items = items.map((p) => ({ ...p, unkept: true })); // no room: the page holds it, and says so
  }
  for (const tell of listeners) tell();
}

function subscribe(tell: () => void) {
  listeners.add(tell);
  return () => listeners.delete(tell);
}

export function usePending(runId?: string): Pending[] {
  const all = useSyncExternalStore(subscribe, () => items);
  return runId ? all.filter((p) => p.runId === runId) : all;
}

export function freshId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  return Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("");
}

export function makeEntry(detail: Detail, at: Date = timeNow()): Written {
  return { client_id: freshId(), at: at.toISOString(), detail };
}

/** Keep an entry here first, then try to send everything. */
export async function post(runId: string, entry: Written): Promise<RunOut | null> {
  happened({ is: "written", runId, entry });
  return flush();
}

const TWICE = 1200; // ms within which a second press is the first one's
let last: { text: string; at: number } | undefined;

/** Enter what was pressed; pressed twice in a row it is entered once. */
export function press(runId: string, detail: Detail, at?: Date): Promise<RunOut | null> {
  const text = JSON.stringify([runId, detail]);
  const now = Date.now();
  const twice = last?.text === text && now - last.at < TWICE;
  last = { text, at: now };
  return twice ? flush() : post(runId, makeEntry(detail, at));
}

/** For good: sent, or thrown away by hand. */
export const takeOut = (id: string) => happened({ is: "gone", id });

/** Out of sight, with its words and its reason. */
export const putAside = (id: string) => happened({ is: "put_aside", id });

/** Once more, as it was written. */
export function tryAgain(id: string) {
  happened({ is: "tried_again", id, fresh: freshId() });
  return flush();
}

/** Once more with what was mended in it. */
export function sendChanged(id: string, at: Date, detail: Detail) {
  happened({ is: "mended", id, entry: makeEntry(detail, at) });
  return flush();
}

const sent = new Set<(run: RunOut) => void>();

/** Be told of a run as the server sees it after each entry, whenever that was sent. */
export function onSent(tell: (run: RunOut) => void): () => void {
  sent.add(tell);
  return () => void sent.delete(tell);
}

/** Send what waits, oldest first; returns the last run as the server sees it. */
export async function flush(): Promise<RunOut | null> {
  if (sending) return null;
  sending = true;
  let last: RunOut | null = null;
  try {
    for (;;) {
      const next = nextToSend(items);
      if (!next) return last;
      try {
        last = await ask(
          api.POST("/api/runs/{run_id}/entries", {
            params: { path: { run_id: next.runId } },
            body: next.entry as Entry,
          }),
        );
        takeOut(next.entry.client_id);
        for (const tell of sent) tell(last);
      } catch (error) {
        if (error instanceof Away) {
          again();
          return last;
        }
        const why = error instanceof Refused ? error.problem.detail : messageOf(error);
        const broke = error instanceof Broken;
        happened({ is: "refused", id: next.entry.client_id, why, broke });
      }
    }
  } finally {
    sending = false;
  }
}

const messageOf = (error: unknown) => (error instanceof Error ? error.message : String(error));

let retry: ReturnType<typeof setTimeout> | undefined;

/** Try once more soon; the regular round of the frame goes on beside it. */
function again() {
  clearTimeout(retry);
  retry = setTimeout(() => void flush(), 3_000);
}

window.addEventListener("online", () => void flush());
window.addEventListener("storage", (event) => {
  if (event.key === STORE) {
    items = load(items);
    for (const tell of listeners) tell();
  }
});
