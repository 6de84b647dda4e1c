import { useSyncExternalStore } from "react";
import { practiceId, timeNow } from "../clock";
import { Away, api, ask, Broken, type Detail, type Entry, Refused, type RunOut } from "./client";

/**
 * Entries typed at the bath, kept on this device until the server has them. Each carries its own
 * id, so that sending one twice keeps it once. An entry that the server refuses, or breaks on, holds up
 * none behind it: it stays here with the reason, to be tried again or put aside; what is put aside
 * stays on the device until it is thrown away by name.
 */
type Kept = Omit<Entry, "detail"> & { detail: Detail };

export interface Pending {
  runId: string;
  entry: Kept;
  refused?: string;
  /** It broke on the server, which says nothing of the entry itself. */
  broke?: boolean;
  aside?: boolean;
  /** This device has no room for it: it is on the page alone. */
  unkept?: boolean;
}

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

/** Changed as it stands on the device by now, since another tab writes there too. */
function keep(made: (now: Pending[]) => Pending[]) {
  const unkept = items.filter((p) => p.unkept);
  const now = load(items);
  items = made([...now, ...unkept.filter((p) => !now.some((q) => same(p, q.entry.client_id)))]);
  try {
    localStorage.setItem(STORE, JSON.stringify(items));
    items = items.map(({ unkept: _, ...p }) => p);
  } catch {
    items = items.map((p) => ({ ...p, unkept: true })); // no room: the page holds it, and says so
  }
  for (const tell of listeners) tell();
}

const same = (p: Pending, clientId: string) => p.entry.client_id === clientId;

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

export function makeEntry(detail: Detail, at: Date = timeNow()): Kept {
  return { client_id: freshId(), at: at.toISOString(), detail };
}

/** Keep an entry here first, then try to send everything. */
export async function post(runId: string, entry: Kept): Promise<RunOut | null> {
  keep((all) => [...all, { runId, entry }]);
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
export function takeOut(clientId: string) {
  keep((all) => all.filter((p) => !same(p, clientId)));
}

function change(clientId: string, to: (p: Pending) => Pending) {
  keep((all) => all.map((p) => (same(p, clientId) ? to(p) : p)));
}

/** Out of sight, with its words and its reason. */
export function putAside(clientId: string) {
  change(clientId, (p) => ({ ...p, aside: true }));
}

/** Once more, as it was written: under its own id where it broke, since it may be there already. */
export function tryAgain(clientId: string) {
  change(clientId, ({ runId, entry, broke }) => ({
    runId,
    entry: broke ? entry : { ...entry, client_id: freshId() },
  }));
  return flush();
}

/** Once more with what was mended in it; other words go by another name. */
export function sendChanged(clientId: string, at: Date, detail: Detail) {
  change(clientId, ({ runId }) => ({ runId, entry: makeEntry(detail, at) }));
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
      const next = items.find((p) => !p.refused);
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
        const refused = error instanceof Refused ? error.problem.detail : messageOf(error);
        change(next.entry.client_id, (p) => ({ ...p, refused, broke: error instanceof Broken }));
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
