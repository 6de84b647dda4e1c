import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { api, ask, keys, type ShopSettings } from "@/shared/api/client";
import { Labelled } from "@/shared/form/Labelled";
import { Loading, Trouble } from "@/shared/ui/States";
import { options, word } from "@/shared/words";

export function SettingsPage() {
  const settings = useQuery({ queryKey: keys.settings, queryFn: () => ask(api.GET("/api/shop")) });
  if (settings.error)
    return <Trouble error={settings.error} again={() => void settings.refetch()} />;
  if (!settings.data) return <Loading what="the shop" />;
  return <Form saved={settings.data} />;
}

function Form({ saved }: { saved: ShopSettings }) {
  const queries = useQueryClient();
  const [scoop, setScoop] = useState({ name: "", grams: "" });
  const save = useMutation({
    mutationFn: (next: ShopSettings) => ask(api.PUT("/api/shop", { body: next })),
    onSuccess: (next) => {
      queries.setQueryData(keys.settings, next);
      void queries.invalidateQueries({ queryKey: keys.book });
    },
  });
  const put = (part: Partial<ShopSettings>) => save.mutate({ ...saved, ...part });
  const theme = (value: ShopSettings["theme"]) => {
    localStorage.setItem("yb.theme", value ?? "auto");
    if (value === "light" || value === "dark") document.documentElement.dataset.theme = value;
    else delete document.documentElement.dataset.theme;
    put({ theme: value });
  };
  const grams = Number(scoop.grams.replace(",", "."));
  const scoopId = useId();
  return (
    <div className="mx-auto max-w-3xl space-y-6 p-3 sm:p-5">
      <h1 className="text-3xl">Shop</h1>
      {save.error && <Trouble error={save.error} />}
      <div className="max-w-md">
        <Labelled
          label="Name of the shop"
          className="field"
          defaultValue={saved.name}
          maxLength={80}
          onBlur={(e) => put({ name: e.target.value })}
        />
      </div>
      <Pick
        title="New plans are typed in"
        options={options("shop.system")}
        value={saved.system ?? "metric"}
        pick={(v) => put({ system: v as ShopSettings["system"] })}
      />
      <p className="text-sm text-ink-2">
        Any unit can be typed anywhere; this is what a bare number means and what is shown.
      </p>
      <Pick
        title="Light or dark"
        options={options("shop.theme")}
        value={saved.theme ?? "auto"}
        pick={(v) => theme(v as ShopSettings["theme"])}
      />
      <section className="space-y-2">
        <h2 className="text-2xl">Scoops weighed once</h2>
        <ul>
          {(saved.scoops ?? []).map((s) => (
            <li key={s.name} className="flex items-center gap-3 border-t border-hair py-1">
              <span className="flex-1">{s.name}</span>
              <span className="sign text-lg">{(s.level_kg * 1000).toFixed(1)} g level</span>
              <button
                type="button"
                className="btn btn-small"
                onClick={() => put({ scoops: (saved.scoops ?? []).filter((x) => x !== s) })}
              >
                Remove
              </button>
            </li>
          ))}
        </ul>
        <form
          className="grid grid-cols-[1fr_8rem_auto] items-end gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            put({
              scoops: [
                ...(saved.scoops ?? []),
                { name: scoop.name.trim(), level_kg: grams / 1000 },
              ],
            });
            setScoop({ name: "", grams: "" });
          }}
        >
          <div>
            <Labelled
              label="Cap, cup or spoon"
              className="field"
              value={scoop.name}
              maxLength={40}
              onChange={(e) => setScoop({ ...scoop, name: e.target.value })}
            />
          </div>
          <div>
            <label htmlFor={`${scoopId}-g`} className="block text-sm font-semibold">
              Grams, level
            </label>
            <input
              id={`${scoopId}-g`}
              className="field"
              inputMode="decimal"
              value={scoop.grams}
              onChange={(e) => setScoop({ ...scoop, grams: e.target.value })}
            />
          </div>
          <button
            type="submit"
            className="btn"
            disabled={!scoop.name.trim() || !(grams > 0 && grams <= 2000)}
          >
            Add
          </button>
        </form>
      </section>
      <Doubted />
    </div>
  );
}

/** The log of baths whose solved field was doubted, to be saved and sent to whoever mends it. */
function Doubted() {
  const log = useQuery({
    queryKey: keys.doubted,
    queryFn: () => ask(api.GET("/api/shop/doubted")),
  });
  if (!log.data) return null;
  return (
    <section className="space-y-2" data-doubted>
      <h2 className="text-2xl">{word("doubted.title")}</h2>
      <p className="text-sm">{log.data.count ? word("doubted.why") : word("doubted.none")}</p>
      {log.data.count > 0 && (
        <a className="btn btn-small" href={log.data.file} download>
          Save the {log.data.count} as a file
        </a>
      )}
    </section>
  );
}

function Pick<T extends string>({
  title,
  options,
  value,
  pick,
}: {
  title: string;
  options: readonly (readonly [T, string])[];
  value: T;
  pick: (v: T) => void;
}) {
  return (
    <fieldset>
      <legend className="mb-1 text-2xl font-semibold" style={{ fontFamily: "var(--font-sign)" }}>
        {title}
      </legend>
      <div className="flex flex-wrap gap-2">
        {options.map(([key, name]) => (
          <button
            key={key}
            type="button"
            className="choice min-h-11"
            aria-pressed={value === key}
            data-state={value === key ? "on" : ""}
            onClick={() => pick(key)}
          >
            {name}
          </button>
        ))}
      </div>
    </fieldset>
  );
}
