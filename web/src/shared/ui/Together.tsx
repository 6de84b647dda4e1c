import { useId, useState } from "react";
import type { Both, Choices, Problem } from "@/shared/api/client";
import { word } from "@/shared/words";

/** What is offered where a save meets another: a choice for each field that both changed. */
export interface Meets {
  head: number;
  clashes: Both[];
}

/** What a refused save says of the other; null where it was refused for something else. */
export function meetsOf(problem: Problem | undefined): Meets | null {
  if (!problem?.type.endsWith("stale-revision")) return null;
  return {
    head: Number(problem.data?.head_revision ?? 0),
    clashes: (problem.data?.clashes ?? []) as Both[],
  };
}

/** The same field changed in two places: both shown, one picked; the rest goes together by itself. */
export function Clashes({
  meets,
  save,
  busy,
}: {
  meets: Meets;
  save: (choices: Choices, onto: number) => void;
  busy: boolean;
}) {
  const [picked, setPicked] = useState<Choices>({});
  const name = useId();
  const open = meets.clashes.filter((c) => !picked[c.where]).length;
  return (
    <div role="alert" className="mb-3 border-l-4 border-stop bg-sheet p-4" data-clashes>
      <h2 className="text-xl">{word("both.title")}</h2>
      <p className="text-sm">{word("both.why")}</p>
      <ul className="mt-2 max-w-2xl">
        {meets.clashes.map((c) => (
          <li key={c.where} className="border-t border-hair py-2">
            <fieldset>
              <legend className="text-sm font-semibold">{c.name}</legend>
              <div className="grid gap-2 sm:grid-cols-2">
                {(["mine", "theirs"] as const).map((side) => (
                  <label
                    key={side}
                    className="flex min-h-11 items-center gap-2 border border-line px-3 py-1"
                  >
                    <input
                      type="radio"
                      name={`${name} ${c.where}`}
                      className="size-5 accent-[var(--ink)]"
                      checked={picked[c.where] === side}
                      onChange={() => setPicked({ ...picked, [c.where]: side })}
                    />
                    <span>
                      {word(`both.${side}`)}{" "}
                      <strong>{(side === "mine" ? c.yours : c.theirs) || "–"}</strong>
                    </span>
                  </label>
                ))}
              </div>
            </fieldset>
          </li>
        ))}
      </ul>
      <button
        type="button"
        className="btn btn-main mt-2"
        disabled={open > 0 || busy}
        onClick={() => save(picked, meets.head)}
      >
        {open > 0 ? word("both.open", { count: open }) : word("both.save")}
      </button>
    </div>
  );
}

/** What another had changed meanwhile and is here too by now: told until it is put away. */
export function Brought({ brought, done }: { brought: Both[]; done: () => void }) {
  if (!brought.length) return null;
  return (
    <div role="status" className="mb-3 border-l-4 border-liquid bg-sheet p-3 text-sm" data-brought>
      <p className="font-semibold">{word("both.brought")}</p>
      <ul className="max-w-2xl">
        {brought.slice(0, 12).map((b) => (
          <li key={b.where} className="border-t border-hair py-0.5">
            {b.name}: <span className="line-through">{b.yours || "–"}</span>{" "}
            <strong>{b.theirs || "–"}</strong>
          </li>
        ))}
      </ul>
      {brought.length > 12 && <p>{word("both.more", { count: brought.length - 12 })}</p>}
      <button type="button" className="btn btn-small mt-2" onClick={done}>
        {word("both.seen")}
      </button>
    </div>
  );
}
