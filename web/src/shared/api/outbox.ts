import { useSyncExternalStore } from "react";
import { Away, api, ask, type Detail, type Entry, Refused, type RunOut } from "./client";

/**
 * Entries typed at the bath, kept on this device until the server has them. Each carries its own
 * id, so that sending one twice keeps it once. An entry that the server refuses stays here with the
 * reason until the person takes it out.
 */
type Kept = Omit<Entry, "detail"> & { detail: Detail };

export interface Pending {
  runId: string;
  entry: Kept;
  refused?: string;
}

const STORE = "yb.outbox";
const listeners = new Set<() => void>();
let items: Pending[] = load();
let sending = false;

function load(): Pending[] {
  try {
    return JSON.parse(localStorage.getItem(STORE) ?? "[]") as Pending[];
  } catch {
    return [];
  }
}

function keep(next: Pending[]) {
  items = next;
  localStorage.setItem(STORE, JSON.stringify(items));
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

export function makeEntry(detail: Detail, at: Date = new Date()): Kept {
  return { client_id: freshId(), at: at.toISOString(), detail };
}

/** Keep an entry here first, then try to send everything. */
export async function post(runId: string, entry: Kept): Promise<RunOut | null> {
  keep([...items, { runId, entry }]);
  return flush();
}

export function takeOut(clientId: string) {
  keep(items.filter((p) => p.entry.client_id !== clientId));
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
        const reason = error instanceof Refused ? error.problem.detail : String(error);
        keep(items.map((p) => (p === next ? { ...p, refused: reason } : p)));
      }
    }
  } finally {
    sending = false;
  }
}

let retry: ReturnType<typeof setTimeout> | undefined;

/** Try once more soon; the regular round of the frame goes on beside it. */
function again() {
  clearTimeout(retry);
  retry = setTimeout(() => void flush(), 3_000);
}

window.addEventListener("online", () => void flush());
window.addEventListener("storage", (event) => {
  if (event.key === STORE) {
    items = load();
    for (const tell of listeners) tell();
  }
});
