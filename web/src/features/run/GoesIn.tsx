import { useQuery } from "@tanstack/react-query";
import { api, ask, type Detail, keys, type RunOut } from "@/shared/api/client";
import { Labelled } from "@/shared/form/Labelled";
import { useRested } from "@/shared/useRested";
import { choices, word } from "@/shared/words";

export type Scrap = NonNullable<Extract<Detail, { kind: "change" }>["goes_in"]>;
const FORMS = ["rod", "plate"] as const;
export const WITH_SCRAP: readonly string[] = ["swapped_anodes", "added_anode"];

/** What goes in: its metal, form and size, and what that would make of the bath, before it does. */
export function GoesIn({
  run,
  what,
  scrap,
  set,
}: {
  run: RunOut;
  what: "swapped_anodes" | "added_anode";
  scrap: Scrap | null;
  set: (scrap: Scrap) => void;
}) {
  const shown = scrap ?? { material: "plain_steel", form: "rod", size: "", count: 1 };
  const put = (change: Partial<Scrap>) => set({ ...shown, ...change } as Scrap);
  const rested = useRested(scrap, 300);
  const found = useQuery({
    queryKey: [...keys.run(run.id), "goes-in", what, rested],
    enabled: rested !== null,
    retry: false,
    queryFn: () =>
      ask(
        api.POST("/api/runs/{run_id}/goes-in", {
          params: { path: { run_id: run.id } },
          body: { what, scrap: rested as Scrap },
        }),
      ),
  });
  return (
    <fieldset className="space-y-2" data-goes-in>
      <legend className="text-sm font-semibold">{word("goes_in.what")}</legend>
      <div className="grid grid-cols-2 gap-2 sm:grid-cols-3">
        {choices<Scrap["material"]>("anode.material").map(([key, name]) => (
          <button
            key={key}
            type="button"
            className="choice min-h-11"
            aria-pressed={scrap?.material === key}
            data-state={scrap?.material === key ? "on" : ""}
            onClick={() => put({ material: key })}
          >
            {name}
          </button>
        ))}
      </div>
      <p className="text-sm font-semibold">{word("goes_in.form")}</p>
      <fieldset className="grid grid-cols-2 gap-2" aria-label={word("goes_in.form")}>
        {FORMS.map((form) => (
          <button
            key={form}
            type="button"
            className="choice min-h-11"
            aria-pressed={shown.form === form}
            data-state={shown.form === form ? "on" : ""}
            onClick={() => put({ form })}
          >
            {word(`goes_in.${form}`)}
          </button>
        ))}
      </fieldset>
      <div className="grid grid-cols-[1fr_6rem] items-end gap-3">
        <Labelled
          label={word("goes_in.size")}
          className="field"
          placeholder={run.temperature_unit === "°F" ? "1/2 in" : "12 mm"}
          maxLength={40}
          value={shown.size ?? ""}
          onChange={(e) => put({ size: e.target.value })}
        />
        <Labelled
          label={word("goes_in.count")}
          className="field"
          inputMode="numeric"
          value={String(shown.count ?? 1)}
          onChange={(e) => put({ count: Math.min(Math.max(Number(e.target.value) || 1, 1), 40) })}
        />
      </div>
      {found.data && (
        <div role="status" className="text-sm" data-after={what}>
          <p>{found.data.text}</p>
          {found.data.warnings.map((w) => (
            <strong key={w} className="mt-1 block border-l-4 border-stop pl-2">
              {w}
            </strong>
          ))}
        </div>
      )}
      {found.error && (
        <p role="alert" className="text-sm font-semibold text-stop">
          {found.error.message}
        </p>
      )}
    </fieldset>
  );
}
