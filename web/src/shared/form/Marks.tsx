import type { Option } from "@/shared/words";

/** Several of a few as buttons, each on or off; with words for it, that none of them is so. */
export function Marks({
  value,
  options,
  none,
  onPick,
}: {
  value: readonly string[] | null;
  options: readonly Option[];
  none?: string;
  onPick: (value: string[]) => void;
}) {
  const marked = value ?? [];
  const button = (key: string, text: string, on: boolean, pick: () => void) => (
    <button
      key={key}
      type="button"
      className="choice"
      aria-pressed={on}
      data-state={on ? "checked" : "unchecked"}
      onClick={pick}
    >
      {text}
    </button>
  );
  return (
    <div className="flex flex-wrap gap-1.5">
      {options.map(([v, text]) =>
        button(v, text, marked.includes(v), () =>
          onPick(marked.includes(v) ? marked.filter((x) => x !== v) : [...marked, v]),
        ),
      )}
      {none && button("", none, value?.length === 0, () => onPick([]))}
    </div>
  );
}
