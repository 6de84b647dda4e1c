import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Archive, ArchiveRestore, OctagonX } from "lucide-react";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import {
  api,
  ask,
  keys,
  type RackItemOut,
  rackAgain,
  type Schemas,
  sent,
} from "@/shared/api/client";
import { usePaged } from "@/shared/api/paged";
import { clockTime, dateOf, untilText } from "@/shared/time";
import { DayStrip } from "@/shared/ui/DayStrip";
import { SeverityIcon } from "@/shared/ui/Finding";
import { More, Undone, useFind } from "@/shared/ui/Long";
import { Loading, Trouble } from "@/shared/ui/States";
import { TankShape } from "@/shared/ui/Tank";
import { useNow } from "@/shared/useNow";
import { capital, counted, word } from "@/shared/words";

/** What hands do next over all baths, and the plans that wait; ``empty`` where there is nothing. */
export function TodayPage({ empty }: { empty: ReactNode }) {
  const rack = useQuery({
    queryKey: keys.rack,
    queryFn: () => ask(api.GET("/api/runs")),
    refetchInterval: rackAgain,
  });
  const any = useQuery({
    queryKey: keys.listed("any", ""),
    queryFn: () => ask(api.GET("/api/plans", { params: { query: { most: 1 } } })),
  });
  const unread = useQuery({
    queryKey: keys.unread,
    queryFn: () => ask(api.GET("/api/shop/unread")),
  });
  const now = useNow();
  const error = rack.error ?? any.error;
  if (error && !rack.data) return <Trouble error={error} again={() => void rack.refetch()} />;
  if (!rack.data || !any.data) return <Loading what="the shop" />;
  if (!rack.data.length && !any.data.count && !unread.data?.length) return <>{empty}</>;
  return (
    <div className="mx-auto max-w-[1280px] space-y-6 p-3 sm:p-5">
      <section aria-labelledby="hands">
        <h1 id="hands" className="mb-2 text-3xl">
          {rack.data.length ? "To do" : "No bath is set up"}
        </h1>
        <ol className="border-t-2 border-line">
          {rack.data.map((r) => (
            <Bath key={r.run_id} item={r} now={now} />
          ))}
        </ol>
      </section>
      <Unread rows={unread.data ?? []} />
      <section aria-labelledby="plans">
        <h2 id="plans" className="mb-2 text-2xl">
          Plans
        </h2>
        <PlanLines standing="waiting" none="No plan waits." />
        <Link to="/plans/new" className="btn btn-main mt-3">
          New plan
        </Link>
        <Folded title="Plans already in the book">
          <PlanLines standing="made" none="None yet." />
        </Folded>
        <Folded title={word("list.shelf")}>
          <PlanLines standing="any" archived none="Nothing is archived." />
        </Folded>
      </section>
    </div>
  );
}

