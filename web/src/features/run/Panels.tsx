import type { ReactNode } from "react";
import type { Detail, RunOut } from "@/shared/api/client";
import { timeNow } from "@/shared/clock";
import { useHalf } from "@/shared/form/useHalf";
import { lineWords } from "@/shared/lineWords";
import { clockTime } from "@/shared/time";
import { WhenField } from "@/shared/ui/WhenField";
import { parseWhen } from "@/shared/when";
import { choices, word } from "@/shared/words";
import { AfterChange } from "./Expect";
import { meter } from "./figures";
import { GoesIn, type Scrap, WITH_SCRAP } from "./GoesIn";
import { GoesRound } from "./GoesRound";
import { BathInput, MeterInput, NoteInput } from "./MeterFields";
import { isEmpty, NOTHING_TYPED, type ReadingDone, reading, unreadable } from "./reading";
import { type Enter, switchedOn } from "./useRun";

export interface PanelProps {
  run: RunOut;
  enter: Enter;
  done: () => void;
}

function Panel({
  title,
  children,
  onCancel,
}: {
  title: string;
  children: ReactNode;
  onCancel: () => void;
}) {
  return (
    <section className="space-y-3 border-2 border-line bg-sheet p-3" aria-label={title}>
      <div className="flex items-center justify-between">
        <h2 className="text-xl">{title}</h2>
        <button type="button" className="btn btn-bare" onClick={onCancel}>
          Cancel
        </button>
      </div>
      {children}
    </section>
  );
}

/** When it was. What cannot be read as a time is not sent: it never becomes now. */
function useWhen(run: RunOut, key: string, enter: Enter) {
  const since = switchedOn(run);
  const [text, setText, clear] = useHalf(`${key}.when`, "");
  const read = parseWhen(text, timeNow(), since);
  return {
    field: <WhenField text={text} setText={setText} since={since} />,
    bad: read === null,
    clear,
    /** Enter something at that time; whether it could be. */
    enter: (detail: Detail): boolean => {
      const at = parseWhen(text, timeNow(), since);
      if (at === null) return false;
      void enter(detail, text.trim() ? at : undefined); // undefined is the moment of the press
      clear();
      return true;
    },
  };
}

function Send({
  disabled,
  onClick,
  children = "Write it down",
}: {
  disabled?: boolean;
  onClick: () => void;
  children?: ReactNode;
}) {
  return (
    <button
      type="button"
      className="btn btn-main w-full text-lg"
      disabled={disabled}
      onClick={onClick}
    >
      {children}
    </button>
  );
}

export function ReadingPanel({ run, enter, done }: PanelProps) {
  const [half, setTyped, clear] = useHalf(`${run.id}.reading`, NOTHING_TYPED);
  const typed = { ...NOTHING_TYPED, ...half }; // another version kept less of it
  const since = switchedOn(run);
  const of = () => ({ unit: run.temperature_unit, now: timeNow(), since });
  const happened = (e: ReadingDone) => {
    const step = reading(typed, e, of());
    setTyped(step.typed);
    if (step.entry) void enter(step.entry.detail, step.entry.at);
    if (!step.left) return;
    clear();
    done();
  };
  const type = (field: "amps" | "tank" | "bath" | "when") => (text: string) =>
    happened({ did: "typed", field, text });
  const bad = unreadable(typed, of());
  return (
    <Panel title="Reading" onCancel={() => happened({ did: "cancelled" })}>
      {run.leads.length > 0 && (
        <GoesRound
          leads={run.leads}
          lead={typed.lead}
          set={(lead) => happened({ did: "went_round", lead })}
        />
      )}
      <MeterInput
        label={word("field.entry.current_a")}
        unit="A"
        value={typed.amps}
        onChange={type("amps")}
      />
      {!typed.lead && (
        <div className="grid grid-cols-2 gap-3">
          <MeterInput
            label={word("field.entry.tank_v")}
            unit="V"
            value={typed.tank}
            onChange={type("tank")}
          />
          <BathInput unit={run.temperature_unit} value={typed.bath} onChange={type("bath")} />
        </div>
      )}
      <ReadWith method={typed.method} set={(method) => happened({ did: "read_with", method })} />
      <WhenField text={typed.when} setText={type("when")} since={since} />
      <Send disabled={bad || isEmpty(typed)} onClick={() => happened({ did: "wrote" })} />
      {!typed.lead && (
        <>
          <button
            type="button"
            className="btn w-full"
            disabled={bad}
            onClick={() => happened({ did: "looked_only" })}
          >
            I looked, but have no reading
          </button>
          <p className="text-sm text-ink-2">
            Without a reading the window stays wide. One clamp-meter reading narrows it at once.
          </p>
        </>
      )}
    </Panel>
  );
}

