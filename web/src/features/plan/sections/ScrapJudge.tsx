import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Schemas } from "@/shared/api/client";
import { usePlan } from "@/shared/form/context";
import { Num } from "@/shared/ui/Num";
import { type Option, options, word } from "@/shared/words";

type JudgeIn = Schemas["JudgeIn"];

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
          <Ask
            name="It is a"
            options={options("judge.item")}
            value={told.item}
            pick={(v) => set({ item: v as JudgeIn["item"] })}
          />
          <Ask
            name="A magnet"
            options={options("judge.magnet")}
            value={told.magnet}
            pick={(v) => set({ magnet: v as JudgeIn["magnet"] })}
          />
          <Ask
            name="It looks"
            options={options("judge.look")}
            value={told.look}
            pick={(v) => set({ look: v as JudgeIn["look"] })}
          />
          {judge.error && <p role="alert">{judge.error.message}</p>}
          {found && (
            <div
              role="status"
              data-verdict={found.verdict}
              className={`border-l-4 py-1 pl-3 ${found.verdict === "no" ? "border-stop" : "border-line"}`}
            >
              <p className="sign text-xl">{word(`judge.verdict.${found.verdict}`)}</p>
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

function Ask({
  name,
  options,
  value,
  pick,
}: {
  name: string;
  options: readonly Option[];
  value: string;
  pick: (value: string) => void;
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
