import type { ActionOut, RunOut } from "@/shared/api/client";
import { clockTime } from "@/shared/time";
import { DayStrip } from "@/shared/ui/DayStrip";
import { Drawing } from "@/shared/ui/Drawing";
import { Num } from "@/shared/ui/Num";
import { niceTop, Scale } from "@/shared/ui/Scale";
import { Sides } from "@/shared/ui/Sides";
import { word } from "@/shared/words";
import { Expects, useEstimate } from "./Expect";
import { Poles } from "./Gas";
import type { Enter } from "./useRun";

function clockTimes(run: RunOut): [Date, Date, Date] | undefined {
  const at = run.window?.at;
  return at ? [new Date(at.low), new Date(at.mid), new Date(at.high)] : undefined;
}

/** How it stands: the window, the coming hours, the amps on their scale, the drawing. */
export function Standing({ run, now, enter }: { run: RunOut; now: Date; enter: Enter }) {
  const gives = run.planned.gives;
  const believed = useEstimate(run).data;
  const known = believed?.fits && believed.count > 0 ? believed : undefined;
  const at = clockTimes(run);
  // no hours to come and no later hands while it has to go off at once
  const [next] = run.actions;
  const goesOn = !next?.danger;
  // what is asked or to be mended stands beside it, large
  const planned = run.actions.filter((a) => !["again", "ask", "gas", "mend"].includes(a.kind));
  const upcoming: ActionOut[] = run.state === "running" && goesOn ? planned : [];
  return (
    <section className="sheet space-y-3" aria-label="How it stands">
      {goesOn && run.window && run.state !== "finishing" && !run.closed && (
        <div data-testid="window">
          <h2 className="text-xl">
            {word(
              run.window.left_s.high <= 0
                ? "run.clean_now"
                : run.pieces.filter((p) => p.state === "in").length > 1
                  ? "run.clean_several"
                  : run.window.sides.length
                    ? "run.clean_main"
                    : "run.clean_after",
            )}
          </h2>
          {run.window.left_s.high > 0 && (
            <p>
              <span className="sign text-3xl">{run.window.left_text}</span> more under power
              {at && (
                <span className="block text-sm text-ink-2">
                  between {clockTime(at[0], now)} and {clockTime(at[2], now)}, if it keeps running
                </span>
              )}
            </p>
          )}
          {run.window.only_if && (
            <details className="text-sm" data-poles>
              <summary className="min-h-11 cursor-pointer py-2 font-semibold">
                {run.window.only_if}
              </summary>
              <p>{word("run.poles_ask")}</p>
              <Poles ask="poles" enter={enter} />
            </details>
          )}
          {run.apart && <p className="text-sm">{run.apart}</p>}
          <Sides sides={run.window.sides} left />
        </div>
      )}
      {goesOn && !run.window && run.nothing_gained && ["running", "paused"].includes(run.state) && (
        <p data-stalled>{word("run.stalled")}</p>
      )}
      {upcoming.length > 0 && (
        <>
          <DayStrip now={now} actions={upcoming} window={at} />
          <ol className="text-sm">
            {upcoming.map((a) => (
              <li
                key={a.kind + a.piece}
                className="flex items-baseline gap-3 border-t border-hair py-1"
              >
                <span className="sign w-24 shrink-0 text-lg">
                  {a.at ? clockTime(new Date(a.at), now) : "any time"}
                </span>
                <span>{a.title}</span>
              </li>
            ))}
          </ol>
        </>
      )}
      <Scale
        label={word("field.entry.current_a")}
        unit="A"
        top={niceTop(Math.max(run.planned.rated_a * 1.15, gives.high ?? 0, run.read_a ?? 0))}
        expected={known?.mid ?? gives.number}
        window={
          known
            ? [known.low, known.high]
            : gives.low !== null && gives.high !== null
              ? [gives.low, gives.high]
              : undefined
        }
        read={run.read_a ?? undefined}
        limit={run.planned.rated_a}
      />
      {run.limits && (
        <p className="mt-2 text-sm" data-limits>
          {run.limits}
        </p>
      )}
      {believed && <Expects found={believed} />}
      <LeadByLead run={run} />
      <Resists run={run} />
      {run.state !== "planned" && (
        <Drawing scene={run.scene} cleanShare={run.stretches ? run.share_clean : 0} />
      )}
    </section>
  );
}

/** What was read round one lead at a time, against the field's share of it. */
function LeadByLead({ run }: { run: RunOut }) {
  const read = run.leads.filter((l) => l.says);
  if (!read.length) return null;
  return (
    <section className="mt-2 text-sm" aria-label={word("lead.title")} data-leads>
      <h3 className="text-base">{word("lead.title")}</h3>
      <ul>
        {read.map((l) => (
          <li key={l.id} className={l.verdict === "right" ? "" : "font-semibold"}>
            {l.says}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What resists by the newest reading, where it sits as far as that tells. */
function Resists({ run }: { run: RunOut }) {
  if (!run.ohms.length) return null;
  return (
    <dl className="grid grid-cols-[1fr_auto] gap-x-4 text-sm" data-ohms>
      {run.ohms.map((o) => (
        <div key={o.read.key} className="contents">
          <dt>
            {o.read.name}
            {o.more && <strong> {word("ohms.more")}</strong>}
            {o.ask && <span className="block text-xs text-ink-2">{o.ask}</span>}
          </dt>
          <dd className="text-right">
            <Num f={o.read} className="text-lg" />
            {o.planned && (
              <span className="block text-xs text-ink-2">
                planned {o.planned.text} {o.planned.unit}
              </span>
            )}
          </dd>
        </div>
      ))}
    </dl>
  );
}
