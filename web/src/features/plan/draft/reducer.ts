import type { Plan } from "@/shared/api/client";
import { places } from "@/shared/form/context";
import { putAt, typeAt } from "@/shared/form/put";
import { saidAfter } from "@/shared/form/said";

/** A plan under the hand: the document, what it started from, and the way back and forth. */
export interface Draft {
  doc: Plan;
  base: number;
  past: Plan[];
  future: Plan[];
  dirty: boolean;
  /** How often the person changed it: what was typed while it was being saved is known by that. */
  edits: number;
  /** What the last step changed, and when [ms]: letters into one field are one step back. */
  last?: { join: string; at: number } | undefined;
  /** A variant that was set aside to be compared with. */
  aside?: Plan | undefined;
}

export type Step =
  | { do: "put"; pointer: string; value: unknown }
  | { do: "type"; pointer: string; text: string; at: number }
  | { do: "replace"; doc: Plan; join?: string | undefined; at?: number }
  | { do: "tidy"; sent: Plan; tidied: Plan }
  | { do: "saved"; doc: Plan; base: number; edits: number; brought?: boolean }
  | { do: "set_aside" }
  | { do: "keep_this" }
  | { do: "go_back" }
  | { do: "undo" }
  | { do: "redo" };

const DEPTH = 100;

export function step(d: Draft, s: Step): Draft {
  switch (s.do) {
    case "put": {
      // what was picked though it stood there already is said by now
      const whole = typeof s.value === "object" && s.value !== null;
      const touched = whole ? [] : places(d.doc, s.pointer);
      return change(d, putAt(d.doc, s.pointer, s.value), touched);
    }
    case "type":
      return change(d, typeAt(d.doc, s.pointer, s.text), [], { join: s.pointer, at: s.at });
    case "replace":
      return change(d, s.doc, [], s.join ? { join: s.join, at: s.at ?? 0 } : undefined);
    case "tidy":
      return d.doc === s.sent ? { ...d, doc: s.tidied } : d;
    case "saved":
      // what was typed meanwhile stays, on top of what is saved now; where that holds another's
      // changes too, it still starts from the revision that it knows
      if (s.edits !== d.edits) return { ...d, base: s.brought ? d.base : s.base, dirty: true };
      return {
        ...d,
        doc: s.doc,
        base: s.base,
        dirty: false,
        // what another changed is a step of its own: undo takes it out again, in sight
        past: s.brought ? [...d.past, d.doc].slice(-DEPTH) : d.past,
      };
    case "set_aside":
      return { ...d, aside: d.doc };
    case "keep_this":
      return { ...d, aside: undefined };
    case "go_back":
      return d.aside ? { ...change(d, d.aside), aside: undefined } : d;
    case "undo": {
      const back = d.past.at(-1);
      if (!back) return d;
      return {
        ...d,
        doc: back,
        past: d.past.slice(0, -1),
        future: [d.doc, ...d.future],
        dirty: true,
        edits: d.edits + 1,
      };
    }
    case "redo": {
      const on = d.future[0];
      if (!on) return d;
      return {
        ...d,
        doc: on,
        past: [...d.past, d.doc],
        future: d.future.slice(1),
        dirty: true,
        edits: d.edits + 1,
      };
    }
  }
}

/** Letters typed into one field shortly after one another are one step back. */
function change(
  d: Draft,
  made: Plan,
  touched: readonly string[] = [],
  last?: Draft["last"],
): Draft {
  const doc = made.said ? { ...made, said: saidAfter(d.doc, made, touched) } : made;
  const joins = last?.join === d.last?.join && last && d.last && last.at - d.last.at < SHORTLY;
  const past = joins && d.past.length ? d.past : [...d.past, d.doc].slice(-DEPTH);
  return { ...d, doc, past, future: [], dirty: true, edits: d.edits + 1, last };
}

const SHORTLY = 1500; // ms
