import { OctagonX } from "lucide-react";
import { type ReactNode, useState } from "react";
import type { ActionOut, RunOut } from "@/shared/api/client";
import { clockTime, untilText } from "@/shared/time";
import { InBath } from "@/shared/ui/InBath";
import { word } from "@/shared/words";
import { Gas, Poles } from "./Gas";
import type { Open } from "./Hands";
import { Matter } from "./Matter";
import { Stopped } from "./Stopped";
import type { Enter } from "./useRun";

type Asks = {
  run: RunOut;
  now: Date;
  enter: Enter;
  busy: boolean;
  open: Open;
  setOpen: (open: Open) => void;
};

/** The one next thing. A danger turns it into the stop colour, with its octagon, before all else. */
export function NextAction({ run, now, enter, busy, open, setOpen }: Asks) {
  const [next] = run.actions;
  if (!next) return null;
  if (next.kind === "gas")
    return (
      <Quiet next={next}>
        <p className="mt-1 text-sm">{next.why}</p>
        <div className="mt-3 grid grid-cols-2 gap-2">
          <Gas enter={enter} look="min-h-14 !px-2" />
        </div>
      </Quiet>
    );
  if (next.kind === "crust" && (!next.at || new Date(next.at) <= now))
    return (
      <Quiet next={next}>
        <p className="mt-1 text-sm">{next.why}</p>
        <Poles ask="crust" enter={enter} />
      </Quiet>
    );
  if (run.doubted && !next.danger && next.kind !== "in_bath")
    return <Doubted {...{ run, now, enter, busy, next, open, setOpen }} />;
  if (next.kind === "in_bath")
    return (
      <Quiet next={next}>
        <div className="mt-3 space-y-3">
          <InBath run={run} say={(detail) => void enter(detail)} />
        </div>
      </Quiet>
    );
  const at = next.at ? new Date(next.at) : null;
  const by = next.by ? new Date(next.by) : null;
  const urgent = next.danger || next.kind === "mend" || next.kind === "again";
  const due = urgent || !at || at <= now || run.state !== "running";
  const look = next.danger ? "bg-stop text-on-stop" : "bg-iron text-on-iron";
  const late = by !== null && by <= now;
  return (
    <section
      className={`${look} p-4 ${next.danger ? "sticky top-0 z-30 max-h-[65dvh] overflow-y-auto sm:top-[91px]" : ""}`}
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
      {next.kind === "again" && <Stepped run={run} now={now} />}
      <p className={next.danger ? "mt-2 text-lg" : "mt-1 text-sm"}>{next.why}</p>
      <Stopped run={run} now={now} enter={enter} />
      <Quick kind={next.kind} enter={enter} busy={busy} />
      {by && (
        <p className="mt-1 text-sm font-semibold">
          {late
            ? `The bake should have begun by ${clockTime(by, now)}: the table no longer vouches for it. Ask a competent person.`
            : `Hard steel: into the oven by ${clockTime(by, now)}, ${untilText(by, now)}.`}
        </p>
      )}
      {next.danger && run.state === "running" && (
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

/** What is wanted of hands first. */
export const nextKind = (run: RunOut) => run.actions.at(0)?.kind;

/** Nothing that was entered speaks against it, and yet somebody wonders. */
export function AskAnyway({ run, enter, busy }: { run: RunOut; enter: Enter; busy: boolean }) {
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
function Doubted({ run, now, enter, busy, next, open, setOpen }: Asks & { next: ActionOut }) {
  const planned = run.actions.find((a) => !["again", "ask", "mend"].includes(a.kind));
  const at = planned?.at ? new Date(planned.at) : null;
  return (
    <Quiet next={next}>
      <Stepped run={run} now={now} />
      {run.stepped && run.advice && <p className="text-sm">{run.advice.text}</p>}
      <Newest run={run} now={now} open={open} setOpen={setOpen} />
      {open !== "reading" && (
        <>
          {planned && planned.title !== next.title && (
            <p className="text-sm text-on-iron-2">
              {word("matter.planned", { title: planned.title })}
              {at && run.state === "running" && `, ${clockTime(at, now)}`}
            </p>
          )}
          <Stopped run={run} now={now} enter={enter} />
          <Matter run={run} enter={enter} busy={busy} />
        </>
      )}
    </Quiet>
  );
}

/** In a doubt the newest figure stays in sight, and the next one in reach. */
function Newest({ run, now, open, setOpen }: Pick<Asks, "run" | "now" | "open" | "setOpen">) {
  const last = run.log.find((line) => line.kind === "reading");
  if (run.state !== "running") return null;
  return (
    <p className="my-2 flex items-center gap-3">
      {run.read_text && last && (
        <span className="sign text-2xl">
          {run.read_text} <span className="text-base">{clockTime(new Date(last.at), now)}</span>
        </span>
      )}
      {open !== "reading" && (
        <button
          type="button"
          className="btn ml-auto min-h-11"
          onClick={() => setOpen("reading")}
          data-read
        >
          {word("action.again_press")}
        </button>
      )}
    </p>
  );
}

/** Between which readings the amps stepped. */
function Stepped({ run, now }: { run: RunOut; now: Date }) {
  if (!run.stepped) return null;
  const clock = (at: string) => clockTime(new Date(at), now);
  const times = { after: clock(run.stepped.after), by: clock(run.stepped.by) };
  return <p className="text-sm">{word("trend.between", times)}</p>;
}

/** A next thing that is a question: its title, and what answers it. */
function Quiet({ next, children }: { next: ActionOut; children: ReactNode }) {
  return (
    <section
      className="bg-iron p-4 text-on-iron"
      aria-label="Next"
      data-testid="next-action"
      data-kind={next.kind}
    >
      <h2 className="text-2xl sm:text-3xl">{next.title}</h2>
      {children}
    </section>
  );
}
