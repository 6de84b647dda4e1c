import { RadioGroup, Switch } from "radix-ui";
import { useId } from "react";
import { usePlan, valueAt } from "@/shared/form/context";

/** A number as a person types it, with any unit; the fault beside it where it cannot be read. */
export function Amount({
  at,
  label,
  hint,
  placeholder,
}: {
  at: string;
  label: string;
  hint?: string;
  placeholder?: string;
}) {
  const { doc, read, type } = usePlan();
  const id = useId();
  const fault = read?.faults[at];
  const text = doc.typed?.[at] ?? read?.shown[at] ?? "";
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="block text-sm font-semibold">
        {label}
      </label>
      <input
        id={id}
        className="field"
        value={text}
        placeholder={placeholder}
        inputMode="text"
        autoComplete="off"
        spellCheck={false}
        aria-invalid={fault ? true : undefined}
        aria-describedby={fault || hint ? `${id}-d` : undefined}
        data-pointer={at}
        onChange={(e) => type(at, e.target.value)}
        onFocus={(e) => e.target.select()}
      />
      {fault ? (
        <p id={`${id}-d`} className="mt-1 text-sm font-semibold text-stop" role="status">
          {fault}
        </p>
      ) : (
        hint && (
          <p id={`${id}-d`} className="mt-0.5 text-xs text-ink-2">
            {hint}
          </p>
        )
      )}
    </div>
  );
}

export type Option = readonly [value: string, label: string];

/** One of a few, all in sight. */
export function Choice({
  at,
  label,
  options,
  onPick,
  hint,
}: {
  at: string;
  label: string;
  options: readonly Option[];
  onPick?: (value: string) => void;
  hint?: string;
}) {
  const { doc, put } = usePlan();
  const id = useId();
  const value = String(valueAt(doc, at) ?? "");
  return (
    <div>
      <div id={id} className="mb-1 text-sm font-semibold">
        {label}
      </div>
      <RadioGroup.Root
        aria-labelledby={id}
        value={value}
        onValueChange={(v) => (onPick ? onPick(v) : put(at, v))}
        className="flex flex-wrap gap-1.5"
        data-pointer={at}
      >
        {options.map(([v, text]) => (
          <RadioGroup.Item key={v} value={v} className="choice">
            {text}
          </RadioGroup.Item>
        ))}
      </RadioGroup.Root>
      {hint && <p className="mt-0.5 text-xs text-ink-2">{hint}</p>}
    </div>
  );
}

/** Yes or no. */
export function Toggle({ at, label, hint }: { at: string; label: string; hint?: string }) {
  const { doc, put } = usePlan();
  const id = useId();
  return (
    <div className="flex items-start gap-3">
      <Switch.Root
        id={id}
        checked={Boolean(valueAt(doc, at))}
        onCheckedChange={(v) => put(at, v)}
        data-pointer={at}
        className="mt-0.5 h-7 w-12 shrink-0 border-[1.5px] border-line bg-paper data-[state=checked]:bg-liquid"
      >
        <Switch.Thumb className="block h-full w-5 border-r-[1.5px] border-line bg-ink transition-transform data-[state=checked]:translate-x-[26px]" />
      </Switch.Root>
      <label htmlFor={id} className="text-sm">
        <span className="font-semibold">{label}</span>
        {hint && <span className="block text-xs text-ink-2">{hint}</span>}
      </label>
    </div>
  );
}

export function Text({
  at,
  label,
  placeholder,
}: {
  at: string;
  label: string;
  placeholder?: string;
}) {
  const { doc, put } = usePlan();
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className="block text-sm font-semibold">
        {label}
      </label>
      <input
        id={id}
        className="field"
        maxLength={80}
        value={String(valueAt(doc, at) ?? "")}
        placeholder={placeholder}
        data-pointer={at}
        onChange={(e) => put(at, e.target.value)}
      />
    </div>
  );
}
