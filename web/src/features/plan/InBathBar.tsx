import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link } from "react-router";
import { api, ask, keys } from "@/shared/api/client";
import { press } from "@/shared/api/outbox";
import { InBath } from "@/shared/ui/InBath";
import { word } from "@/shared/words";

/** A plan whose bath is set up was changed: asked once whether the bath has it too. */
export function InBathBar({ planId, base }: { planId: string; base: number }) {
  const queries = useQueryClient();
  const rack = useQuery({ queryKey: keys.rack, queryFn: () => ask(api.GET("/api/runs")) });
  const runId = rack.data?.find((r) => r.plan_id === planId)?.run_id ?? "";
  const run = useQuery({
    queryKey: keys.run(runId),
    enabled: runId !== "",
    queryFn: () => ask(api.GET("/api/runs/{run_id}", { params: { path: { run_id: runId } } })),
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new revision is asked about
  useEffect(() => {
    if (runId) void queries.invalidateQueries({ queryKey: keys.run(runId) });
  }, [base, runId, queries]);
  const r = run.data;
  if (!r || r.head !== base || !(r.unsaid || r.asked.length)) return null;
  return (
    <section
      className="mb-3 space-y-2 border-2 border-line bg-sheet p-3"
      aria-label={word("in_bath.asks")}
    >
      <p className="text-lg">
        <Link className="underline" to={`/runs/${runId}`}>
          {word("in_bath.running")}
        </Link>{" "}
        {word("in_bath.asks")}
      </p>
      <InBath
        run={r}
        say={(detail) =>
          void press(runId, detail).then((made) => {
            if (made) queries.setQueryData(keys.run(runId), made);
            void queries.invalidateQueries({ queryKey: keys.rack });
          })
        }
      />
    </section>
  );
}
