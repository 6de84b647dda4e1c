import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, ask, type Plan } from "@/shared/api/client";
import { type Orphan, otherDrafts, throwAway } from "@/shared/api/drafts";
import { clockTime, dateOf } from "@/shared/time";
import { word } from "@/shared/words";

/** Versions of this plan that are on this device and in the shop besides the one that is open. */
export function Others({
  planId,
  base,
  replace,
}: {
  planId: string;
  base: number;
  replace: (doc: Plan) => void;
}) {
  const [others, setOthers] = useState<Orphan[]>(() => otherDrafts(planId));
  useEffect(() => {
    const look = () => setOthers(otherDrafts(planId));
    const timer = setInterval(look, 10_000);
    return () => clearInterval(timer);
  }, [planId]);
  const rid = (orphan: Orphan) => {
    throwAway(orphan);
    setOthers(otherDrafts(planId));
  };
  const saved = useQuery({
    queryKey: ["revisions", planId, "newest"],
    enabled: planId !== "new",
    queryFn: () =>
      ask(api.GET("/api/plans/{plan_id}/revisions", { params: { path: { plan_id: planId } } })),
    refetchInterval: 15_000,
  });
  const newest = saved.data?.[0]?.number ?? base;
  const behind = planId !== "new" && base < newest;
  if (!others.length && !behind) return null;
  return (
    <ul className="mb-3 border-l-4 border-line bg-sheet px-3 text-sm" data-other-drafts>
      {behind && (
        <li className="py-2">{word("draft.behind", { base: `${base}`, newest: `${newest}` })}</li>
      )}
      {others.map((o) => (
        <li
          key={o.key}
          className="flex flex-wrap items-center gap-2 border-hair py-1 not-first:border-t"
        >
          <span className="flex-1">
            {word(o.open ? "draft.open" : "draft.orphan", { when: when(o.draft.at) })}
          </span>
          {!o.open && (
            <>
              <button
                type="button"
                className="btn btn-small"
                onClick={() => {
                  replace(o.draft.doc);
                  rid(o);
                }}
              >
                {word("draft.take")}
              </button>
              <button type="button" className="btn btn-small" onClick={() => rid(o)}>
                {word("outbox.away")}
              </button>
            </>
          )}
        </li>
      ))}
    </ul>
  );
}

function when(at: number): string {
  const then = new Date(at);
  const today = then.toDateString() === new Date().toDateString();
  return today ? clockTime(then, then) : `${dateOf(then)} ${clockTime(then, then)}`;
}
