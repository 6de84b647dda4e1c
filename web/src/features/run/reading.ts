import type { Detail } from "@/shared/api/client";
import { parseWhen } from "@/shared/when";
import { meter, temperature, withUnit } from "./figures";

/**
 * A reading on its way from the thumb into the log. Pure: what happens to the panel, and what is written,
 * comes back from what was typed and pressed. What cannot be read stays as it was typed and is not sent; a
 * time that cannot be read never becomes now.
 */
export interface ReadingTyped {
  amps: string;
  tank: string;
  bath: string;
  method: "clamp" | "dial";
  /** The lead that the clamp goes round, by the id of its scrap or piece; none for the whole bath. */
  lead: string;
  when: string;
}

export const NOTHING_TYPED: ReadingTyped = {
  amps: "",
  tank: "",
  bath: "",
  method: "clamp",
  lead: "",
  when: "",
};

/** What the panel needs to know of its run, and the time. */
export interface ReadingOf {
  /** °C or °F */
  unit: string;
  now: Date;
  since: Date | null;
}

export type ReadingDone =
  | { did: "typed"; field: "amps" | "tank" | "bath" | "when"; text: string }
  | { did: "went_round"; lead: string }
  | { did: "read_with"; method: ReadingTyped["method"] }
  | { did: "wrote" }
  | { did: "looked_only" }
  | { did: "cancelled" };

export interface ReadingStep {
  typed: ReadingTyped;
  /** The panel closes, and nothing of it is kept. */
  left: boolean;
  /** What goes into the log, at a time of its own where one was typed. */
  entry?: { detail: Detail; at?: Date };
}

/** Whether something that was typed cannot be read. */
export function unreadable(t: ReadingTyped, of: ReadingOf): boolean {
  return (
    meter(t.amps, "A") === undefined ||
    meter(t.tank, "V") === undefined ||
    !temperature(t.bath) ||
    parseWhen(t.when, of.now, of.since) === null
  );
}

/** Whether there is anything to write down. */
export const isEmpty = (t: ReadingTyped) =>
  ![t.amps, ...(t.lead ? [] : [t.tank, t.bath])].some((text) => text.trim());

export function reading(t: ReadingTyped, e: ReadingDone, of: ReadingOf): ReadingStep {
  switch (e.did) {
    case "typed":
      return { typed: { ...t, [e.field]: e.text }, left: false };
    case "read_with":
      return { typed: { ...t, method: e.method }, left: false };
    case "went_round":
      return { typed: { ...t, lead: e.lead }, left: false };
    case "cancelled":
      return { typed: NOTHING_TYPED, left: true };
    case "wrote":
      if (unreadable(t, of) || isEmpty(t)) return { typed: t, left: false };
      return written(t, of, t.method);
    case "looked_only":
      if (unreadable(t, of)) return { typed: t, left: false };
      return written(t, of, "none");
  }
}

function written(t: ReadingTyped, of: ReadingOf, method: ReadingTyped["method"] | "none") {
  const amps = meter(t.amps, "A");
  const detail: Detail =
    t.lead && typeof amps === "number"
      ? { kind: "one_lead", lead: t.lead, current_a: amps, method: t.method }
      : whole(t, of, method);
  // without a time of its own it is of the moment of the press
  const at = t.when.trim() ? parseWhen(t.when, of.now, of.since) : null;
  return { typed: NOTHING_TYPED, left: true, entry: { detail, ...(at && { at }) } };
}

function whole(t: ReadingTyped, of: ReadingOf, method: ReadingTyped["method"] | "none"): Detail {
  return {
    kind: "reading",
    method,
    current_a: method === "none" ? null : (meter(t.amps, "A") ?? null),
    tank_v: meter(t.tank, "V") ?? null,
    supply_v: null,
    bath_c: null,
    bath: withUnit(t.bath, of.unit),
  };
}
