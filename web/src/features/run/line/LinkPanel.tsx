import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { api, ask, keys, type RunOut } from "@/shared/api/client";
import { Labelled } from "@/shared/form/Labelled";
import { Tick } from "@/shared/form/Tick";
import { word } from "@/shared/words";
import { MeterFile } from "./MeterFile";
import type { LinkDocument, LinkOut } from "./useLive";

const LOCKS = {
  touch: true,
  danger: true,
  over_amps_a: null as number | null,
  over_warm_c: null as number | null,
  over_warm: "",
  dose: false,
};
const EMPTY: LinkDocument = {
  address: "",
  agreed: false,
  probe: false,
  dialect: null,
  interlocks: LOCKS,
  watchdog_s: null,
};

/** What hangs on the line, and what may switch the bath off by itself. */
export function LinkPanel({
  run,
  link,
  done,
}: {
  run: RunOut;
  link: LinkOut | null;
  done: () => void;
}) {
  const queries = useQueryClient();
  const where = { params: { path: { run_id: run.id } } };
  const [d, setD] = useState<LinkDocument>(link?.document ?? EMPTY);
  const locks = { ...LOCKS, ...d.interlocks };
  const put = (change: Partial<LinkDocument>) => setD({ ...d, ...change });
  const lock = (change: Partial<typeof locks>) => put({ interlocks: { ...locks, ...change } });
  const renew = () => queries.invalidateQueries({ queryKey: keys.link(run.id) });
  const test = useMutation({
    mutationFn: () => ask(api.POST("/api/instruments/identify", { body: d })),
    onSuccess: (found) => put({ dialect: found.dialect }),
  });
  const save = useMutation({
    mutationFn: () => ask(api.PUT("/api/runs/{run_id}/link", { ...where, body: d })),
    onSuccess: async () => {
      await renew();
      done();
    },
  });
  const drop = useMutation({
    mutationFn: () => ask(api.DELETE("/api/runs/{run_id}/link", where)),
    onSuccess: async (gone) => {
      await renew();
      if (!gone.dog_off) done();
    },
  });
  const token = useMutation({
    mutationFn: () => ask(api.POST("/api/runs/{run_id}/link/token", where)),
    onSuccess: renew,
  });
  const trouble = save.error ?? drop.error ?? token.error;
  return (
    <div className="space-y-3 border-t-2 border-line pt-3" data-link-panel>
      <div className="space-y-2">
        <Labelled
          label={word("field.listen.address")}
          value={d.address ?? ""}
          placeholder="192.168.1.20:5025"
          maxLength={120}
          onChange={(e) => put({ address: e.target.value.trim() })}
        />
        <p className="text-sm text-ink-2">{word("hint.listen.address")}</p>
        <Tick
          label={word("field.listen.probe")}
          on={d.probe ?? false}
          set={(probe) => put({ probe })}
        />
        {beyond(d.address ?? "") && (
          <Tick
            label={word("field.listen.agreed")}
            on={d.agreed ?? false}
            set={(agreed) => put({ agreed })}
          />
        )}
        <div className="flex flex-wrap items-center gap-3">
          <button
            type="button"
            className="btn btn-small"
            disabled={!d.address || test.isPending}
            onClick={() => test.mutate()}
          >
            {test.isPending ? "Asking …" : "Ask who is there"}
          </button>
          {test.data && (
            <p role="status" className="text-sm font-semibold">
              {[test.data.identity.maker, test.data.identity.model].join(" ").trim() || "It"}{" "}
              answers.
            </p>
          )}
          {test.error && (
            <p role="alert" className="text-sm font-semibold text-stop">
              {test.error.message}
            </p>
          )}
        </div>
        <Spoken
          dialect={d.dialect ?? null}
          says={test.data?.says ?? link?.says ?? []}
          set={(dialect) => put({ dialect })}
        />
      </div>
      <fieldset className="space-y-1">
        <legend className="sign text-lg">{word("listen.interlocks")}</legend>
        <p className="text-sm text-ink-2">{word("listen.only_hands")}</p>
        <Tick
          label={word("choice.run.interlock.touch")}
          on={locks.touch ?? true}
          set={(touch) => lock({ touch })}
        />
        <Tick
          label={word("choice.run.interlock.danger")}
          on={locks.danger ?? true}
          set={(danger) => lock({ danger })}
        />
        <TickNumber
          label={word("choice.run.interlock.over_amps")}
          unit="A"
          value={locks.over_amps_a ?? null}
          usual={Math.round(run.planned.gives.value_si * 15) / 10}
          set={(over_amps_a) => lock({ over_amps_a })}
        />
        <TickText
          label={word("choice.run.interlock.over_warm")}
          unit={run.temperature_unit}
          value={locks.over_warm || (locks.over_warm_c === null ? "" : `${locks.over_warm_c} °C`)}
          usual={run.temperature_unit === "°F" ? "113 °F" : "45 °C"}
          set={(over_warm) => lock({ over_warm, over_warm_c: null })}
        />
        <Tick
          label={word("choice.run.interlock.dose")}
          on={locks.dose ?? false}
          set={(dose) => lock({ dose })}
        />
        <TickNumber
          label={word("field.listen.watchdog_s")}
          unit="s"
          value={d.watchdog_s ?? null}
          usual={60}
          set={(watchdog_s) => put({ watchdog_s })}
        />
        <p className="text-sm text-ink-2">
          {word(
            link?.dog_s ? "listen.dog_set" : d.watchdog_s ? "listen.dog_asked" : "listen.dog_none",
            {
              s: link?.dog_s ?? d.watchdog_s ?? 0,
            },
          )}
        </p>
      </fieldset>
      {trouble && (
        <p role="alert" className="font-semibold text-stop">
          {trouble.message}
        </p>
      )}
      <div className="grid grid-cols-2 gap-2">
        <button
          type="button"
          className="btn btn-main"
          disabled={save.isPending}
          onClick={() => save.mutate()}
        >
          {link ? "Keep it so" : "Listen to it"}
        </button>
        <button type="button" className="btn" onClick={done}>
          Back
        </button>
      </div>
      <details className="text-sm">
        <summary className="min-h-11 cursor-pointer py-2 font-semibold">
          {word("listen.other_ways")}
        </summary>
        <div className="space-y-3">
          <div>
            <p>{word("listen.logger")}</p>
            <button
              type="button"
              className="btn btn-small my-1"
              disabled={token.isPending}
              onClick={() => token.mutate()}
            >
              Make a token
            </button>
            {token.data && (
              <pre className="overflow-x-auto border border-hair p-2 text-xs" data-token>
                {`POST ${window.location.origin}/api/runs/${run.id}/samples
Authorization: Bearer ${token.data.token}
Content-Type: text/csv

2026-03-01T09:30:00Z,2.41,11.9,19.5`}
              </pre>
            )}
            {token.data && <p className="mt-1">{word("listen.logger_line")}</p>}
          </div>
          <MeterFile run={run} />
        </div>
      </details>
      {link && (
        <button
          type="button"
          className="btn btn-bare text-sm underline"
          onClick={() => drop.mutate()}
        >
          Listen no longer; nothing at the supply changes
        </button>
      )}
      {drop.data?.dog_off && (
        <p role="status" className="font-semibold">
          {word("listen.dog_off")}
        </p>
      )}
    </div>
  );
}

