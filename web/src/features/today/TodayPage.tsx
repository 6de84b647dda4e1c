import { useQuery } from "@tanstack/react-query";
import { OctagonX } from "lucide-react";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import { api, ask, keys, type RackItemOut, type Schemas } from "@/shared/api/client";
import { Labelled } from "@/shared/form/Labelled";
import { clockTime, dateOf, untilText } from "@/shared/time";
import { DayStrip } from "@/shared/ui/DayStrip";
import { SeverityIcon } from "@/shared/ui/Finding";
import { Loading, Trouble } from "@/shared/ui/States";
import { TankShape } from "@/shared/ui/Tank";
import { useNow } from "@/shared/useNow";
import { counted, word } from "@/shared/words";

/** What hands do next over all baths, and the plans that wait; ``empty`` where there is nothing. */
export function TodayPage({ empty }: { empty: ReactNode }) {
  const rack = useQuery({
    queryKey: keys.rack,
    queryFn: () => ask(api.GET("/api/runs")),
    refetchInterval: 20_000,
  });
  const plans = useQuery({ queryKey: keys.plans, queryFn: () => ask(api.GET("/api/plans")) });
  const book = useQuery({ queryKey: keys.book, queryFn: () => ask(api.GET("/api/book")) });
  const unread = useQuery({
    queryKey: keys.unread,
    queryFn: () => ask(api.GET("/api/shop/unread")),
  });
  const now = useNow();
  const error = rack.error ?? plans.error;
  if (error && !rack.data) return <Trouble error={error} again={() => void rack.refetch()} />;
  if (!rack.data || !plans.data) return <Loading what="the shop" />;
  const running = new Set(rack.data.map((r) => r.plan_id));
  const written = new Set(book.data?.map((b) => b.entry.plan_id));
  const waiting = plans.data.filter((p) => !running.has(p.id) && !written.has(p.id));
  const made = plans.data.filter((p) => written.has(p.id) && !running.has(p.id));
  if (!rack.data.length && !plans.data.length && !unread.data?.length) return <>{empty}</>;
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
        <PlanLines plans={waiting} />
        {waiting.length === 0 && <p className="py-2 text-ink-2">No plan waits.</p>}
        <Link to="/plans/new" className="btn btn-main mt-3">
          New plan
        </Link>
        {made.length > 0 && (
          <details className="mt-5">
            <summary className="cursor-pointer font-semibold">
              {made.length} {made.length === 1 ? "plan" : "plans"} already in the book
            </summary>
            <PlanLines plans={made} />
          </details>
        )}
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
  const due = item.state !== "running" || (at !== null && at <= now);
  const danger = item.next?.danger ?? false;
  return (
    <li className="border-b border-hair">
      <Link
        to={`/runs/${item.run_id}`}
        className="grid grid-cols-[4.5rem_1fr] items-center gap-x-4 py-3 hover:bg-sheet sm:grid-cols-[5.5rem_10rem_minmax(0,1fr)] lg:grid-cols-[5.5rem_10rem_minmax(0,1fr)_26rem]"
      >
        <span className="flex justify-center">
          <TankShape scene={item.scene} share={item.share_done} size={64} />
        </span>
        <span className="order-3 col-span-2 sm:order-none sm:col-span-1">
          {danger ? (
            <span className="sign inline-flex items-center gap-2 bg-stop px-2 text-3xl text-on-stop">
              <OctagonX size={28} aria-hidden="true" /> now
            </span>
          ) : due ? (
            <span className="sign inline-block bg-liquid px-2 text-3xl text-on-liquid">now</span>
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
          <span className="sign block text-2xl">{item.next?.title ?? "Nothing to do"}</span>
          <span className="text-sm text-ink-2">
            {item.name}:{" "}
            {item.state === "running"
              ? `under power, ${Math.round(item.share_done * 100)} % of its dose`
              : item.state}
          </span>
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

/** Plans, the newest first; a long list is shown in parts. */
function PlanLines({ plans }: { plans: readonly Schemas["ListedOut"][] }) {
  const [shown, setShown] = useState(50);
  const [wanted, setWanted] = useState("");
  const all = plans;
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  const found = all.filter((p) => words.every((w) => p.title.toLowerCase().includes(w)));
  return (
    <>
      {all.length > MANY && (
        <div className="mb-2 max-w-sm">
          <Labelled
            label={word("field.plan.find")}
            type="search"
            value={wanted}
            onChange={(e) => setWanted(e.target.value)}
          />
        </div>
      )}
      <ul className="border-t-2 border-line">
        {found.slice(0, shown).map((p) => (
          <PlanLine key={p.id} plan={p} />
        ))}
      </ul>
      {found.length > shown && (
        <button type="button" className="btn mt-2" onClick={() => setShown(shown + 200)}>
          Show more of {found.length}
        </button>
      )}
    </>
  );
}

const MANY = 8; // plans from which they are looked for and not only through

function PlanLine({ plan }: { plan: Schemas["ListedOut"] }) {
  return (
    <li className="border-b border-hair">
      <Link
        to={`/plans/${plan.id}`}
        className="grid gap-x-6 gap-y-1 py-3 hover:bg-sheet sm:grid-cols-[16rem_1fr_auto]"
      >
        <span className="sign text-2xl">{plan.title || "Plan without a name"}</span>
        <span className="flex items-center gap-2">
          {plan.stop ? (
            <>
              <SeverityIcon severity="stop" />
              <span>
                {plan.stop}
                {plan.stops > 1 && `, and ${counted(plan.stops - 1, "count.stop")} more`}
              </span>
            </>
          ) : (
            <span>
              Nothing stops it
              {plan.cautions > 0 && `, ${counted(plan.cautions, "count.caution")}`}
            </span>
          )}
        </span>
        <span className="text-sm text-ink-2">
          {plan.gives}
          {plan.clean && `, ${plan.clean} under power`}; {dateOf(new Date(plan.created_at))}
        </span>
      </Link>
    </li>
  );
}
