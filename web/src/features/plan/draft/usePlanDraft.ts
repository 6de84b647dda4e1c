import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useReducer } from "react";
import { api, ask, type Plan, type ReadOut } from "@/shared/api/client";
import { draftKey } from "@/shared/api/drafts";
import { useRested } from "@/shared/useRested";
import { type Draft, type Step, step } from "./reducer";

type Kept = Pick<Draft, "doc" | "base" | "aside">;

const handed = new Map<string, Draft>();

/** A new plan goes on under its own name: with what was typed while it was saved, and its undo. */
export function handOver(planId: string, draft: Draft, saved: Step) {
  const made = step(draft, saved);
  handed.set(planId, made);
  if (made.dirty) keep(planId, made);
}

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
    const over = handed.get(planId);
    if (over) return over;
    const kept = stored(planId);
    const from = kept ?? { doc: saved.doc, base: saved.base };
    return { ...from, past: [], future: [], dirty: kept !== null, edits: 0 };
  });
  useEffect(() => void handed.delete(planId), [planId]);
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
    (pointer: string, text: string) => dispatch({ do: "type", pointer, text, at: Date.now() }),
    [],
  );
  const unread = sent !== draft.doc || answer.isFetching;
  const quick = answer.data ?? (draft.doc === saved.doc ? saved.read : undefined);
  return { draft, dispatch, put, type, quick, answer, unread, restored };
}
