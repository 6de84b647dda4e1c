import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, keys, type RunOut, type Schemas } from "@/shared/api/client";
import { Tick } from "@/shared/form/Tick";
import { localInput } from "@/shared/time";
import { choices, word } from "@/shared/words";

type Role = "time" | "amps" | "volts" | "bath";
type Picked = Partial<Record<Role, number>>;

/** A meter's own file: which column is what, seen on its first rows, then brought. */
export function MeterFile({ run }: { run: RunOut }) {
  const queries = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const [picked, setPicked] = useState<Picked>({});
  const [start, setStart] = useState(localInput(new Date(run.powered_since ?? run.now)));
  const [monthFirst, setMonthFirst] = useState(false);
  const look = useMutation({
    mutationFn: (f: File) =>
      ask(
        api.POST("/api/meter-file", {
          body: f as unknown as string,
          bodySerializer: (b) => b as unknown as Blob,
          headers: { "Content-Type": "application/octet-stream" },
        }),
      ),
    onSuccess: (seen) =>
      setPicked(
        Object.fromEntries(seen.columns.filter((c) => c.guess).map((c) => [c.guess, c.number])),
      ),
  });
  const bring = useMutation({
    mutationFn: (f: File) =>
      ask(
        api.POST("/api/runs/{run_id}/samples/file", {
          params: {
            path: { run_id: run.id },
            query: {
              ...(picked as Picked & { time: number }),
              zone_min: -new Date(start).getTimezoneOffset(),
              month_first: monthFirst,
              ...(look.data?.elapsed && { start: new Date(start).toISOString() }),
            },
          },
          body: f as unknown as string,
          bodySerializer: (b) => b as unknown as Blob,
          headers: { "Content-Type": "application/octet-stream" },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.link(run.id) }),
  });
  const slashed = look.data?.columns.some(
    (c) => c.number === picked.time && c.cells.some((cell) => cell.includes("/")),
  );
  return (
    <div className="space-y-2" data-meter-file>
      <label className="block font-semibold">
        {word("listen.file")}
        <input
          type="file"
          accept=".csv,.txt,.tsv,text/csv,text/plain"
          className="mt-1 block min-h-11 w-full text-sm file:mr-3 file:min-h-11 file:cursor-pointer file:border-2 file:border-line file:bg-sheet file:px-3 file:font-semibold"
          onChange={(e) => {
            const [chosen] = e.target.files ?? [];
            bring.reset();
            setFile(chosen ?? null);
            if (chosen) look.mutate(chosen);
          }}
        />
      </label>
      {look.error && (
        <p role="alert" className="font-semibold text-stop">
          {look.error.message}
        </p>
      )}
      {look.data && file && (
        <>
          <Columns seen={look.data} picked={picked} pick={setPicked} />
          {look.data.elapsed && (
            <label className="block font-semibold">
              {word("listen.file_start")}
              <input
                type="datetime-local"
                className="field"
                value={start}
                onChange={(e) => setStart(e.target.value)}
              />
            </label>
          )}
          {slashed && (
            <Tick label={word("listen.month_first")} on={monthFirst} set={setMonthFirst} />
          )}
          <button
            type="button"
            className="btn"
            disabled={picked.time === undefined || bring.isPending}
            onClick={() => bring.mutate(file)}
          >
            Bring {look.data.rows} rows
          </button>
          {picked.time === undefined && <p>{word("listen.file_time")}</p>}
        </>
      )}
      {bring.error && (
        <p role="alert" className="font-semibold text-stop">
          {bring.error.message}
        </p>
      )}
      {bring.data && <Brought made={bring.data} />}
    </div>
  );
}

function Columns({
  seen,
  picked,
  pick,
}: {
  seen: Schemas["FileOut"];
  picked: Picked;
  pick: (picked: Picked) => void;
}) {
  const roles = choices<Role>("listen.column");
  const roleOf = (n: number) => roles.find(([role]) => picked[role] === n)?.[0] ?? "";
  const set = (n: number, role: string) => {
    const kept = Object.entries(picked).filter(([r, c]) => c !== n && r !== role);
    pick(Object.fromEntries(role ? [...kept, [role, n]] : kept));
  };
  return (
    <div className="overflow-x-auto">
      <table className="text-xs">
        <thead>
          <tr>
            {seen.columns.map((c) => (
              <th key={c.number} className="p-1 text-left align-bottom">
                <span className="block">{c.heading || `Column ${c.number + 1}`}</span>
                <select
                  className="field min-h-11"
                  aria-label={`What is ${c.heading || `column ${c.number + 1}`}?`}
                  value={roleOf(c.number)}
                  onChange={(e) => set(c.number, e.target.value)}
                >
                  <option value="">not used</option>
                  {roles.map(([role, name]) => (
                    <option key={role} value={role}>
                      {name}
                    </option>
                  ))}
                </select>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {[0, 1, 2].map((k) => (
            <tr key={k}>
              {seen.columns.map((c) => (
                <td key={c.number} className="figures border-t border-hair p-1">
                  {c.cells[k]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Brought({ made }: { made: Schemas["BroughtOut"] }) {
  const { taken } = made;
  return (
    <div role="status" className="space-y-1">
      <p className="font-semibold">
        {taken.taken} kept
        {taken.known > 0 && `, ${taken.known} were there already`}
        {taken.clashed > 0 && `, ${taken.clashed} met another at their time, which stays`}
        {made.unread > 0 &&
          `, ${made.unread} rows could not be read, the first: ${made.first_unread}`}
        .
      </p>
      {taken.apart.map((a) => (
        <p key={a.why}>
          {a.count} stand apart: {a.what}. {a.mend}
        </p>
      ))}
    </div>
  );
}
