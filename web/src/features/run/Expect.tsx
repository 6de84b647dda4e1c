import { useQuery } from "@tanstack/react-query";
import { api, ask, keys, type RunOut, type Schemas } from "@/shared/api/client";
import { word } from "@/shared/words";

/** What is believed of a run's circuit, by the log's newest entry. */
export function useEstimate(run: RunOut) {
  const newest = run.log.at(0)?.client_id ?? "";
  return useQuery({
    queryKey: [...keys.run(run.id), "estimate", newest],
    enabled: run.stretches > 0 && !run.closed,
    queryFn: () =>
      ask(api.GET("/api/runs/{run_id}/estimate", { params: { path: { run_id: run.id } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** What to expect of the amps by what was read, what that tells apart, and what would move them. */
export function Expects({ found }: { found: Schemas["EstimateOut"] }) {
  return (
    <section className="mt-2 space-y-1 text-sm" aria-label={word("estimate.title")} data-estimate>
      {found.says.map((s) => (
        <p key={s}>{s}</p>
      ))}
      {found.parts.length > 0 && (
        <dl className="grid grid-cols-[1fr_auto] gap-x-4">
          {found.parts.map((p) => (
            <div key={p.name} className="contents">
              <dt>{p.name}</dt>
              <dd className="sign text-right text-base">
                {p.read} <span className="text-xs text-ink-2">planned {p.planned}</span>
              </dd>
            </div>
          ))}
        </dl>
      )}
    </section>
  );
}

/** What a change would make of the amps, beforehand. */
export function AfterChange({ run, what }: { run: RunOut; what: string }) {
  const found = useEstimate(run);
  const after = found.data?.after.find((a) => a.what === what);
  if (!after) return null;
  return (
    <p className="text-sm" data-after={what}>
      {after.text}.
      {after.warning && (
        <strong className="mt-1 block border-l-4 border-stop pl-2">{after.warning}</strong>
      )}
    </p>
  );
}
