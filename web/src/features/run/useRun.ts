import { useQuery } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { api, ask, type Detail, keys, type RunOut } from "@/shared/api/client";
import { press, usePending } from "@/shared/api/outbox";

/** A run, renewed as it goes, and the one way to write into it. */
export function useRun(runId: string) {
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
        return await press(runId, detail, at);
      } finally {
        setBusy(false);
      }
    },
    [runId],
  );
  return { run, pending, enter, busy };
}

export type Enter = (detail: Detail, at?: Date) => Promise<RunOut | null>;

/** When it was switched on last, where the log on the page goes back so far. */
export function switchedOn(run: RunOut): Date | null {
  const on = run.log.find((line) => line.kind === "switch_on");
  return on ? new Date(on.at) : null;
}
