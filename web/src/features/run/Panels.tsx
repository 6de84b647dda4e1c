import { type ReactNode, useId, useState } from "react";
import type { Detail, RunOut } from "@/shared/api/client";
import { timeNow } from "@/shared/clock";
import { Labelled } from "@/shared/form/Labelled";
import { WhenField } from "@/shared/ui/WhenField";
import { parseWhen } from "@/shared/when";
import { choices, word } from "@/shared/words";
import { AfterChange } from "./Expect";
import type { Enter } from "./useRun";

export interface PanelProps {
  run: RunOut;
  enter: Enter;
  done: () => void;
}

interface TypedProps {
  label: string;
  unit: string;
  value: string;
  onChange: (text: string) => void;
  fault: string;
  mode: "decimal" | "text";
}

/** A large field with its unit beside it. Text until it is sent, so that nothing typed is lost. */
function Typed({ label, unit, value, onChange, fault, mode }: TypedProps) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className="block text-sm font-semibold">
        {label}
      </label>
      <div className="flex items-center gap-2">
        <input
          id={id}
          className="field sign min-h-12 !text-2xl"
          inputMode={mode}
          value={value}
          aria-invalid={fault ? true : undefined}
          onChange={(e) => onChange(e.target.value)}
        />
        <span className="sign w-8 text-xl">{unit}</span>
      </div>
      {fault && <p className="text-sm font-semibold text-stop">{fault}</p>}
    </div>
  );
}

/** A number off a meter. */
export function MeterInput({
  max,
  ...typed
}: Omit<TypedProps, "fault" | "mode"> & { max: number }) {
  return <Typed mode="decimal" fault={meterFault(typed.value, max, typed.unit)} {...typed} />;
}

/** The number typed, null where nothing was, undefined where it cannot be used. */
export function meter(text: string, max: number): number | null | undefined {
  if (!text.trim()) return null;
  const value = Number(text.trim().replace(",", "."));
  return Number.isFinite(value) && value >= 0 && value <= max ? value : undefined;
}

const isNone = (value: number | null | undefined) => value === null;

/** Whether a text is a temperature as a person writes one, or nothing. */
function temperature(text: string): boolean {
  return /^\s*(-?\d+([.,]\d+)?\s*°?\s*[CcFf]?)?\s*$/.test(text);
}

/** A bare number gets the shop's unit, in plain sight; one that was written stays. */
function withUnit(text: string, unit: string): string {
  const bare = text.trim();
  return bare === "" || /[CcFf]$/.test(bare) ? bare : `${bare} ${unit}`;
}

/** The bath's warmth, read in the shop's unit, which stands beside it. */
function BathInput({ unit, value, onChange }: Omit<TypedProps, "label" | "fault" | "mode">) {
  const fault = temperature(value) ? "" : `A number in ${unit}, or with its unit: 24 °C, 75 °F.`;
  return (
    <Typed label={word("field.entry.bath")} mode="text" {...{ unit, value, onChange, fault }} />
  );
}

function meterFault(text: string, max: number, unit: string): string {
  return meter(text, max) === undefined
    ? `A number from 0 to ${max} ${unit}, as on the meter.`
    : "";
}

/** A line of the person's own words. */
function NoteInput({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (text: string) => void;
}) {
  return (
    <div>
      <Labelled
        label={label}
        className="field"
        maxLength={1000}
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
    </div>
  );
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

function useWhen() {
  const [text, setText] = useState("");
  const read = parseWhen(text, timeNow());
  return {
    field: <WhenField text={text} setText={setText} />,
    bad: read === null,
    /** Undefined is the moment of the press. */
    time: () => (text.trim() ? (parseWhen(text, timeNow()) ?? undefined) : undefined),
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
  const [amps, setAmps] = useState("");
  const [tank, setTank] = useState("");
  const [bath, setBath] = useState("");
  const [method, setMethod] = useState<"clamp" | "dial">("clamp");
  const when = useWhen();
  const values = [meter(amps, 200), meter(tank, 60)];
  const unit = run.temperature_unit;
  const write = (m: "clamp" | "dial" | "none") => {
    void enter(
      {
        kind: "reading",
        method: m,
        current_a: m === "none" ? null : values[0],
        tank_v: values[1],
        supply_v: null,
        bath_c: null,
        bath: withUnit(bath, unit),
      },
      when.time(),
    );
    done();
  };
  return (
    <Panel title="Reading" onCancel={done}>
      <MeterInput
        label={word("field.entry.current_a")}
        unit="A"
        value={amps}
        onChange={setAmps}
        max={200}
      />
      <div className="grid grid-cols-2 gap-3">
        <MeterInput
          label={word("field.entry.tank_v")}
          unit="V"
          value={tank}
          onChange={setTank}
          max={60}
        />
        <BathInput unit={unit} value={bath} onChange={setBath} />
      </div>
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
            onClick={() => setMethod(m)}
          >
            {m === "clamp" ? "Clamp meter or display" : "Needle on the charger"}
          </button>
        ))}
      </div>
      {when.field}
      <Send
        disabled={
          when.bad ||
          values.includes(undefined) ||
          !temperature(bath) ||
          (values.every(isNone) && !bath.trim())
        }
        onClick={() => write(method)}
      />
      <button type="button" className="btn w-full" onClick={() => write("none")}>
        I looked, but have no reading
      </button>
      <p className="text-sm text-ink-2">
        Without a reading the window stays wide. One clamp-meter reading narrows it at once.
      </p>
    </Panel>
  );
}

