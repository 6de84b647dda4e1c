import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useReducer, useState } from "react";
import { api, ask, type Plan, type ReadOut } from "@/shared/api/client";
import { draftKey } from "@/shared/api/drafts";
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
  /** A variant that was set aside to be compared with. */
  aside?: Plan | undefined;
}

type Step =
  | { do: "put"; pointer: string; value: unknown }
  | { do: "type"; pointer: string; text: string }
  | { do: "replace"; doc: Plan; join?: string }
  | { do: "tidy"; sent: Plan; tidied: Plan }
  | { do: "saved"; doc: Plan; base: number }
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
      return change(d, putAt(d.doc, s.pointer, s.value), "", touched);
    }
    case "type":
      return change(d, typeAt(d.doc, s.pointer, s.text), s.pointer);
    case "replace":
      return change(d, s.doc, s.join);
    case "tidy":
      return d.doc === s.sent ? { ...d, doc: s.tidied } : d;
    case "saved":
      return { ...d, doc: s.doc, base: s.base, dirty: false };
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
      };
    }
    case "redo": {
      const on = d.future[0];
      if (!on) return d;
      return { ...d, doc: on, past: [...d.past, d.doc], future: d.future.slice(1), dirty: true };
    }
  }
}

let lastTyped = { pointer: "", at: 0 };

/** Letters typed into one field shortly after one another are one step back. */
function change(d: Draft, made: Plan, pointer = "", touched: readonly string[] = []): Draft {
  const doc = made.said ? { ...made, said: saidAfter(d.doc, made, touched) } : made;
  const now = Date.now();
  const joins = pointer !== "" && lastTyped.pointer === pointer && now - lastTyped.at < 1500;
  lastTyped = { pointer, at: now };
  const past = joins && d.past.length ? d.past : [...d.past, d.doc].slice(-DEPTH);
  return { ...d, doc, past, future: [], dirty: true };
}

type Kept = Pick<Draft, "doc" | "base" | "aside">;

/** On this device at once; a full store is not worth losing the page for. */
function keep(planId: string, { doc, base, aside }: Kept) {
  try {
    localStorage.setItem(draftKey(planId), JSON.stringify({ doc, base, aside }));
  } catch {
    // the plan itself stays on the page, and can be saved
  }
}

function stored(planId: string): Kept | null {
  try {
    const text = localStorage.getItem(draftKey(planId));
    return text ? (JSON.parse(text) as Kept) : null;
  } catch {
    return null;
  }
}

/** A plan as it was opened, with the answer that came with it. */
export interface Saved {
  doc: Plan;
  base: number;
  read: ReadOut;
}

/** Edit a plan; every change is kept on this device at once and answered by the server. */
export function usePlanDraft(planId: string, saved: Saved) {
  const [draft, dispatch] = useReducer(step, null, (): Draft => {
    const kept = stored(planId);
    const from = kept ?? { doc: saved.doc, base: saved.base };
    return { ...from, past: [], future: [], dirty: kept !== null };
  });
  const restored = useMemo(() => stored(planId) !== null, [planId]);
  useEffect(() => {
    if (draft.dirty) keep(planId, draft);
  }, [draft, planId]);

  const sent = useRested(draft.doc, 120);
  const answer = useQuery({
    queryKey: ["answer", sent],
    queryFn: async () => {
      const read = await ask(
        api.POST("/api/plans/answer", { body: { document: { ...sent }, quality: "quick" } }),
      );
      dispatch({ do: "tidy", sent, tidied: read.document as Plan });
      return read;
    },
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 20_000,
  });

  const put = useCallback(
    (pointer: string, value: unknown) => dispatch({ do: "put", pointer, value }),
    [],
  );
  const type = useCallback(
    (pointer: string, text: string) => dispatch({ do: "type", pointer, text }),
    [],
  );
  const unread = sent !== draft.doc || answer.isFetching;
  const quick = answer.data ?? (draft.doc === saved.doc ? saved.read : undefined);
  return { draft, dispatch, put, type, quick, answer, unread, restored };
}

/** A value once it has rested for a moment. */
function useRested<T>(value: T, ms: number): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setRested(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return rested;
}
