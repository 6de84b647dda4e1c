import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import type { Detail, RunOut } from "@/shared/api/client";
import { practiceId, timeNow } from "@/shared/clock";
import { useSound } from "@/shared/due";
import { useHalf } from "@/shared/form/useHalf";
import { spanText } from "@/shared/time";
import { InBath } from "@/shared/ui/InBath";
import { RunLog } from "@/shared/ui/RunLog";
import { Loading, Trouble } from "@/shared/ui/States";
import { useNow } from "@/shared/useNow";
import { parseWhen } from "@/shared/when";
import { word } from "@/shared/words";
import { Always } from "./Always";
import { Dose } from "./Dose";
import { Hands, type Open } from "./Hands";
import { Kept } from "./Kept";
import { Looked } from "./Looked";
import { Looks } from "./Looks";
import { OnTheLine } from "./line/Line";
import { NextAction } from "./Next";
import { Pieces, someApart } from "./Pieces";
import { Standing } from "./Standing";
import { Taken, useTaken } from "./Taken";
import { type Enter, switchedOn, useRun } from "./useRun";
import { Was } from "./Was";

export function RunPage() {
  const { runId = "" } = useParams();
  const { run, pending, enter: write, busy } = useRun(runId);
  const [when, setWhen] = useState("");
  const [open, setOpen] = useHalf<Open>(`${runId}.open`, null);
  const { take, down } = useTaken(run.data, write);
  // what is pressed without a field of its own was at the time that was set, once; a time that
  // cannot be read stops it: it never becomes now
  const enter: Enter = (detail, at) => {
    if (at || !when.trim()) return take(detail, at);
    const set = parseWhen(when, timeNow(), run.data && switchedOn(run.data));
    if (!set) {
      document.querySelector<HTMLInputElement>("[data-other-time] input")?.focus();
      return Promise.resolve(null);
    }
    setWhen("");
    return take(detail, set);
  };
  const now = useNow(5_000);
  const state = run.data?.state;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new state is read from its top
  useEffect(() => {
    window.scrollTo(0, 0);
  }, [state]);
  if (!run.data && run.error) return <Trouble error={run.error} again={() => void run.refetch()} />;
  if (!run.data) return <Loading what="the run" />;
  const r = run.data;
  const danger = r.actions.at(0)?.danger ?? false;
  return (
    <div className="mx-auto grid max-w-[1280px] gap-4 p-3 pb-24 sm:p-5 md:grid-cols-[minmax(0,1fr)_minmax(20rem,26rem)]">
      <div className="min-w-0 space-y-4">
        {danger && <NextAction {...{ run: r, now, enter, busy, open, setOpen }} />}
        <Head run={r} now={now} away={run.isError} />
        <Kept pending={pending} run={r} />
        {!danger && <NextAction {...{ run: r, now, enter, busy, open, setOpen }} />}
        <Looked run={r} enter={enter} busy={busy} />
        {r.unnamed && !danger && !open && <Was run={r} enter={enter} busy={busy} />}
        <Since run={r} say={(detail) => void enter(detail)} />
        {someApart(r) && <Pieces run={r} enter={enter} now={now} />}
        <Hands {...{ run: r, enter, now, busy, when, setWhen, open, setOpen }} />
        {!someApart(r) && <Pieces run={r} enter={enter} now={now} />}
        {r.state !== "planned" && !practiceId() && <OnTheLine run={r} />}
      </div>
      <div className="space-y-4">
        <Standing run={r} now={now} enter={enter} />
        {r.stretches > 0 && !r.closed && <Looks run={r} />}
        {r.stretches > 0 && <Dose run={r} />}
        <RunLog
          run={r}
          now={now}
          strike={(target) => void enter({ kind: "void", target, reason: "" })}
        />
      </div>
      <Taken down={down} enter={enter} />
      {(r.state === "running" || r.state === "paused") && <Always run={r} enter={enter} />}
    </div>
  );
}

function Head({ run, now, away }: { run: RunOut; now: Date; away: boolean }) {
  const powered = run.figures["run.powered"]?.value_si ?? 0;
  const [sound, ring] = useSound();
  const extra =
    run.state === "running" && !run.silent
      ? (now.getTime() - new Date(run.now).getTime()) / 1000
      : 0;
  return (
    <header>
      <h1 className="text-3xl">{run.name}</h1>
      <p className="flex flex-wrap items-baseline gap-x-3">
        <span
          className={`sign px-1.5 text-lg ${run.state === "running" && !run.silent ? "bg-liquid text-on-liquid" : "border border-line"}`}
          data-state={run.state}
        >
          {run.silent ? "Switched on, nothing flows" : word(`run.state.${run.state}`)}
        </span>
        {run.already && <span className="text-sm text-ink-2">{word("already.head")}</span>}
        {powered > 0 && (
          <span className="sign text-lg" data-testid="powered">
            {spanText(powered + Math.max(extra, 0))} under power
          </span>
        )}
        <Link to={`/plans/${run.plan_id}`} className="text-sm underline">
          Plan, revision {run.revision}
        </Link>
        <button
          type="button"
          className="min-h-11 text-sm underline"
          onClick={ring}
          aria-pressed={sound}
        >
          {word(sound ? "due.sound_on" : "due.sound_off")}
        </button>
      </p>
      {away && (
        <p role="status" className="mt-2 border-l-4 border-stop bg-sheet p-2 text-sm">
          The shop's computer does not answer. The bath and its clock go on; what you write down is
          kept on this device and sent later.
        </p>
      )}
    </header>
  );
}

/** What became otherwise in the plan since this bath was set up: told, and nothing more. */
function Since({ run, say }: { run: RunOut; say: (detail: Detail) => void }) {
  if (run.head === run.revision || !run.since_planned.length) return null;
  return (
    <details className="border-l-4 border-hair bg-sheet p-2 text-sm" data-since>
      <summary className="min-h-11 cursor-pointer py-2">
        The plan has gone on to revision {run.head}; this bath keeps its own, {run.revision}.
      </summary>
      <ul>
        {run.since_planned.map((d) => (
          <li key={d.pointer} className="border-t border-hair py-1">
            {d.name}: here {d.one}, in the plan now {d.other}
          </li>
        ))}
      </ul>
      {run.unsaid && !run.asked.length && (
        <>
          <p className="py-2 font-semibold">{word("in_bath.asks")}</p>
          <InBath run={run} say={say} />
        </>
      )}
    </details>
  );
}
