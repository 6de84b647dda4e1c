import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useReducer, useState } from "react";
import { api, ask, type Plan, type ReadOut } from "@/shared/api/client";
import { keepDraft, takeDraft } from "@/shared/api/drafts";
import { useRested } from "@/shared/useRested";
import { type Draft, type Step, step } from "./reducer";

const handed = new Map<string, Draft>();

/** A new plan goes on under its own name: with what was typed while it was saved, and its undo. */
export function handOver(planId: string, draft: Draft, saved: Step) {
  const made = step(draft, saved);
  handed.set(planId, made);
  if (made.dirty) keepDraft(planId, made);
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
    const kept = takeDraft(planId);
    const { doc, base, aside } = kept ?? { doc: saved.doc, base: saved.base };
    return { doc, base, aside, past: [], future: [], dirty: kept !== null, edits: 0 };
  });
  useEffect(() => void handed.delete(planId), [planId]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: as it was when the plan was opened
  const restored = useMemo(() => draft.dirty, [planId]);
  const [kept, setKept] = useState(true);
  useEffect(() => {
    if (draft.dirty) setKept(keepDraft(planId, draft));
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
  return { draft, dispatch, put, type, quick, answer, unread, restored, kept };
}
