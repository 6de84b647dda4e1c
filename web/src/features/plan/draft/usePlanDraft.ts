import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useReducer, useState } from "react";
import { api, ask, type Plan, type ReadOut } from "@/shared/api/client";
import { forgetDraft, keepDraft, takeDraft } from "@/shared/api/drafts";
import { useRested } from "@/shared/useRested";
import { type Draft, step } from "./reducer";

/** A plan as it was opened, with the answer that came with it. */
export interface Saved {
  doc: Plan;
  base: number;
  read: ReadOut;
}

/** Edit a plan; every change is kept on this device at once and answered by the server. */
export function usePlanDraft(planId: string, saved: Saved) {
  const [draft, dispatch] = useReducer(step, null, (): Draft => {
    const kept = takeDraft(planId);
    const { doc, base, aside } = kept ?? { doc: saved.doc, base: saved.base };
    return { doc, base, aside, past: [], future: [], dirty: kept !== null, edits: 0 };
  });
  // changes of before this page was opened, as long as nothing is saved
  const [back] = useState(draft.dirty ? draft.base : undefined);
  const restored = back === draft.base;
  const [kept, setKept] = useState(true);
  useEffect(() => {
    if (draft.dirty) setKept(keepDraft(planId, draft));
  }, [draft, planId]);

  const [first] = useState(planId);
  useEffect(() => {
    if (planId !== first) forgetDraft(first); // saved: the next new plan begins empty
  }, [planId, first]);

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