type Change = NonNullable<Extract<Detail, { kind: "change" }>["what"]>;

export function ChangePanel({ run, enter, done }: PanelProps) {
  const [what, setWhat] = useState<Change | null>(null);
  const [before, setBefore] = useState("");
  const [after, setAfter] = useState("");
  const [note, setNote] = useState("");
  const when = useWhen();
  const a = meter(before, 200);
  const b = meter(after, 200);
  return (
    <Panel title="Log a change" onCancel={done}>
      {run.state === "running" && (
        <p className="text-sm font-semibold">
          Power off before hands go in. One thing at a time, so that the amps tell.
        </p>
      )}
      <div className="grid grid-cols-2 gap-2">
        {choices<Change>("run.change").map(([key, name]) => (
          <button
            key={key}
            type="button"
            className="choice min-h-11"
            aria-pressed={what === key}
            data-state={what === key ? "on" : ""}
            onClick={() => setWhat(key)}
          >
            {name}
          </button>
        ))}
      </div>
      {what && <AfterChange run={run} what={what} />}
      <div className="grid grid-cols-2 gap-3">
        <MeterInput
          label={word("field.entry.before_a")}
          unit="A"
          value={before}
          onChange={setBefore}
          max={200}
        />
        <MeterInput
          label={word("field.entry.after_a")}
          unit="A"
          value={after}
          onChange={setAfter}
          max={200}
        />
      </div>
      <NoteInput label={word("field.entry.note")} value={note} onChange={setNote} />
      {when.field}
      <Send
        disabled={when.bad || !what || a === undefined || b === undefined}
        onClick={() => {
          if (what)
            void enter({ kind: "change", what, before_a: a, after_a: b, note }, when.time());
          done();
        }}
      />
    </Panel>
  );
}

export function FoundStoppedPanel({ enter, done }: PanelProps) {
  const when = useWhen();
  const [cause, setCause] = useState("");
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
          void enter({ kind: "found_stopped", cause }, when.time());
          done();
        }}
      />
    </Panel>
  );
}

export function RemarkPanel({ enter, done }: PanelProps) {
  const when = useWhen();
  const [text, setText] = useState("");
  return (
    <Panel title={word("remark.title")} onCancel={done}>
      <NoteInput label={word("remark.text")} value={text} onChange={setText} />
      {when.field}
      <Send
        disabled={when.bad || !text.trim()}
        onClick={() => {
          void enter({ kind: "remark", text: text.trim() }, when.time());
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
  enter,
  done,
}: PanelProps & { title: string; text: string; detail: Detail; button: string }) {
  const when = useWhen();
  return (
    <Panel title={title} onCancel={done}>
      <p className="text-sm">{text}</p>
      {when.field}
      <Send
        disabled={when.bad}
        onClick={() => {
          void enter(detail, when.time());
          done();
        }}
      >
        {button}
      </Send>
    </Panel>
  );
}

export function InspectionPanel({ run, enter, done }: PanelProps) {
  const [shares, setShares] = useState<Record<string, number>>({});
  const [note, setNote] = useState("");
  const when = useWhen();
  const write = (verdict: "share" | "not_yet" | "equal") => {
    void enter(
      { kind: "inspection", verdict, shares: verdict === "share" ? shares : {}, note },
      when.time(),
    );
    done();
  };
  const looked = run.log.some((l) => l.kind === "inspection");
  return (
    <section className="space-y-3" aria-label="Inspection">
      <p className="text-sm">
        {run.delicate
          ? "Rinse, and touch it with a soft brush only. How much of each side is free of orange? Black film counts as clean; a crust that holds stays."
          : "Rinse and brush the same patch each time. How much of each side is free of orange? Black film counts as clean."}
      </p>
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
        onClick={() => write("share")}
      />
      <div className="grid grid-cols-2 gap-2">
        <button type="button" className="btn" disabled={when.bad} onClick={() => write("not_yet")}>
          Just “not yet”
        </button>
        <button
          type="button"
          className="btn"
          disabled={when.bad || !looked}
          onClick={() => write("equal")}
        >
          Equal to last time
        </button>
      </div>
    </section>
  );
}
