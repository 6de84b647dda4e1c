import { useState } from "react";
import type { Detail, RunOut } from "@/shared/api/client";
import { type Pending, putAside, sendChanged, takeOut, tryAgain } from "@/shared/api/outbox";
import { Labelled } from "@/shared/form/Labelled";
import { lineWords } from "@/shared/lineWords";
import { clockTime, localInput } from "@/shared/time";
import { word } from "@/shared/words";

/** What was written down here and is not in the log: why, and what can be done with it. */
export function Kept({ pending, run }: { pending: Pending[]; run: RunOut }) {
  const stuck = pending.filter((p) => p.refused && !p.aside);
  const aside = pending.filter((p) => p.aside);
  return (
    <>
      {stuck.length > 0 && (
        <ul className="space-y-2">
          {stuck.map((p) => (
            <li
              key={p.entry.client_id}
              role="alert"
              className="border-l-4 border-stop bg-sheet p-2"
            >
              <Stuck p={p} run={run} />
            </li>
          ))}
        </ul>
      )}
      {aside.length > 0 && (
        <details className="text-sm">
          <summary className="min-h-11 cursor-pointer py-2">
            {word("outbox.kept", { count: aside.length })}
          </summary>
          <ul className="space-y-2">
            {aside.map((p) => (
              <li key={p.entry.client_id} className="border-t border-hair pt-1">
                <Stuck p={p} run={run} />
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}

/** One of them, in its own words: to be sent again, changed, or to be rid of, first out of sight and
 *  then for good. */
function Stuck({ p, run }: { p: Pending; run: RunOut }) {
  const [changing, setChanging] = useState(false);
  const line = { kind: p.entry.detail.kind, detail: { ...p.entry.detail } };
  const id = p.entry.client_id;
  return (
    <>
      <p className="pb-1 text-sm">
        <strong>{word(p.broke ? "outbox.broke" : "outbox.refused")}</strong>{" "}
        {clockTime(new Date(p.entry.at))}, {lineWords(line, run)}. {p.refused}
      </p>
      {p.unkept && <p className="pb-1 text-sm font-semibold">{word("outbox.no_room")}</p>}
      {changing ? (
        <ChangeIt p={p} run={run} done={() => setChanging(false)} />
      ) : (
        <span className="flex flex-wrap gap-2">
          <button type="button" className="btn min-h-11" onClick={() => setChanging(true)}>
            {word("outbox.change")}
          </button>
          <button type="button" className="btn min-h-11" onClick={() => void tryAgain(id)}>
            {word("outbox.again")}
          </button>
          <button
            type="button"
            className="btn min-h-11"
            onClick={() => (p.aside ? takeOut(id) : putAside(id))}
          >
            {word(p.aside ? "outbox.away" : "outbox.aside")}
          </button>
        </span>
      )}
    </>
  );
}

/** Numbers and texts of an entry that a person types, and shares of a region in per cent. */
const NUMBERS = ["current_a", "tank_v", "supply_v", "before_a", "after_a", "materials", "paid",
  "worth_before", "worth_after"]; // biome-ignore format: a list
const TEXTS = ["bath", "note", "cause", "reason", "text", "stamps", "remarks"];

/** An entry that was not taken, with its time and what was typed in fields once more. */
function ChangeIt({ p, run, done }: { p: Pending; run: RunOut; done: () => void }) {
  const detail = p.entry.detail as Record<string, unknown>;
  const [at, setAt] = useState(localInput(new Date(p.entry.at)));
  const shares = (detail.shares ?? {}) as Record<string, number>;
  const fields = [...NUMBERS, ...TEXTS].filter((name) => name in detail);
  const [typed, setTyped] = useState<Record<string, string>>(() => ({
    ...Object.fromEntries(fields.map((name) => [name, `${detail[name] ?? ""}`])),
    ...Object.fromEntries(
      Object.entries(shares).map(([id, s]) => [`shares ${id}`, `${Math.round(s * 100)}`]),
    ),
  }));
  const number = (name: string) => Number((typed[name] ?? "").trim().replace(",", "."));
  const bad = Object.keys(typed).filter(
    (name) => !TEXTS.includes(name) && !Number.isFinite(number(name)),
  );
  const send = () => {
    const value = (name: string) =>
      TEXTS.includes(name) ? typed[name] : typed[name]?.trim() ? number(name) : null;
    const made: Record<string, unknown> = { ...detail };
    for (const name of fields) made[name] = value(name);
    if (Object.keys(shares).length)
      made.shares = Object.fromEntries(
        Object.keys(shares).map((id) => [id, number(`shares ${id}`) / 100]),
      );
    // an untouched minute keeps its seconds
    const same = at === localInput(new Date(p.entry.at));
    const when = same ? new Date(p.entry.at) : new Date(at);
    void sendChanged(p.entry.client_id, when, made as unknown as Detail);
    done();
  };
  return (
    <form
      className="space-y-2"
      data-change-entry
      onSubmit={(e) => {
        e.preventDefault();
        send();
      }}
    >
      <Labelled
        label={word("field.entry.at")}
        className="field min-h-12"
        type="datetime-local"
        value={at}
        onChange={(e) => setAt(e.target.value)}
      />
      {Object.keys(typed).map((name) => (
        <div key={name}>
          <Labelled
            label={labelOf(name, run)}
            className="field min-h-12"
            inputMode={TEXTS.includes(name) ? "text" : "decimal"}
            value={typed[name]}
            aria-invalid={bad.includes(name) || undefined}
            onChange={(e) => setTyped({ ...typed, [name]: e.target.value })}
          />
        </div>
      ))}
      <span className="flex flex-wrap gap-2">
        <button type="submit" className="btn btn-main min-h-11" disabled={bad.length > 0 || !at}>
          {word("outbox.changed")}
        </button>
        <button type="button" className="btn min-h-11" onClick={done}>
          {word("outbox.leave")}
        </button>
      </span>
    </form>
  );
}

function labelOf(name: string, run: RunOut): string {
  const [, id] = name.split(" ");
  if (!id) return word(`field.entry.${name}`);
  const region = run.regions.find((r) => r.id === id)?.name ?? id;
  return word("outbox.clean", { region });
}
