import { useState } from "react";
import { Link } from "react-router";
import type { RunOut } from "@/shared/api/client";
import { Labelled } from "@/shared/form/Labelled";
import { Tick } from "@/shared/form/Tick";
import { clockTime, spanText } from "@/shared/time";
import { word } from "@/shared/words";
import type { Enter } from "./useRun";

/** The finishing steps of this piece, with timers, and then the entry for the book. */
export function Finish({
  run,
  enter,
  now,
  alone,
}: {
  run: RunOut;
  enter: Enter;
  now: Date;
  alone?: boolean;
}) {
  const open = run.steps.filter(
    (s) => !run.finish[`${s.id}.done`] && !run.finish[`${s.id}.skipped`],
  );
  const next = open[0];
  return (
    <section className="space-y-3" aria-label="Finish">
      {next && (
        <p className="border-l-4 border-rust bg-sheet p-2 text-sm">
          Bare wet iron rusts within minutes. Keep it wet, or dry and protected; never in between.
        </p>
      )}
      <ol className="space-y-2">
        {run.steps.map((s, k) => (
          <FinishStep
            key={s.id}
            run={run}
            step={s}
            k={k}
            current={s.id === next?.id}
            enter={enter}
            now={now}
          />
        ))}
      </ol>
      {!next && <CloseForm run={run} enter={enter} alone={alone} />}
    </section>
  );
}

function FinishStep({
  run,
  step,
  k,
  current,
  enter,
  now,
}: {
  run: RunOut;
  step: RunOut["steps"][number];
  k: number;
  current: boolean;
  enter: Enter;
  now: Date;
}) {
  const [choice, setChoice] = useState("");
  const done = run.finish[`${step.id}.done`];
  const skipped = run.finish[`${step.id}.skipped`];
  const begun = run.finish[`${step.id}.begun`];
  const mark = (m: "begun" | "done" | "skipped") =>
    void enter({ kind: "finish_step", step: step.id, mark: m, choice });
  if (!current)
    return (
      <li className="flex items-baseline gap-2 border-t border-hair pt-1 text-ink-2">
        <span className="sign text-xl">{k + 1}</span>
        <span className={done || skipped ? "line-through" : ""}>{step.title}</span>
        {done && <span className="ml-auto text-sm">done {clockTime(new Date(done), now)}</span>}
        {skipped && <span className="ml-auto text-sm">left out</span>}
      </li>
    );
  const ends =
    begun && step.duration_s ? new Date(new Date(begun).getTime() + step.duration_s * 1000) : null;
  return (
    <li className="space-y-2 border-2 border-line bg-sheet p-3">
      <h3 className="text-2xl">
        {k + 1} {step.title}
      </h3>
      <p>{step.how}</p>
      <p className="text-sm text-ink-2">
        {step.why}{" "}
        {step.within_s > 0 && !step.from_lift && `Begin within ${spanText(step.within_s)}. `}
        Source: {step.source}.
      </p>
      {step.choices.map(({ id, label }) => (
        <button
          key={id}
          type="button"
          className="choice block w-full"
          aria-pressed={choice === id}
          data-state={choice === id ? "on" : ""}
          onClick={() => setChoice(id)}
        >
          {label}
        </button>
      ))}
      {ends && (
        <p className="sign text-2xl">
          {ends > now
            ? `Until ${clockTime(ends, now)}, ${spanText((ends.getTime() - now.getTime()) / 1000)} left`
            : "Time is up"}
        </p>
      )}
      <div className="flex flex-wrap gap-2">
        {step.duration_s > 0 && !begun && (
          <button type="button" className="btn" onClick={() => mark("begun")}>
            Start the timer, {spanText(step.duration_s)}
          </button>
        )}
        <button
          type="button"
          className="btn btn-main"
          disabled={step.choices.length > 0 && !choice}
          onClick={() => mark("done")}
        >
          Done
        </button>
        <button type="button" className="btn btn-bare" onClick={() => mark("skipped")}>
          Leave it out
        </button>
      </div>
    </li>
  );
}

