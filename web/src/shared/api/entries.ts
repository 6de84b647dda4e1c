import type { Detail, Entry } from "./client";

/**
 * Entries on their way from this device into a log. Each carries its own id, so that sending one twice
 * keeps it once. One that the server refuses, or breaks on, holds up none behind it: it stays here with the
 * reason, to be tried again or put aside; what is put aside stays until it is thrown away by name. Pure.
 */
export type Written = Omit<Entry, "detail"> & { detail: Detail };

export interface Pending {
  runId: string;
  entry: Written;
  refused?: string;
  /** It broke on the server, which says nothing of the entry itself. */
  broke?: boolean;
  aside?: boolean;
  /** This device has no room for it: it is on the page alone. */
  unkept?: boolean;
}

export type EntryEvent =
  | { is: "written"; runId: string; entry: Written }
  /** For good: the server has it, or it was thrown away by hand. */
  | { is: "gone"; id: string }
  | { is: "refused"; id: string; why: string; broke: boolean }
  | { is: "put_aside"; id: string }
  /** As it was written: under its own id where it broke, since it may be there already. */
  | { is: "tried_again"; id: string; fresh: string }
  /** With what was mended in it: other words go by another name. */
  | { is: "mended"; id: string; entry: Written };

export const same = (p: Pending, id: string) => p.entry.client_id === id;

export function entries(all: Pending[], e: EntryEvent): Pending[] {
  if (e.is === "written") return [...all, { runId: e.runId, entry: e.entry }];
  if (e.is === "gone") return all.filter((p) => !same(p, e.id));
  return all.map((p) => (same(p, e.id) ? changed(p, e) : p));
}

function changed(p: Pending, e: Exclude<EntryEvent, { is: "written" | "gone" }>): Pending {
  const { runId, entry } = p;
  switch (e.is) {
    case "refused":
      return { ...p, refused: e.why, broke: e.broke };
    case "put_aside":
      return { ...p, aside: true };
    case "tried_again":
      return { runId, entry: p.broke ? entry : { ...entry, client_id: e.fresh } };
    case "mended":
      return { runId, entry: e.entry };
  }
}

/** What is sent next: the oldest that nothing was said against. */
export const nextToSend = (all: readonly Pending[]) => all.find((p) => !p.refused);

/** What the device has by now, since another tab writes there too, with what it had no room for. */
export function together(kept: Pending[], held: readonly Pending[]): Pending[] {
  const more = held.filter((p) => p.unkept && !kept.some((q) => same(q, p.entry.client_id)));
  return [...kept, ...more];
}