/** What is stored and cannot be read here: said, kept, and given away as a file. */
function Unread({ rows }: { rows: Schemas["UnreadOut"][] }) {
  if (!rows.length) return null;
  return (
    <section aria-labelledby="unread" data-unread>
      <h2 id="unread" className="mb-2 text-2xl">
        Cannot be read
      </h2>
      <ul className="border-t-2 border-line">
        {rows.map((r) => (
          <li
            key={r.kind + r.id}
            className="grid items-center gap-x-6 gap-y-1 border-b border-hair py-3 sm:grid-cols-[16rem_1fr_auto]"
          >
            <span className="sign text-xl">
              {word(`unread.${r.kind}`)}: {r.name || "without a name"}
            </span>
            <span className="text-sm">
              {r.why} It stays as it is; the rest of the shop goes on.
            </span>
            <a className="btn btn-small" href={r.file} download>
              Save it as a file
            </a>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Bath({ item, now }: { item: RackItemOut; now: Date }) {
  const at = item.next?.at ? new Date(item.next.at) : null;
  const waits = item.state === "planned";
  const due = !waits && (item.state !== "running" || (at !== null && at <= now));
  const danger = item.next?.danger ?? false;
  return (
    <li className="border-b border-hair">
      <Link
        to={`/runs/${item.run_id}`}
        className="grid [overflow-wrap:anywhere] grid-cols-[64px_minmax(0,1fr)] items-center gap-x-4 py-3 hover:bg-sheet sm:grid-cols-[64px_minmax(0,10rem)_minmax(0,1fr)] lg:grid-cols-[64px_minmax(0,10rem)_minmax(0,1fr)_minmax(0,26rem)]"
      >
        <span className="flex justify-center">
          <TankShape outline={item.outline} share={item.share_clean} size={64} />
        </span>
        <span className="order-3 col-span-2 sm:order-none sm:col-span-1">
          {danger ? (
            <span className="sign inline-flex items-center gap-2 bg-stop px-2 text-3xl text-on-stop">
              <OctagonX size={28} aria-hidden="true" /> now
            </span>
          ) : due ? (
            <span className="sign inline-block bg-liquid px-2 text-3xl text-on-liquid">now</span>
          ) : waits ? (
            <span className="text-sm text-ink-2">{word("today.waits")}</span>
          ) : (
            at && (
              <>
                <span className="sign block text-3xl">{clockTime(at, now)}</span>
                <span className="text-sm text-ink-2">{untilText(at, now)}</span>
              </>
            )
          )}
        </span>
        <span>
          <span className="sign block text-2xl">
            {item.checking
              ? `${capital(word("list.checking"))} …`
              : (item.next?.title ?? "Nothing to do")}
          </span>
          <span className="text-sm text-ink-2">
            {item.name}:{" "}
            {item.state === "running"
              ? word("today.running", { percent: Math.round(item.share_clean * 100) })
              : item.state}
          </span>
          {item.window?.only_if && (
            <span className="block text-sm text-ink-2" data-only-if>
              {item.window.only_if}
            </span>
          )}
        </span>
        <span className="order-4 col-span-2 hidden lg:order-none lg:col-span-1 lg:block">
          {item.state === "running" && (
            <DayStrip now={now} actions={item.actions} window={windowOf(item)} label={item.name} />
          )}
        </span>
      </Link>
    </li>
  );
}

function windowOf(item: RackItemOut): [Date, Date, Date] | null {
  const at = item.window?.at;
  return at ? [new Date(at.low), new Date(at.mid), new Date(at.high)] : null;
}

/** A part of the page that is fetched once it is wanted. */
function Folded({ title, children }: { title: string; children: ReactNode }) {
  const [open, setOpen] = useState(false);
  return (
    <details className="mt-4" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="min-h-11 cursor-pointer py-2 font-semibold">{title}</summary>
      {open && children}
    </details>
  );
}

type Standing = "waiting" | "made" | "any";

/** Plans, the newest first, page by page; found by words of their names where there are many. */
function PlanLines({
  standing,
  archived = false,
  none,
}: {
  standing: Standing;
  archived?: boolean;
  none: string;
}) {
  const { find, field } = useFind(word("field.plan.find"));
  const queries = useQueryClient();
  const [gone, setGone] = useState<{ id: string; title: string } | null>(null);
  const { rows, count, more, error, list } = usePaged(
    [...keys.listed(standing, find), archived],
    (after) =>
      ask(api.GET("/api/plans", { params: { query: { standing, find, after, archived } } })),
    // what is worked out anew is asked for again until it is
    { every: (some) => some.some((p) => p.checking) && 3_000 },
  );
  const move = useMutation({
    mutationFn: ({ id, away }: { id: string; title: string; away: boolean }) => {
      const params = { params: { path: { plan_id: id } } };
      return sent(
        away
          ? api.PUT("/api/plans/{plan_id}/archived", params)
          : api.DELETE("/api/plans/{plan_id}/archived", params),
      );
    },
    onSuccess: (_, { id, title, away }) => {
      setGone(away ? { id, title } : null);
      void queries.invalidateQueries({ queryKey: keys.plans });
    },
  });
  if (error) return <Trouble error={error} again={() => void list.refetch()} />;
  if (!rows) return <Loading what="the plans" />;
  return (
    <>
      {gone && (
        <Undone
          name={gone.title || "The plan"}
          back={() => move.mutate({ ...gone, away: false })}
          error={move.error}
        />
      )}
      {field(count)}
      <ul className="border-t-2 border-line">
        {rows.map((p) => (
          <PlanLine
            key={p.id}
            plan={p}
            archived={archived}
            move={(away) => move.mutate({ id: p.id, title: p.title, away })}
          />
        ))}
      </ul>
      {rows.length === 0 && <p className="py-2 text-ink-2">{find ? word("list.none") : none}</p>}
      <More shown={rows.length} count={count} more={more} />
    </>
  );
}

function PlanLine({
  plan,
  archived,
  move,
}: {
  plan: Schemas["ListedOut"];
  archived: boolean;
  move: (away: boolean) => void;
}) {
  return (
    <li className="flex items-center border-b border-hair hover:bg-sheet">
      <Link
        to={`/plans/${plan.id}`}
        className="grid min-w-0 flex-1 items-baseline gap-x-6 gap-y-1 py-3 sm:grid-cols-[16rem_1fr_auto]"
      >
        <span className="sign text-2xl">{plan.title || "Plan without a name"}</span>
        <span className="flex items-center gap-2">
          {plan.checking ? (
            <span className="text-ink-2">{word("list.checking")} …</span>
          ) : plan.stop ? (
            <>
              <SeverityIcon severity="stop" />
              <span>
                {plan.stop}
                {plan.stops > 1 && `, and ${counted(plan.stops - 1, "count.stop")} more`}
              </span>
            </>
          ) : (
            <span>
              Ready to run
              {plan.cautions > 0 && `, ${counted(plan.cautions, "count.caution")}`}
            </span>
          )}
        </span>
        <span className="text-sm text-ink-2">
          {[plan.gives, plan.clean && `${plan.clean} under power`].filter(Boolean).join(", ")}
          {plan.quick && ` (${word("today.quick")})`}
          {plan.gives && "; "}
          {dateOf(new Date(plan.created_at))}
        </span>
      </Link>
      <button
        type="button"
        className="btn btn-bare ml-2 min-h-11 min-w-11"
        aria-label={`${word(archived ? "list.back" : "list.archive")}: ${plan.title || "plan"}`}
        title={word(archived ? "list.back" : "list.archive")}
        onClick={() => move(!archived)}
      >
        {archived ? (
          <ArchiveRestore size={18} aria-hidden="true" />
        ) : (
          <Archive size={18} aria-hidden="true" />
        )}
      </button>
    </li>
  );
}
