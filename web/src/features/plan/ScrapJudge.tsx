import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Schemas } from "@/shared/api/client";
import { usePlan } from "@/shared/form/context";
import { Num } from "@/shared/ui/Num";

type JudgeIn = Schemas["JudgeIn"];

const ITEMS = [
  ["bar", "Bar, rod, rebar"],
  ["angle", "Angle, channel, flat"],
  ["sheet", "Sheet, lid, tin"],
  ["bracket", "Bracket, shelf arm"],
  ["spanner", "Old spanner, tool"],
  ["disc", "Brake disc, weight"],
  ["other", "Something else"],
] as const;
const MAGNETS = [
  ["yes", "It holds"],
  ["no", "It does not"],
] as const;
const LOOKS = [
  ["bare", "Bare: grey, black or rusty"],
  ["shiny", "Mirror-like"],
  ["spangled", "Dull grey, spangled or rainbow-like"],
  ["painted", "Painted"],
  ["yellow", "Yellow or reddish"],
] as const;
const VERDICT = {
  yes: "It may be an anode",
  no: "Not in a bath",
  after: "After some work",
} as const;

/** What is this bit of iron, and may it hang on the plus side? */
export function ScrapJudge() {
  const { put, read } = usePlan();
  const [told, setTold] = useState<JudgeIn>({ item: "bar", magnet: "yes", look: "bare" });
  const judge = useMutation({
    mutationFn: (body: JudgeIn) => ask(api.POST("/api/plans/judge", { body })),
  });
  const set = (change: Partial<JudgeIn>) => {
    const next = { ...told, ...change };
    setTold(next);
    judge.mutate(next);
  };
  const found = judge.data;
  const f = read?.answer?.figures;
  const [open, setOpen] = useState(false);
  return (
    <details className="border-t border-hair pt-2" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer text-sm font-semibold">
        What is this bit of iron? Judge it by a look and a magnet
      </summary>
      {open && (
        <div className="mt-2 space-y-3">
          <Ask name="It is a" options={ITEMS} value={told.item} pick={(item) => set({ item })} />
          <Ask
            name="A magnet"
            options={MAGNETS}
            value={told.magnet}
            pick={(magnet) => set({ magnet })}
          />
          <Ask name="It looks" options={LOOKS} value={told.look} pick={(look) => set({ look })} />
          {judge.error && <p role="alert">{judge.error.message}</p>}
          {found && (
            <div
              role="status"
              data-verdict={found.verdict}
              className={`border-l-4 py-1 pl-3 ${found.verdict === "no" ? "border-stop" : "border-line"}`}
            >
              <p className="sign text-xl">{VERDICT[found.verdict]}</p>
              <p className="text-sm">{found.why}</p>
              <p className="text-sm text-ink-2">{found.ask} Common practice, no source.</p>
              <button
                type="button"
                className="btn btn-small mt-1"
                onClick={() => put("/anodes/*/material", found.material)}
              >
                Put it in the plan
              </button>
            </div>
          )}
          {f?.["scrap.area"] && (
            <p className="text-sm">
              With the sizes in this plan: <Num f={f["scrap.area"]} className="text-lg" /> in the
              liquid
              {f["scrap.life"] && (
                <>
                  , half worn after <Num f={f["scrap.life"]} className="text-lg" /> under power
                </>
              )}
              .
            </p>
          )}
        </div>
      )}
    </details>
  );
}

function Ask<T extends string>({
  name,
  options,
  value,
  pick,
}: {
  name: string;
  options: readonly (readonly [T, string])[];
  value: string;
  pick: (value: T) => void;
}) {
  return (
    <fieldset>
      <legend className="mb-1 text-sm font-semibold">{name}</legend>
      <div className="flex flex-wrap gap-1.5">
        {options.map(([id, words]) => (
          <button
            key={id}
            type="button"
            className="choice"
            aria-pressed={value === id}
            data-state={value === id ? "checked" : "unchecked"}
            onClick={() => pick(id)}
          >
            {words}
          </button>
        ))}
      </div>
    </fieldset>
  );
}
