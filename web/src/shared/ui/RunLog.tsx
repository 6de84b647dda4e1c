import { useInfiniteQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, keys, type RunOut } from "@/shared/api/client";
import { lineWords } from "@/shared/lineWords";
import { clockTime } from "@/shared/time";
import { word } from "@/shared/words";

type Line = RunOut["log"][number];

/** Lines with those that an instrument said one after another behind the newest of them. */
function folded(lines: Line[]): [Line, Line[]][] {
  const out: [Line, Line[]][] = [];
  const off = (l: Line) => l.kind === "reading" && l.detail.method === "line";
  for (const l of lines) {
    const last = out.at(-1);
    if (last && off(l) && off(last[0])) last[1].push(l);
    else out.push([l, []]);
  }
  return out;
}

/** The log, newest first; the newest entry can be struck out. */
export function RunLog({
  run,
  now,
  strike,
}: {
  run: RunOut;
  now: Date;
  strike?: (clientId: string) => void;
}) {
  const [asked, setAsked] = useState(false);
  const last = run.log.at(-1)?.client_id ?? "";
  // asked anew when the newest hundred move on, so that no line falls between
  const older = useInfiniteQuery({
    queryKey: [...keys.run(run.id), "older", last],
    enabled: asked && last !== "",
    initialPageParam: last,
    queryFn: ({ pageParam: before }) =>
      ask(
        api.GET("/api/runs/{run_id}/log", {
          params: { path: { run_id: run.id }, query: { before } },
        }),
      ),
    getNextPageParam: (page) => (page.older ? page.lines.at(-1)?.client_id : undefined),
  });
  if (!run.log.length) return null;
  const over = run.state === "closed" || run.state === "abandoned";
  const lines = [...run.log, ...(older.data?.pages.flatMap((p) => p.lines) ?? [])];
  const more = asked ? older.hasNextPage : run.older;
  return (
    <section className="sheet" aria-label="Log">
      <h2 className="text-xl">Log</h2>
      <ol>
        {folded(lines).map(([l, more], k) => (
          <li
            key={l.client_id}
            className="flex items-baseline gap-3 border-t border-hair py-1 text-sm"
          >
            <span className="sign w-24 shrink-0 text-base text-ink-2">
              {clockTime(new Date(l.at), now)}
            </span>
            <span className="min-w-0 flex-1">
              {lineWords(l, run)}
              {more.length > 0 && (
                <details>
                  <summary className="min-h-11 cursor-pointer py-2 text-ink-2">
                    {word("listen.before", { count: more.length })}
                  </summary>
                  <ol>
                    {more.map((m) => (
                      <li key={m.client_id}>
                        {clockTime(new Date(m.at), now)} {lineWords(m, run)}
                      </li>
                    ))}
                  </ol>
                </details>
              )}
            </span>
            {strike && k === 0 && !over && l.kind !== "checklist" && (
              <button type="button" className="btn btn-small" onClick={() => strike(l.client_id)}>
                Strike out
              </button>
            )}
          </li>
        ))}
      </ol>
      {older.error && <p role="alert">{older.error.message}</p>}
      {more && (
        <button
          type="button"
          className="btn btn-small mt-2"
          disabled={older.isFetching}
          onClick={() => (asked ? void older.fetchNextPage() : setAsked(true))}
        >
          Show older lines
        </button>
      )}
    </section>
  );
}
