import type { RunOut } from "@/shared/api/client";
import { type Pending, putAside, takeOut, tryAgain } from "@/shared/api/outbox";
import { clockTime } from "@/shared/time";
import { word } from "@/shared/words";
import { lineWords } from "./words";

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

/** One of them, in its own words, to be sent again or to be rid of: first out of sight, then for good. */
function Stuck({ p, run }: { p: Pending; run: RunOut }) {
  const line = { ...p.entry, kind: p.entry.detail.kind, detail: { ...p.entry.detail } };
  const id = p.entry.client_id;
  return (
    <>
      <p className="pb-1 text-sm">
        <strong>{word(p.broke ? "outbox.broke" : "outbox.refused")}</strong>{" "}
        {clockTime(new Date(p.entry.at))}, {lineWords(line, run)}. {p.refused}
      </p>
      <span className="flex flex-wrap gap-2">
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
    </>
  );
}
