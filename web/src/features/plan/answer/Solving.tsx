import { useQuery } from "@tanstack/react-query";
import { api, ask } from "@/shared/api/client";
import { rowOf } from "@/shared/api/drag";
import { useLasting } from "@/shared/useLasting";
import { word } from "@/shared/words";

const FIRST_S = 20; // what compiling takes at most

/** What is being solved for a row of requests and how far it is, with a way to end it; nothing for
 *  the first half second. */
export function Solving({ row, busy, stop }: { row: string; busy: boolean; stop?: () => void }) {
  const lasts = useLasting(busy, 500);
  const by = rowOf(row);
  const told = useQuery({
    queryKey: ["solver", by],
    queryFn: () => ask(api.GET("/api/plans/solver", { params: { query: { by } } })),
    enabled: lasts,
    refetchInterval: 400,
    gcTime: 0,
  });
  if (!lasts) return null;
  const seconds = told.data?.getting_ready_s;
  const doing = told.data?.doing;
  const step = doing && { mesh: doing.mesh, of: doing.of, what: word(`solving.${doing.what}`) };
  const text =
    seconds != null
      ? word("solving.ready", { seconds: Math.round(seconds), most: FIRST_S })
      : step
        ? word("solving.step", step)
        : word("solving.wait");
  return (
    <span className="flex flex-wrap items-center gap-x-3 gap-y-1" data-testid="solving">
      <span role="status">{text}</span>
      {seconds != null ? (
        <progress className="h-3 w-28" value={Math.min(seconds, FIRST_S - 1)} max={FIRST_S} />
      ) : (
        doing && <progress className="h-3 w-28" value={doing.mesh - 0.5} max={doing.of} />
      )}
      {stop && (
        <button type="button" className="underline" onClick={stop}>
          {word("solving.stop")}
        </button>
      )}
    </span>
  );
}

/** The same of a plan's field; stopped, it says so and can be begun again. */
export function SolvingField({ field }: { field: Halting }) {
  if (!field.halted) return <Solving row={MAP} busy={field.busy} stop={field.halt} />;
  return (
    <span className="flex flex-wrap gap-x-3">
      <span role="status">{word("solving.stopped")}</span>
      <button type="button" className="underline" onClick={field.resume}>
        {word("solving.again")}
      </button>
    </span>
  );
}

/** A solve that can be ended and begun again. */
export interface Halting {
  busy: boolean;
  halted: boolean;
  halt: () => void;
  resume: () => void;
}

/** The row of a page's solves that rest. */
export const MAP = "map";