const SLOTS = [
  "Before, same angle",
  "After, same angle",
  "Stamp or mark, raking light",
  "Half-dip line or pair",
];

function CloseForm({ run, enter, alone }: { run: RunOut; enter: Enter; alone?: boolean }) {
  const [v, setV] = useState({
    minutes: "",
    materials: "",
    paid: "",
    before: "",
    after: "",
    stamps: "",
    remarks: "",
  });
  const [photos, setPhotos] = useState<string[]>([]);
  const [kept, setKept] = useState(true);
  const set = (k: keyof typeof v) => (text: string) => setV({ ...v, [k]: text });
  const money = (t: string) => (t.trim() ? Number(t.replace(",", ".")) : null);
  const numbers = [v.minutes, v.materials, v.paid, v.before, v.after].map(money);
  const bad = numbers.some((n) => n !== null && !(Number.isFinite(n) && n >= 0));
  const close = () =>
    void enter({
      kind: "close",
      hands_s: (numbers[0] ?? 0) * 60,
      materials: numbers[1] ?? 0,
      paid: numbers[2] ?? null,
      worth_before: numbers[3] ?? null,
      worth_after: numbers[4] ?? null,
      stamps: v.stamps,
      remarks: v.remarks,
      photos,
      mix_kept: kept,
    });
  return (
    <form
      className="space-y-3 border-2 border-line bg-sheet p-3"
      aria-label="Entry for the book"
      onSubmit={(e) => {
        e.preventDefault();
        close();
      }}
    >
      <h3 className="text-2xl">Write it into the book</h3>
      <div className="grid grid-cols-2 gap-3">
        <Line label="Minutes of hands" value={v.minutes} set={set("minutes")} number />
        <Line
          label={word("field.entry.materials")}
          value={v.materials}
          set={set("materials")}
          number
        />
        <Line label={word("field.entry.paid")} value={v.paid} set={set("paid")} number />
        <Line
          label={word("field.entry.worth_before")}
          value={v.before}
          set={set("before")}
          number
        />
        <Line label={word("field.entry.worth_after")} value={v.after} set={set("after")} number />
      </div>
      <Line label={word("field.entry.stamps")} value={v.stamps} set={set("stamps")} />
      <Line label={word("field.entry.remarks")} value={v.remarks} set={set("remarks")} />
      <fieldset>
        <legend className="text-sm font-semibold">Photographs taken</legend>
        {SLOTS.map((slot) => (
          <Tick
            key={slot}
            label={slot}
            on={photos.includes(slot)}
            set={(on) => setPhotos(on ? [...photos, slot] : photos.filter((p) => p !== slot))}
          />
        ))}
        {!alone && <Tick label="The mix is kept for the next piece" on={kept} set={setKept} />}
      </fieldset>
      {bad && (
        <p className="font-semibold text-stop">
          Minutes and money are plain numbers of 0 or more, like 45 or 3.50.
        </p>
      )}
      <button type="submit" className="btn btn-main w-full text-lg" disabled={bad}>
        {alone ? "Write it into the book" : "Close the run"}
      </button>
      <p className="text-xs text-ink-2">Run {run.id}</p>
    </form>
  );
}

function Line({
  label,
  value,
  set,
  number,
}: {
  label: string;
  value: string;
  set: (t: string) => void;
  number?: boolean;
}) {
  return (
    <div>
      <Labelled
        label={label}
        className="field min-h-11"
        inputMode={number ? "decimal" : "text"}
        maxLength={1000}
        value={value}
        onChange={(e) => set(e.target.value)}
      />
    </div>
  );
}

export function Closed({ run }: { run: RunOut }) {
  return (
    <p className="text-lg">
      This run is {run.state === "closed" ? "in the book" : "abandoned"}.{" "}
      {run.state === "closed" && (
        <Link className="underline" to={`/book/${run.id}`}>
          Open its entry
        </Link>
      )}
    </p>
  );
}