type Dialect = NonNullable<LinkDocument["dialect"]>;
const WORDS = ["volts", "amps", "output", "limit", "off"] as const;

/** How the supply is spoken to, as it was found; its words may be changed by hand. */
function Spoken({
  dialect,
  says,
  set,
}: {
  dialect: Dialect | null;
  says: readonly string[];
  set: (dialect: Dialect | null) => void;
}) {
  if (!dialect) return null;
  return (
    <div className="text-sm" data-dialect>
      {says.length > 0 && (
        <ul className="list-disc pl-5">
          {says.map((s) => (
            <li key={s}>{s}</li>
          ))}
        </ul>
      )}
      <details>
        <summary className="min-h-11 cursor-pointer py-2 font-semibold">
          {word("dialect.title")}
        </summary>
        <div className="grid grid-cols-2 gap-2">
          {WORDS.map((name) => (
            <Labelled
              key={name}
              label={word(`field.dialect.${name}`)}
              className="field"
              maxLength={60}
              value={dialect[name] ?? ""}
              onChange={(e) => set({ ...dialect, [name]: e.target.value })}
            />
          ))}
        </div>
        <button type="button" className="btn btn-small mt-2" onClick={() => set(null)}>
          {word("dialect.again")}
        </button>
      </details>
    </div>
  );
}

/** Whether an address looks as if it were another machine; the server is who decides. */
function beyond(address: string): boolean {
  return /:\d+$/.test(address) && !/^(tcp:\/\/)?(127\.|localhost:)/.test(address);
}

/** A limit that is chosen or not, as it is typed; what was typed stays while it cannot be read. */
function Ticked({
  label,
  unit,
  on,
  first,
  bad,
  put,
}: {
  label: string;
  unit?: string;
  on: boolean;
  first: string;
  bad?: (text: string) => boolean;
  put: (text: string | null) => void;
}) {
  const id = useId();
  const [text, setText] = useState(first);
  return (
    <div className="flex flex-wrap items-center gap-x-3">
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          className="size-6 shrink-0 accent-[var(--ink)]"
          checked={on}
          onChange={(e) => put(e.target.checked ? text : null)}
        />
        <span id={id}>{label}</span>
      </label>
      <span className="flex items-center gap-1">
        <input
          className="field !w-24"
          inputMode={unit ? "decimal" : undefined}
          aria-labelledby={id}
          disabled={!on}
          aria-invalid={(on && bad?.(text)) || undefined}
          value={text}
          onChange={(e) => {
            setText(e.target.value);
            if (e.target.value.trim() && !bad?.(e.target.value)) put(e.target.value);
          }}
        />
        {unit}
      </span>
    </div>
  );
}

/** In any unit; the server reads it. Empty where it is not chosen. */
function TickText(props: {
  label: string;
  unit: string;
  value: string;
  usual: string;
  set: (text: string) => void;
}) {
  const { label, unit, value, usual, set } = props;
  const written = (typed: string) => (/[CcFf]\s*$/.test(typed) ? typed : `${typed} ${unit}`);
  return (
    <Ticked
      label={label}
      on={value !== ""}
      first={value || usual}
      put={(text) => set(text === null ? "" : written(text))}
    />
  );
}

const numberOf = (text: string) => Number(text.replace(",", "."));

/** A number over nought; null where it is not chosen. */
function TickNumber(props: {
  label: string;
  unit: string;
  value: number | null;
  usual: number;
  set: (value: number | null) => void;
}) {
  const { label, unit, value, usual, set } = props;
  const bad = (text: string) => !(numberOf(text) > 0 && Number.isFinite(numberOf(text)));
  return (
    <Ticked
      label={label}
      unit={unit}
      on={value !== null}
      first={String(value ?? usual)}
      bad={bad}
      put={(text) => set(text === null ? null : bad(text) ? usual : numberOf(text))}
    />
  );
}