type Change = NonNullable<Extract<Detail, { kind: "change" }>["what"]>;

type Method = "clamp" | "dial";

/** What the amps were read with. */
function ReadWith({ method, set }: { method: Method; set: (m: Method) => void }) {
  return (
    <div className="flex flex-wrap gap-2" role="radiogroup" aria-label="Read with">
      {(["clamp", "dial"] as const).map((m) => (
        // biome-ignore lint/a11y/useSemanticElements: a large target for a wet thumb
        <button
          key={m}
          type="button"
          role="radio"
          aria-checked={method === m}
          data-state={method === m ? "checked" : ""}
          className="choice min-h-11"
          onClick={() => set(m)}
        >
          {m === "clamp" ? "Clamp meter or display" : "Needle on the charger"}
        </button>
      ))}
    </div>
  );
}

const NOTHING = {
  what: null as Change | null,
  before: "",
  after: "",
  note: "",
  method: "clamp" as Method,
  scrap: null as Scrap | null,
};

export function ChangePanel({ run, enter, done }: PanelProps) {
  const key = `${run.id}.change`;
  const [typed, setTyped, clear] = useHalf(key, NOTHING);
  const { what, before, after, note, scrap, method = "clamp" } = typed;
  const goesIn = what && WITH_SCRAP.includes(what) ? scrap : null;
  const put = (change: Partial<typeof NOTHING>) => setTyped({ ...typed, ...change });
  const when = useWhen(run, key, enter);
  const left = () => {
    clear();
    when.clear();
    done();
  };
  const a = meter(before, "A");
  const b = meter(after, "A");
  return (
    <Panel title="Log a change" onCancel={left}>
      {run.state === "running" && (
        <p className="text-sm font-semibold">
          Power off before hands go in. One thing at a time, so that the amps tell.
        </p>
      )}
      <div className="grid grid-cols-2 gap-2">
        {choices<Change>("run.change").map(([one, name]) => (
          <button
            key={one}
            type="button"
            className="choice min-h-11"
            aria-pressed={what === one}
            data-state={what === one ? "on" : ""}
            onClick={() => put({ what: one })}
          >
            {name}
          </button>
        ))}
      </div>
      {what && what !== "swapped_anodes" && <AfterChange run={run} what={what} />}
      {(what === "swapped_anodes" || what === "added_anode") && (
        <GoesIn run={run} what={what} scrap={scrap} set={(s) => put({ scrap: s })} />
      )}
      <div className="grid grid-cols-2 gap-3">
        <MeterInput
          label={word("field.entry.before_a")}
          unit="A"
          value={before}
          onChange={(text) => put({ before: text })}
        />
        <MeterInput
          label={word("field.entry.after_a")}
          unit="A"
          value={after}
          onChange={(text) => put({ after: text })}
        />
      </div>
      {(before.trim() || after.trim()) && (
        <ReadWith method={method} set={(m) => put({ method: m })} />
      )}
      <NoteInput
        label={word("field.entry.note")}
        value={note}
        onChange={(text) => put({ note: text })}
      />
      {when.field}
      <Send
        disabled={
          when.bad ||
          !what ||
          a === undefined ||
          b === undefined ||
          (WITH_SCRAP.includes(what) && !scrap)
        }
        onClick={() => {
          if (!what) return;
          const told = { what, before_a: a, after_a: b, method, note, goes_in: goesIn };
          if (when.enter({ kind: "change", ...told })) left();
        }}
      />
    </Panel>
  );
}

export function FoundStoppedPanel({ run, enter, done }: PanelProps) {
  const when = useWhen(run, `${run.id}.stopped`, enter);
  const [cause, setCause, clear] = useHalf(`${run.id}.stopped.cause`, "");
  return (
    <Panel title="Found it off" onCancel={done}>
      <p className="text-sm">
        Enter your best guess of when: hours without current do not count. Fuse, tripped socket, a
        clip that came off, a charger that fell asleep?
      </p>
      {when.field}
      <NoteInput label={word("field.entry.cause")} value={cause} onChange={setCause} />
      <Send
        disabled={when.bad}
        onClick={() => {
          if (!when.enter({ kind: "found_stopped", cause })) return;
          clear();
          done();
        }}
      />
    </Panel>
  );
}

