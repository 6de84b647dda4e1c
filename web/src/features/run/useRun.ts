import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { api, ask, type Detail, keys, type RunOut } from "@/shared/api/client";
import { makeEntry, post, usePending } from "@/shared/api/outbox";

/** A run, renewed as it goes, and the one way to write into it. */
export function useRun(runId: string) {
  const queries = useQueryClient();
  const run = useQuery({
    queryKey: keys.run(runId),
    queryFn: () => ask(api.GET("/api/runs/{run_id}", { params: { path: { run_id: runId } } })),
    refetchInterval: 15_000,
  });
  const pending = usePending(runId);
  const [busy, setBusy] = useState(false);
  const enter = useCallback(
    async (detail: Detail, at?: Date): Promise<RunOut | null> => {
      setBusy(true);
      try {
        const answer = await post(runId, makeEntry(detail, at));
        if (answer) queries.setQueryData(keys.run(runId), answer);
        void queries.invalidateQueries({ queryKey: keys.rack });
        if (answer?.closed) void queries.invalidateQueries({ queryKey: keys.book });
        return answer;
      } finally {
        setBusy(false);
      }
    },
    [runId, queries],
  );
  return { run, pending, enter, busy };
}

export type Enter = (detail: Detail, at?: Date) => Promise<RunOut | null>;
