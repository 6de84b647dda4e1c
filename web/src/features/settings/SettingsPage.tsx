import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import {
  api,
  ask,
  type Both,
  type Choices,
  keys,
  Refused,
  type Schemas,
  type ShopSettings,
} from "@/shared/api/client";
import { Labelled } from "@/shared/form/Labelled";
import { useHalf } from "@/shared/form/useHalf";
import { Loading, Trouble } from "@/shared/ui/States";
import { Brought, Clashes, meetsOf } from "@/shared/ui/Together";
import { options, word } from "@/shared/words";

export function SettingsPage() {
  const settings = useQuery({ queryKey: keys.settings, queryFn: () => ask(api.GET("/api/shop")) });
  if (settings.error)
    return <Trouble error={settings.error} again={() => void settings.refetch()} />;
  if (!settings.data) return <Loading what="the shop" />;
  return <Form kept={settings.data} />;
}

interface Change {
  settings: ShopSettings;
  base_revision?: number | undefined;
  choices?: Choices;
  onto?: number;
}

function Form({ kept }: { kept: Schemas["SettingsOut"] }) {
  const { revision, brought: _, ...saved } = kept;
  const queries = useQueryClient();
  const [scoop, setScoop] = useHalf("shop.scoop", { name: "", grams: "" });
  const [brought, setBrought] = useState<Both[]>([]);
  const save = useMutation({
    mutationFn: ({ base_revision = revision, ...next }: Change) =>
      ask(api.PUT("/api/shop", { body: { ...next, base_revision } })),
    onSuccess: (next) => {
      queries.setQueryData(keys.settings, next);
      setBrought(next.brought);
      void queries.invalidateQueries({ queryKey: keys.book });
    },
  });
  const put = (part: Partial<ShopSettings>) => save.mutate({ settings: { ...saved, ...part } });
  const meets = meetsOf(save.error instanceof Refused ? save.error.problem : undefined);
  const wanted = save.variables?.settings ?? saved;
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
      <Brought brought={brought} done={() => setBrought([])} />
      {meets && (
        <Clashes
          key={meets.head}
          meets={meets}
          busy={save.isPending}
          save={(choices, onto) =>
            save.mutate({
              settings: wanted,
              base_revision: save.variables?.base_revision,
              choices,
              onto,
            })
          }
        />
      )}
      {save.error && !meets && <Trouble error={save.error} />}
      <div className="max-w-md">
        <Named
          kept={kept}
          put={(name, from) => {
            const { revision: base_revision, brought: _b, ...then } = from;
            save.mutate({ settings: { ...then, name }, base_revision });
          }}
        />
      </div>
      <Pick
        title={word("field.shop.system")}
        options={options("shop.system")}
        value={saved.system ?? "metric"}
        pick={(v) => put({ system: v as ShopSettings["system"] })}
      />
      <p className="text-sm text-ink-2">
        Any unit can be typed anywhere; this is what a bare number means and what is shown.
      </p>
      <Pick
        title={word("field.shop.theme")}
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

/** The shop's name, changed from what stood there when it was begun to be typed. */
function Named({
  kept,
  put,
}: {
  kept: Schemas["SettingsOut"];
  put: (name: string, from: Schemas["SettingsOut"]) => void;
}) {
  const [typing, setTyping] = useHalf<{ name: string; from: Schemas["SettingsOut"] } | null>(
    "shop.name",
    null,
  );
  return (
    <Labelled
      label={word("field.shop.name")}
      className="field"
      value={typing?.name ?? kept.name}
      maxLength={80}
      onChange={(e) => setTyping({ name: e.target.value, from: typing?.from ?? kept })}
      onBlur={() => {
        if (typing && typing.name !== typing.from.name) put(typing.name, typing.from);
        setTyping(null);
      }}
    />
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
