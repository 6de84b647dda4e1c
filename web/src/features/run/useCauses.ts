import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, ask, keys, type RunOut } from "@/shared/api/client";
import type { Mode } from "@/shared/ui/Causes";

/** What is the matter with a run by its log as it stands. */
export function useCauses(run: RunOut, mode: Mode) {
  const newest = run.log.at(0)?.client_id ?? "";
  return useQuery({
    queryKey: [...keys.run(run.id), "causes", newest, mode],
    queryFn: () =>
      ask(
        api.GET("/api/runs/{run_id}/causes", {
          params: { path: { run_id: run.id }, query: { mode } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
}
