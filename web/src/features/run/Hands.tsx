import { useState } from "react";
import { Link } from "react-router";
import type { RunOut } from "@/shared/api/client";
import { practiceId } from "@/shared/clock";
import { Finding } from "@/shared/ui/Finding";
import { WhenField } from "@/shared/ui/WhenField";
import { word } from "@/shared/words";
import { Closed, Finish } from "./Finish";
import { Gas } from "./Gas";
import { Lifted } from "./Lifted";
import { AskAnyway, nextKind } from "./Next";
import {
  AlreadyPanel,
  ChangePanel,
  FoundStoppedPanel,
  ReadingPanel,
  RemarkPanel,
  SimplePanel,
} from "./Panels";
import { Big, Do } from "./Presses";
import { SetUp } from "./SetUp";
import { type Enter, switchedOn } from "./useRun";

export type Open =
  | null
  | "already"
  | "remark"
  | "reading"
  | "change"
  | "stopped"
  | "lift"
  | "abandon";

export function Hands({
  run,
  enter,
  now,
  busy,
  when,
  setWhen,
  open,
  setOpen,
}: {
  run: RunOut;
  enter: Enter;
  now: Date;
  busy: boolean;
  when: string;
  setWhen: (text: string) => void;
  open: Open;
  setOpen: (open: Open) => void;
}) {
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
      {open === "already" && <AlreadyPanel {...props} />}
      {run.state === "planned" && !run.stops.length && <SetUp run={run} />}
      {run.state === "planned" && <Checklist run={run} enter={enter} />}
      {(run.state === "ready" || run.state === "paused" || nextKind(run) === "checklist") &&
        run.state !== "planned" &&
        run.unread.length > 0 &&
        !open && <Unread run={run} enter={enter} />}
      {can("switch_on") && !open && !run.unread.length && (
        <Big onClick={() => void enter({ kind: "switch_on" })}>{word("run.log.switch_on")}</Big>
      )}
      {run.state === "running" && nextKind(run) === "first_look" && !open && (
        <FirstLook enter={enter} />
      )}
      {nextKind(run) === "again" && !open && (
        <Big onClick={() => setOpen("reading")}>{word("action.again_press")}</Big>
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
        <div className="grid grid-cols-2 gap-2 [&>:last-child:nth-child(odd)]:col-span-2">
          {can("reading") && <Do onClick={() => setOpen("reading")}>Reading</Do>}
          {can("change") && <Do onClick={() => setOpen("change")}>Log a change</Do>}
          {can("lift") && run.state !== "lifted" && (
            <Do onClick={() => setOpen("lift")}>Lift and look</Do>
          )}
          {run.state === "running" && <Do onClick={() => setOpen("stopped")}>Found it off</Do>}
          {(run.state === "planned" || run.state === "ready") && !practiceId() && (
            <Do onClick={() => setOpen("already")}>{word("already.open")}</Do>
          )}
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
          <WhenField text={when} setText={setWhen} since={switchedOn(run)} />
        </details>
      )}
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

/** Points that became known after the list was ticked: read before the power comes back. */
function Unread({ run, enter }: { run: RunOut; enter: Enter }) {
  return (
    <section className="space-y-2" aria-label={word("in_bath.unread")} data-unread-points>
      <Ticks
        points={run.unread}
        done="All read"
        set={(ticked) => void enter({ kind: "checklist", ticked })}
      />
    </section>
  );
}

function Checklist({ run, enter }: { run: RunOut; enter: Enter }) {
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
  return (
    <section aria-label="Switch-on list" className="space-y-2">
      <h2 className="text-2xl">{word("setup.before")}</h2>
      <Ticks
        points={run.points}
        done="All checked"
        set={(ticked) => void enter({ kind: "checklist", ticked })}
      />
    </section>
  );
}

/** Points to tick, each; then the one button. */
function Ticks({
  points,
  done,
  set,
}: {
  points: RunOut["points"];
  done: string;
  set: (ticked: string[]) => void;
}) {
  const [ticked, setTicked] = useState<string[]>([]);
  const open = points.filter((p) => !ticked.includes(p.id)).length;
  return (
    <>
      <ul className="divide-y divide-hair border-2 border-line bg-sheet">
        {points.map((p) => (
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
      <Big disabled={open > 0} onClick={() => set(ticked)}>
        {open > 0 ? `${open} still open` : done}
      </Big>
    </>
  );
}

function FirstLook({ enter }: { enter: Enter }) {
  return (
    <section aria-label={word("line.name.look")} className="space-y-2">
      <h3 className="text-xl">Where does gas come from?</h3>
      <Gas enter={enter} look="min-h-14 w-full text-lg" />
    </section>
  );
}

function LookAgain({ run, enter }: { run: RunOut; enter: Enter }) {
  if (["first_look", "gas"].includes(nextKind(run) ?? "")) return null;
  return (
    <details className="border-t border-hair pt-2">
      <summary className="min-h-11 cursor-pointer py-2 text-sm font-semibold">
        Only looked: where does gas come from?
      </summary>
      <div className="grid grid-cols-2 gap-2">
        <Gas enter={enter} look="!px-1 text-sm" />
      </div>
    </details>
  );
}
