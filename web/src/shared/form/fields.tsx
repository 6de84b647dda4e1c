import { Switch } from "radix-ui";
import { useId } from "react";
import { differs, places, usePlan, valueAt } from "@/shared/form/context";
import { Labelled } from "@/shared/form/Labelled";
import { Marks } from "@/shared/form/Marks";
import { Radios } from "@/shared/form/Radios";
import { assumed } from "@/shared/form/said";
import { choicesOf, fieldWord, type Option, word } from "@/shared/words";

export type { Option };

/** Says that what stands in a field is nobody's word. */
function Assumed({ at }: { at: string }) {
  const { doc } = usePlan();
  const first = places(doc, at).at(0);
  if (first === undefined || !assumed(doc.said, first)) return null;
  return <span className="ml-1.5 text-xs font-normal text-ink-2">{word("begin.mark")}</span>;
}

/** The words of a field: as its place in the document has them, or as this screen says. */
function useWords(at: string, own: { label?: string; hint?: string; placeholder?: string }) {
  const { doc } = usePlan();
  return {
    label: own.label ?? fieldWord("field", doc, at) ?? at,
    hint: own.hint ?? fieldWord("hint", doc, at),
    placeholder: own.placeholder ?? fieldWord("empty", doc, at),
  };
}

/** A number as a person types it, with any unit; the fault beside it where it cannot be read. */
export function Amount({
  at,
  ...own
}: {
  at: string;
  label?: string;
  hint?: string;
  placeholder?: string;
}) {
  const { doc, read, type } = usePlan();
  const { label, hint, placeholder } = useWords(at, own);
  const id = useId();
  const all = places(doc, at);
  const fault = all.map((p) => read?.faults[p]).find(Boolean);
  const heard = all.map((p) => read?.heard[p]).find(Boolean);
  const under = heard ?? hint;
  const texts = new Set(all.map((p) => doc.typed?.[p] ?? read?.shown[p] ?? ""));
  const text = texts.size === 1 ? ([...texts].join() as string) : "";
  const empty = texts.size > 1 ? "not alike" : placeholder;
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="block text-sm font-semibold">
        {label}
        <Assumed at={at} />
      </label>
      <input
        id={id}
        className="field"
        value={text}
        placeholder={empty}
        inputMode="text"
        autoComplete="off"
        spellCheck={false}
        aria-invalid={fault ? true : undefined}
        aria-describedby={fault || under ? `${id}-d` : undefined}
        data-pointer={at}
        onChange={(e) => type(at, e.target.value)}
        onFocus={(e) => e.target.select()}
      />
      {fault ? (
        <p id={`${id}-d`} className="mt-1 text-sm font-semibold text-stop" role="status">
          {fault}
        </p>
      ) : (
        under && (
          <p id={`${id}-d`} className="mt-0.5 text-xs text-ink-2">
            {under}
          </p>
        )
      )}
    </div>
  );
}

/** One of a few, all in sight. */
export function Choice({
  at,
  options,
  onPick,
  ...own
}: {
  at: string;
  label?: string;
  options?: readonly Option[];
  onPick?: (value: string) => void;
  hint?: string;
}) {
  const { doc, put } = usePlan();
  const { label, hint } = useWords(at, own);
  const id = useId();
  const value = String(valueAt(doc, at) ?? "");
  return (
    <div>
      <div id={id} className="mb-1 text-sm font-semibold">
        {label}
        {differs(doc, at) && <span className="font-normal text-ink-2"> (not alike)</span>}
        <Assumed at={at} />
      </div>
      <Radios
        labelledby={id}
        at={at}
        value={value}
        options={options ?? choicesOf(doc, at)}
        onPick={(v) => (onPick ? onPick(v) : put(at, v))}
      />
      {hint && <p className="mt-0.5 text-xs text-ink-2">{hint}</p>}
    </div>
  );
}

const YES_NO: readonly Option[] = [
  ["true", "Yes"],
  ["false", "No"],
];

/** A question of safety: yes, no, or not answered yet. Nothing is taken for answered. */
export function Ask({ at }: { at: string }) {
  const { doc, put } = usePlan();
  const { label, hint } = useWords(at, {});
  const id = useId();
  const value = valueAt(doc, at);
  return (
    <div>
      <div id={id} className="text-sm font-semibold">
        {label}
      </div>
      {hint && <p className="mb-1 text-xs text-ink-2">{hint}</p>}
      <Radios
        labelledby={id}
        at={at}
        value={typeof value === "boolean" ? String(value) : ""}
        options={YES_NO}
        answered={typeof value === "boolean"}
        onPick={(v) => put(at, v === "true")}
      >
        {typeof value !== "boolean" && <span className="text-xs text-ink-2">not answered yet</span>}
      </Radios>
    </div>
  );
}

/** Any of some; where the document keeps what was said, also that it is none of them. */
export function Several({ at }: { at: string }) {
  const { doc, put } = usePlan();
  const { label } = useWords(at, {});
  const id = useId();
  const value = (valueAt(doc, at) as string[] | undefined) ?? [];
  return (
    <fieldset aria-labelledby={id} data-pointer={at}>
      <div id={id} className="mb-1 text-sm font-semibold">
        {label}
        <Assumed at={at} />
      </div>
      <Marks
        value={assumed(doc.said, at) ? null : value}
        options={choicesOf(doc, at)}
        none={doc.said ? word("begin.none") : undefined}
        onPick={(v) => put(at, v)}
      />
    </fieldset>
  );
}

/** Yes or no. */
export function Toggle({ at }: { at: string }) {
  const { doc, put } = usePlan();
  const { label, hint } = useWords(at, {});
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
        <Assumed at={at} />
        {hint && <span className="block text-xs text-ink-2">{hint}</span>}
      </label>
    </div>
  );
}

export function Text({ at }: { at: string }) {
  const { doc, put } = usePlan();
  const { label, placeholder } = useWords(at, {});
  return (
    <div>
      <Labelled
        label={label}
        className="field"
        maxLength={200}
        value={String(valueAt(doc, at) ?? "")}
        placeholder={placeholder}
        data-pointer={at}
        onChange={(e) => put(at, e.target.value)}
      />
    </div>
  );
}
