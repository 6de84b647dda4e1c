import { useId } from "react";
import { Labelled } from "@/shared/form/Labelled";
import { hear } from "@/shared/hear";
import { word } from "@/shared/words";
import { type MeterUnit, meterFault, warmthFault } from "./figures";

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
  unit,
  ...typed
}: Omit<TypedProps, "fault" | "mode" | "unit"> & { unit: MeterUnit }) {
  const heard = hear(typed.value, unit);
  const told = heard?.range
    ? word("heard.middle", { value: `${Number(heard.value.toFixed(3))} ${unit}` })
    : undefined;
  const fault = meterFault(typed.value, unit);
  return <Typed mode="decimal" unit={unit} fault={fault} told={told} {...typed} />;
}

/** The bath's warmth, read in the shop's unit, which stands beside it. */
export function BathInput({ unit, value, onChange }: Omit<TypedProps, "label" | "fault" | "mode">) {
  const fault = warmthFault(value, unit);
  return (
    <Typed label={word("field.entry.bath")} mode="text" {...{ unit, value, onChange, fault }} />
  );
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