export function RemarkPanel({ run, enter, done }: PanelProps) {
  const when = useWhen(run, `${run.id}.remark`, enter);
  const [text, setText, clear] = useHalf(`${run.id}.remark.text`, "");
  return (
    <Panel title={word("remark.title")} onCancel={done}>
      <NoteInput label={word("remark.text")} value={text} onChange={setText} />
      {when.field}
      <Send
        disabled={when.bad || !text.trim()}
        onClick={() => {
          if (!when.enter({ kind: "remark", text: text.trim() })) return;
          clear();
          done();
        }}
      />
    </Panel>
  );
}

export function SimplePanel({
  title,
  text,
  detail,
  button,
  run,
  enter,
  done,
}: PanelProps & { title: string; text: string; detail: Detail; button: string }) {
  const when = useWhen(run, `${run.id}.${detail.kind}`, enter);
  return (
    <Panel title={title} onCancel={done}>
      <p className="text-sm">{text}</p>
      {when.field}
      <Send
        disabled={when.bad}
        onClick={() => {
          if (when.enter(detail)) done();
        }}
      >
        {button}
      </Send>
    </Panel>
  );
}

/** A bath that was under power before it was set up here: since when. */
export function AlreadyPanel({ run, enter, done }: PanelProps) {
  const [text, setText, clear] = useHalf(`${run.id}.already`, "");
  const at = text.trim() ? parseWhen(text, timeNow()) : null;
  const left = () => {
    clear();
    done();
  };
  return (
    <Panel title={word("already.title")} onCancel={left}>
      <p className="text-sm">{word("already.lead")}</p>
      <WhenField text={text} setText={setText} />
      <Send
        disabled={!at}
        onClick={() => {
          if (!at) return;
          void enter({ kind: "switch_on", already: true }, at);
          left();
        }}
      >
        {word("already.send")}
      </Send>
    </Panel>
  );
}

export function InspectionPanel({ run, enter, done }: PanelProps) {
  const [shares, setShares, clearShares] = useHalf<Record<string, number>>(
    `${run.id}.inspection.shares`,
    {},
  );
  const [note, setNote, clearNote] = useHalf(`${run.id}.inspection.note`, "");
  const when = useWhen(run, `${run.id}.inspection`, enter);
  const write = (verdict: "share" | "not_yet" | "equal", seen: Record<string, number> = {}) => {
    if (!when.enter({ kind: "inspection", verdict, shares: seen, note })) return;
    clearShares();
    clearNote();
    done();
  };
  const last = run.log.find((l) => l.kind === "inspection");
  return (
    <section className="space-y-3" aria-label="Inspection">
      <p className="text-sm">
        {run.delicate
          ? "Rinse, and touch it with a soft brush only. How much of each side is free of orange? Black film counts as clean; a crust that holds stays."
          : "Rinse and brush the same patch each time. How much of each side is free of orange? Black film counts as clean."}
      </p>
      {last && (
        <p className="border-l-4 border-hair bg-sheet p-2 text-sm" data-last-look>
          {word("look.last", { at: clockTime(new Date(last.at), timeNow()) })}{" "}
          {lineWords(last, run)}
        </p>
      )}
      {run.regions.map((r) => (
        <fieldset key={r.id}>
          <legend className="text-sm font-semibold">{r.name}</legend>
          <div className="grid grid-cols-6 gap-1">
            {[0, 0.2, 0.4, 0.6, 0.8, 1].map((s) => (
              <button
                key={s}
                type="button"
                className="choice min-h-11 !px-0 text-center"
                aria-pressed={shares[r.id] === s}
                data-state={shares[r.id] === s ? "on" : ""}
                onClick={() => setShares({ ...shares, [r.id]: s })}
              >
                {Math.round(s * 100)} %
              </button>
            ))}
          </div>
        </fieldset>
      ))}
      <NoteInput
        label="Seen: stamps, pits, thin spots, pivot free"
        value={note}
        onChange={setNote}
      />
      {when.field}
      <Send
        disabled={when.bad || Object.keys(shares).length === 0}
        onClick={() => write("share", shares)}
      />
      <div className="grid grid-cols-2 gap-2 sm:grid-cols-3">
        <button
          type="button"
          className="btn max-sm:col-span-2"
          disabled={when.bad}
          onClick={() => write("share", Object.fromEntries(run.regions.map((r) => [r.id, 1])))}
        >
          {word("told.all")}
        </button>
        <button type="button" className="btn" disabled={when.bad} onClick={() => write("not_yet")}>
          Just “not yet”
        </button>
        <button
          type="button"
          className="btn"
          disabled={when.bad || !last}
          onClick={() => write("equal")}
        >
          Equal to last time
        </button>
      </div>
    </section>
  );
}
