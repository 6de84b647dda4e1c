import { useId } from "react";
import { Labelled } from "@/shared/form/Labelled";
import { hear } from "@/shared/hear";
import { word } from "@/shared/words";

interface TypedProps {
  label: string;
  unit: string;
  value: string;
  onChange: (text: string) => void;
  fault: string;
  told?: string;
  mode: "decimal" | "text";
}

/** A large field with its unit beside it. Text until it is sent, so that nothing typed is lost. */
function Typed({ label, unit, value, onChange, fault, told, mode }: TypedProps) {
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
      {!fault && told && <p className="text-sm text-ink-2">{told}</p>}
    </div>
  );
}

/** A number off a meter. */
export function MeterInput({
  max,
  ...typed
}: Omit<TypedProps, "fault" | "mode"> & { max: number }) {
  const heard = hear(typed.value, typed.unit);
  const told = heard?.range
    ? word("heard.middle", { value: `${Number(heard.value.toFixed(3))} ${typed.unit}` })
    : undefined;
  const fault = meterFault(typed.value, max, typed.unit);
  return <Typed mode="decimal" fault={fault} told={told} {...typed} />;
}

/** The number typed or said, null where nothing was, undefined where it cannot be used. */
export function meter(text: string, max: number, unit: string): number | null | undefined {
  if (!text.trim()) return null;
  const value = hear(text, unit)?.value;
  return value !== undefined && value >= 0 && value <= max ? value : undefined;
}

export const isNone = (value: number | null | undefined) => value === null;

/** Whether a text is a temperature as a person writes one, or nothing. */
export function temperature(text: string): boolean {
  return /^\s*(-?\d+([.,]\d+)?\s*°?\s*[CcFf]?)?\s*$/.test(text);
}

/** A bare number gets the shop's unit, in plain sight; one that was written stays. */
export function withUnit(text: string, unit: string): string {
  const bare = text.trim();
  return bare === "" || /[CcFf]$/.test(bare) ? bare : `${bare} ${unit}`;
}

/** A warmth that no bath has and that is typed all the same is a danger before it is a slip. */
function tooWarm(text: string, unit: string): boolean {
  const value = Number(
    text
      .trim()
      .replace(",", ".")
      .replace(/[°\sCcFf]/g, ""),
  );
  return value > (/[Ff]$/.test(withUnit(text, unit)) ? 212 : 100);
}

/** The bath's warmth, read in the shop's unit, which stands beside it. */
export function BathInput({ unit, value, onChange }: Omit<TypedProps, "label" | "fault" | "mode">) {
  const fault = !temperature(value)
    ? `A number in ${unit}, or with its unit: 24 °C, 75 °F.`
    : tooWarm(value, unit)
      ? word("refused.high", { value: value.trim() })
      : "";
  return (
    <Typed label={word("field.entry.bath")} mode="text" {...{ unit, value, onChange, fault }} />
  );
}

/** A figure that is refused because it is dangerous is told as danger, not as a slip. */
function meterFault(text: string, max: number, unit: string): string {
  if (meter(text, max, unit) !== undefined) return "";
  const value = hear(text, unit)?.value ?? Number(text.trim().replace(",", "."));
  if (value > max) return word("refused.high", { value: `${text.trim()} ${unit}` });
  if (value < 0) return word("refused.minus");
  return `A number from 0 to ${max} ${unit}, as on the meter.`;
}

/** A line of the person's own words. */
export function NoteInput({
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
