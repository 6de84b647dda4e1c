import { OctagonX } from "lucide-react";
import { type ReactNode, useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import type { ActionOut, Detail, RunOut } from "@/shared/api/client";
import { practiceId, timeNow } from "@/shared/clock";
import { useSound } from "@/shared/due";
import { clockTime, spanText, untilText } from "@/shared/time";
import { Finding } from "@/shared/ui/Finding";
import { RunLog } from "@/shared/ui/RunLog";
import { Loading, Trouble } from "@/shared/ui/States";
import { WhenField } from "@/shared/ui/WhenField";
import { useNow } from "@/shared/useNow";
import { parseWhen } from "@/shared/when";
import { choices, word } from "@/shared/words";
import { Dose } from "./Dose";
import { Closed, Finish } from "./Finish";
import { Kept } from "./Kept";
import { Looks } from "./Looks";
import { OnTheLine } from "./line/Line";
import { Matter } from "./Matter";
import {
  ChangePanel,
  FoundStoppedPanel,
  InspectionPanel,
  ReadingPanel,
  RemarkPanel,
  SimplePanel,
} from "./Panels";
import { SetUp } from "./SetUp";
import { Standing } from "./Standing";
import { Taken, useTaken } from "./Taken";
import { type Enter, useRun } from "./useRun";

export function RunPage() {
  const { runId = "" } = useParams();
  const { run, pending, enter: write, busy } = useRun(runId);
  const [when, setWhen] = useState("");
  const { take, down } = useTaken(run.data, write);
  // what is pressed without a field of its own was at the time that was set, once
  const enter: Enter = (detail, at) => {
    const set = when.trim() ? (parseWhen(when, timeNow()) ?? undefined) : undefined;
    setWhen("");
    return take(detail, at ?? set);
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
  return (
    <div className="mx-auto grid max-w-[1280px] gap-4 p-3 sm:p-5 md:grid-cols-[minmax(0,1fr)_minmax(20rem,26rem)]">
      <div className="min-w-0 space-y-4">
        <Head run={r} now={now} away={run.isError} />
        <Kept pending={pending} run={r} />
        <NextAction run={r} now={now} enter={enter} busy={busy} />
        {r.looked && !r.closed && (
          <p className="border-l-4 border-hair bg-sheet p-3" data-looked>
            {r.looked}
          </p>
        )}
        <Since run={r} />
        <Hands run={r} enter={enter} now={now} busy={busy} when={when} setWhen={setWhen} />
        {r.state !== "planned" && !practiceId() && <OnTheLine run={r} />}
      </div>
      <div className="space-y-4">
        <Standing run={r} now={now} />
        {r.stretches > 0 && !r.closed && <Looks run={r} />}
        {r.stretches > 0 && <Dose run={r} />}
        <RunLog
          run={r}
          now={now}
          strike={(target) => void enter({ kind: "void", target, reason: "" })}
        />
      </div>
      <Taken down={down} enter={enter} />
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

/** The one next thing. A danger turns it into the stop colour, with its octagon, before all else. */
function NextAction({
  run,
  now,
  enter,
  busy,
}: {
  run: RunOut;
  now: Date;
  enter: Enter;
  busy: boolean;
}) {
  const [next] = run.actions;
  if (!next) return null;
  if (run.doubted && !next.danger) return <Doubted {...{ run, now, enter, busy, next }} />;
  const at = next.at ? new Date(next.at) : null;
  const by = next.by ? new Date(next.by) : null;
  const urgent = next.danger || next.kind === "mend";
  const due = urgent || !at || at <= now || run.state !== "running";
  const look = next.danger ? "bg-stop text-on-stop" : "bg-iron text-on-iron";
  const late = by !== null && by <= now;
  return (
    <section
      className={`${look} p-4`}
      aria-label="Next"
      role={next.danger ? "alert" : undefined}
      data-testid="next-action"
      data-kind={next.kind}
      data-danger={next.danger || undefined}
    >
      <p className={`text-sm ${next.danger ? "" : "text-on-iron-2"}`}>{due ? "Now" : "Next"}</p>
      <h2 className="flex items-center gap-3 text-2xl sm:text-3xl">
        {next.danger && <OctagonX size={44} className="shrink-0" aria-hidden="true" />}
        {next.title}
      </h2>
      {at && run.state === "running" && !urgent && (
        <p className="sign text-4xl text-liquid">
          {clockTime(at, now)} <span className="text-xl text-on-iron">{untilText(at, now)}</span>
        </p>
      )}
      <p className={next.danger ? "mt-2 text-lg" : "mt-1 text-sm"}>{next.why}</p>
      <Quick kind={next.kind} enter={enter} busy={busy} />
      {by && (
        <p className="mt-1 text-sm font-semibold">
          {late
            ? `The bake should have begun by ${clockTime(by, now)}: the table no longer vouches for it. Ask a competent person.`
            : `Hard steel: into the oven by ${clockTime(by, now)}, ${untilText(by, now)}.`}
        </p>
      )}
      {next.danger && (
        <button
          type="button"
          className="btn mt-3 min-h-16 w-full text-2xl"
          onClick={() => void enter({ kind: "switch_off" })}
        >
          It is off
        </button>
      )}
    </section>
  );
}

/** Nothing that was entered speaks against it, and yet somebody wonders. */
function AskAnyway({ run, enter, busy }: { run: RunOut; enter: Enter; busy: boolean }) {
  const [open, setOpen] = useState(false);
  return (
    <details
      className="border-t border-hair pt-2"
      onToggle={(e) => setOpen(e.currentTarget.open)}
      data-ask-anyway
    >
      <summary className="min-h-11 cursor-pointer py-2 text-sm font-semibold">
        {word("matter.anyway")}
      </summary>
      {open && (
        <div className="bg-iron p-4 text-on-iron">
          <Matter run={run} enter={enter} busy={busy} />
        </div>
      )}
    </details>
  );
}

const QUICK = { turn: "turned", flip: "flipped", scrape: "scraped" } as const;

/** What is done at the bath and needs nothing but to be told: one press. */
function Quick({ kind, enter, busy }: { kind: string; enter: Enter; busy: boolean }) {
  if (!(kind in QUICK)) return null;
  const what = QUICK[kind as keyof typeof QUICK];
  return (
    <button
      type="button"
      className="btn mt-3 min-h-14 w-full text-lg"
      disabled={busy}
      onClick={() => void enter({ kind: "change", what, before_a: null, after_a: null, note: "" })}
    >
      {word(`quick.${kind}`)}
    </button>
  );
}

/** Something does not fit: what it may be and what to ask comes before what was planned. */
function Doubted({
  run,
  now,
  enter,
  busy,
  next,
}: {
  run: RunOut;
  now: Date;
  enter: Enter;
  busy: boolean;
  next: ActionOut;
}) {
  const planned = run.actions.find((a) => a.kind !== "ask" && a.kind !== "mend");
  const at = planned?.at ? new Date(planned.at) : null;
  return (
    <section
      className="bg-iron p-4 text-on-iron"
      aria-label="Next"
      data-testid="next-action"
      data-kind={next.kind}
    >
      <h2 className="text-2xl sm:text-3xl">{next.title}</h2>
      {planned && (
        <p className="text-sm text-on-iron-2">
          {word("matter.planned", { title: planned.title })}
          {at && run.state === "running" && `, ${clockTime(at, now)}`}
        </p>
      )}
      <Matter run={run} enter={enter} busy={busy} />
    </section>
  );
}

/** What became otherwise in the plan since this bath was set up: told, and nothing more. */
function Since({ run }: { run: RunOut }) {
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
    </details>
  );
}

type Open = null | "remark" | "reading" | "change" | "stopped" | "off" | "lift" | "abandon";

function Hands({
  run,
  enter,
  now,
  busy,
  when,
  setWhen,
}: {
  run: RunOut;
  enter: Enter;
  now: Date;
  busy: boolean;
  when: string;
  setWhen: (text: string) => void;
}) {
  const [open, setOpen] = useState<Open>(null);
  const done = () => setOpen(null);
  const props = { run, enter, done };
  const can = (kind: string) => run.allowed.includes(kind);
  if (run.state === "closed" || run.state === "abandoned") return <Closed run={run} />;
  return (
    <div className="space-y-3" aria-busy={busy}>
      {run.advice && !run.doubted && (
        <div
          role="status"
          className={`border-l-4 bg-sheet p-3 ${run.advice.grave ? "border-stop" : "border-line"}`}
        >
          <h3 className="text-lg">{run.advice.title}</h3>
          <p className="text-sm">{run.advice.text}</p>
        </div>
      )}
      {run.state === "planned" && !run.stops.length && <SetUp run={run} />}
      {run.state === "planned" && <Checklist run={run} enter={enter} />}
      {can("switch_on") && !open && (
        <Big onClick={() => void enter({ kind: "switch_on" })}>{word("run.log.switch_on")}</Big>
      )}
      {run.state === "running" && nextKind(run) === "first_look" && !open && (
        <FirstLook enter={enter} />
      )}
      {run.state === "lifted" && <Lifted run={run} enter={enter} />}
      {run.state === "clean" && (
        <Big onClick={() => void enter({ kind: "finish_start" })}>Begin the finish</Big>
      )}
      {run.state === "finishing" && <Finish run={run} enter={enter} now={now} />}

      {open === "reading" && <ReadingPanel {...props} />}
      {open === "remark" && <RemarkPanel {...props} />}
      {open === "change" && <ChangePanel {...props} />}
      {open === "stopped" && <FoundStoppedPanel {...props} />}
      {open === "off" && (
        <SimplePanel
          {...props}
          title={word("run.log.switch_off")}
          text={`Hours with the power off do not count.${run.buffered ? ` ${word("action.buffered")}` : ""}`}
          detail={{ kind: "switch_off" }}
          button="It is off"
        />
      )}
      {open === "lift" && (
        <SimplePanel
          {...props}
          title="Lift the piece"
          text={`Power off first, then unclip, then lift; eyes and gloves. Rinse it${run.delicate ? " gently" : ""} and keep it wet.`}
          detail={{ kind: "lift" }}
          button="Power is off, the piece is out"
        />
      )}
      {open === "abandon" && (
        <SimplePanel
          {...props}
          title="Abandon this run"
          text="The log stays; nothing is written into the book."
          detail={{ kind: "abandon", reason: "" }}
          button="Abandon it"
        />
      )}
      {!open && (
        <div className="grid grid-cols-2 gap-2">
          {can("reading") && <Do onClick={() => setOpen("reading")}>Reading</Do>}
          {can("change") && <Do onClick={() => setOpen("change")}>Log a change</Do>}
          {can("lift") && run.state !== "lifted" && (
            <Do onClick={() => setOpen("lift")}>Lift and look</Do>
          )}
          {run.state === "running" && (
            <Do onClick={() => setOpen("off")}>{word("run.log.switch_off")}</Do>
          )}
          {run.state === "running" && <Do onClick={() => setOpen("stopped")}>Found it off</Do>}
          <Do onClick={() => setOpen("remark")}>{word("remark.title")}</Do>
          {(run.state === "clean" || run.state === "finishing") && (
            <Do onClick={() => void enter({ kind: "back_in" })}>Back in the bath after all</Do>
          )}
        </div>
      )}
      {!open && run.state !== "planned" && (
        <details
          className="border-t border-hair pt-2"
          data-other-time
          open={when !== "" || undefined}
        >
          <summary className="min-h-11 cursor-pointer py-2 text-sm font-semibold">
            {word("when.other")}
          </summary>
          <WhenField text={when} setText={setWhen} />
        </details>
      )}
      {(run.state === "running" || run.state === "paused") && <Danger enter={enter} />}
      {(run.state === "running" || run.state === "paused") && !run.doubted && (
        <AskAnyway run={run} enter={enter} busy={busy} />
      )}
      {run.state === "running" && <LookAgain run={run} enter={enter} />}
      {can("abandon") && !open && (
        <button type="button" className="btn btn-bare underline" onClick={() => setOpen("abandon")}>
          Abandon this run
        </button>
      )}
    </div>
  );
}

function Big({
  children,
  onClick,
  disabled,
}: {
  children: ReactNode;
  onClick: () => void;
  disabled?: boolean;
}) {
  return (
    <button
      type="button"
      className="btn btn-main min-h-16 w-full text-2xl"
      onClick={onClick}
      disabled={disabled}
    >
      {children}
    </button>
  );
}

function Do({ children, onClick }: { children: ReactNode; onClick: () => void }) {
  return (
    <button type="button" className="btn min-h-14" onClick={onClick}>
      {children}
    </button>
  );
}

function Checklist({ run, enter }: { run: RunOut; enter: Enter }) {
  const [ticked, setTicked] = useState<string[]>([]);
  const { stops } = run;
  if (stops.length)
    return (
      <section className="space-y-2">
        <ul className="space-y-2">
          {stops.map((f) => (
            <Finding key={f.id + f.evidence} f={f} />
          ))}
        </ul>
        <p>
          <Link className="underline" to={`/plans/${run.plan_id}`}>
            Open the plan
          </Link>{" "}
          and mend {stops.length === 1 ? "it" : "them"}; then set the bath up again.
        </p>
      </section>
    );
  const open = run.points.filter((p) => !ticked.includes(p.id)).length;
  return (
    <section aria-label="Switch-on list" className="space-y-2">
      <h2 className="text-2xl">{word("setup.before")}</h2>
      <ul className="divide-y divide-hair border-2 border-line bg-sheet">
        {run.points.map((p) => (
          <li key={p.id}>
            <label className="flex min-h-14 items-center gap-3 px-3 py-2">
              <input
                type="checkbox"
                className="size-6 shrink-0 accent-[var(--ink)]"
                checked={ticked.includes(p.id)}
                onChange={(e) =>
                  setTicked(e.target.checked ? [...ticked, p.id] : ticked.filter((t) => t !== p.id))
                }
              />
              <span>{p.text}</span>
            </label>
          </li>
        ))}
      </ul>
      <Big disabled={open > 0} onClick={() => void enter({ kind: "checklist", ticked })}>
        {open > 0 ? `${open} still open` : "All checked"}
      </Big>
    </section>
  );
}

type Look = Extract<Detail, { kind: "look" }>;
type Sign = NonNullable<Look["signs"]>[number];
type Bubbles = NonNullable<Look["bubbles"]>;

const nextKind = (run: RunOut) => run.actions.at(0)?.kind;

/** Something that must not be: one press, and the first thing is to switch off. */
function Danger({ enter }: { enter: Enter }) {
  return (
    <details className="border-t border-hair pt-2" data-danger-signs>
      <summary className="min-h-11 cursor-pointer py-2 text-sm font-semibold">
        Something is wrong: smoke, a smell, a touch
      </summary>
      <div className="grid grid-cols-2 gap-2">
        {choices<Sign>("run.sign").map(([key, name]) => (
          <button
            key={key}
            type="button"
            className="btn min-h-14"
            onClick={() => void enter({ kind: "look", bubbles: null, signs: [key] })}
          >
            {name}
          </button>
        ))}
      </div>
    </details>
  );
}

function FirstLook({ enter }: { enter: Enter }) {
  return (
    <section aria-label="First look" className="space-y-2">
      <h3 className="text-xl">Where does gas come from?</h3>
      {choices<Bubbles>("run.bubbles").map(([key, name]) => (
        <button
          key={key}
          type="button"
          className="btn min-h-14 w-full text-lg"
          onClick={() => void enter({ kind: "look", bubbles: key, signs: [] })}
        >
          {name}
        </button>
      ))}
    </section>
  );
}

function LookAgain({ run, enter }: { run: RunOut; enter: Enter }) {
  if (nextKind(run) === "first_look") return null;
  return (
    <details className="border-t border-hair pt-2">
      <summary className="min-h-11 cursor-pointer py-2 text-sm font-semibold">
        Only looked: where does gas come from?
      </summary>
      <div className="grid grid-cols-2 gap-2">
        {choices<Bubbles>("run.bubbles").map(([key, name]) => (
          <button
            key={key}
            type="button"
            className="btn !px-1 text-sm"
            onClick={() => void enter({ kind: "look", bubbles: key, signs: [] })}
          >
            {name}
          </button>
        ))}
      </div>
    </details>
  );
}

function Lifted({ run, enter }: { run: RunOut; enter: Enter }) {
  const [again, setAgain] = useState(false);
  const inspect = nextKind(run) === "inspect" || again;
  if (inspect) return <InspectionPanel run={run} enter={enter} done={() => setAgain(false)} />;
  return (
    <section className="space-y-2" aria-label="Decide">
      {run.nothing_gained && (
        <p className="border-l-4 border-line bg-sheet p-3">
          Equal to last time: more of the same gains nothing. What is left is pitting, a blind side
          or a lost contact.
        </p>
      )}
      <p className="text-sm">
        By what flowed and what was seen, about {Math.round(run.share_clean * 100)} % of the surface
        should be clean.
      </p>
      <Big onClick={() => void enter({ kind: "clean" })}>It is clean enough</Big>
      <Do onClick={() => void enter({ kind: "back_in" })}>Back in the bath, power off</Do>
      <button type="button" className="btn btn-bare" onClick={() => setAgain(true)}>
        Look again
      </button>
    </section>
  );
}
