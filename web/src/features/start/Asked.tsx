import { RadioGroup } from "radix-ui";
import { type ReactNode, useId } from "react";
import { Radios } from "@/shared/form/Radios";
import { options, word } from "@/shared/words";
import type { Begun, First } from "./useFirst";

export type Typed = "name" | "many" | "sizes" | "weighs" | "holds" | "label" | "dose" | "scoop";

/** One of a few by its picture. */
export function Pictures({
  label,
  at,
  value,
  options: offered,
  draw,
  onPick,
  wide = false,
}: {
  label: string;
  at: string;
  value: string;
  options: readonly (readonly [string, string])[];
  draw: (value: string) => ReactNode;
  onPick: (value: string) => void;
  wide?: boolean;
}) {
  const id = useId();
  return (
    <div>
      <h2 id={id} className="mb-1.5 text-xl">
        {label}
      </h2>
      <RadioGroup.Root
        aria-labelledby={id}
        data-first={at}
        value={value}
        onValueChange={onPick}
        className={`grid gap-1.5 ${wide ? "grid-cols-2 sm:grid-cols-4" : "grid-cols-4 sm:grid-cols-6"}`}
      >
        {offered.map(([v, text]) => (
          <RadioGroup.Item
            key={v}
            value={v}
            className="choice flex min-h-[5.25rem] flex-col items-center justify-between gap-1 px-0.5 text-center text-xs leading-tight sm:px-1 sm:text-sm"
          >
            <span className="block w-full bg-sheet px-0.5 py-0.5 text-ink">{draw(v)}</span>
            {text}
          </RadioGroup.Item>
        ))}
      </RadioGroup.Root>
    </div>
  );
}

/** One tap of what is known of the piece; none is "don't know". */
export function Row({
  name,
  part = "piece",
  first,
  say,
}: {
  name: "metal" | "hollow" | "grease" | "paint" | "aim" | "product";
  part?: string;
  first: First;
  say: (more: Partial<First>) => void;
}) {
  const id = useId();
  return (
    <div>
      <h3 id={id} className={name === "aim" ? "mb-1.5 text-xl" : "mb-1 text-sm font-semibold"}>
        {word(`field.${part}.${name}`)}
      </h3>
      <Radios
        labelledby={id}
        at={name}
        value={first[name] ?? ""}
        options={options(`${part}.${name}`)}
        onPick={(value) => say({ [name]: value })}
      />
    </div>
  );
}

/** A text with what was read of it under it, or why it cannot be read. */
export function Words({
  name,
  first,
  say,
  told,
  behind,
}: {
  name: Typed;
  first: First;
  say: (more: Partial<First>) => void;
  told: Begun | undefined;
  behind: boolean;
}) {
  const id = useId();
  const text = first[name] ?? "";
  const fault = !behind && text ? told?.faults[name] : undefined;
  const heard = told?.heard[name];
  const bare = told?.bare[name === "weighs" || name === "scoop" ? "mass" : "length"] ?? "";
  return (
    <div>
      <label htmlFor={id} className="block text-sm font-semibold">
        {word(`begin.field.${name}`)}
      </label>
      <input
        id={id}
        className="field min-h-11 scroll-mb-20"
        value={text}
        data-first={name}
        autoComplete="off"
        spellCheck={false}
        aria-invalid={fault ? true : undefined}
        aria-describedby={`${id}-d`}
        onChange={(e) => say({ [name]: e.target.value })}
        // what is typed is seen, clear of the answer that lies over the page on a phone
        onFocus={(e) => e.currentTarget.scrollIntoView({ block: "nearest" })}
      />
      <p
        id={`${id}-d`}
        className={`mt-1 text-sm ${fault ? "font-semibold text-stop" : "text-ink-2"}`}
        role={fault ? "status" : undefined}
      >
        {fault ??
          heard ??
          word(name === "dose" ? "hint.mix.concentration_kg_m3" : `begin.hint.${name}`, {
            unit: bare,
          })}
      </p>
    </div>
  );
}

export function Units({ first, say }: { first: First; say: (more: Partial<First>) => void }) {
  return (
    <label className="flex items-center gap-1 text-sm">
      Units
      <select
        className="field min-h-9 !w-auto"
        value={first.system}
        onChange={(e) => say({ system: e.target.value as First["system"] })}
      >
        <option value="metric">metric</option>
        <option value="us">US</option>
        <option value="imperial">imperial</option>
      </select>
    </label>
  );
}
