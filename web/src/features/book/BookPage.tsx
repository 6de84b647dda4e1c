import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Archive, ArchiveRestore } from "lucide-react";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { api, ask, keys, type PageOut, type Schemas, sent } from "@/shared/api/client";
import { once } from "@/shared/api/once";
import { usePaged } from "@/shared/api/paged";
import { Tick } from "@/shared/form/Tick";
import { pageOf } from "@/shared/pages";
import { dateOf } from "@/shared/time";
import { More, Undone, useFind } from "@/shared/ui/Long";
import { RunLog } from "@/shared/ui/RunLog";
import { Empty, Loading, Trouble } from "@/shared/ui/States";
import { capital, said, word } from "@/shared/words";

export function BookPage() {
  const [archived, setArchived] = useState(false);
  const { find, field } = useFind(word("field.book.find"));
  const queries = useQueryClient();
  const [gone, setGone] = useState<{ id: string; piece: string } | null>(null);
  const { rows, count, more, error, list } = usePaged(
    [...keys.book, "list", find, archived],
    (after) => ask(api.GET("/api/book", { params: { query: { find, after, archived } } })),
  );
  const move = useMutation({
    mutationFn: ({ id, away }: { id: string; piece: string; away: boolean }) => {
      const params = { params: { path: { run_id: id } } };
      return sent(
        away
          ? api.PUT("/api/runs/{run_id}/archived", params)
          : api.DELETE("/api/runs/{run_id}/archived", params),
      );
    },
    onSuccess: (_, { id, piece, away }) => {
      setGone(away ? { id, piece } : null);
      void queries.invalidateQueries({ queryKey: keys.book });
    },
  });
  if (error) return <Trouble error={error} again={() => void list.refetch()} />;
  if (!rows) return <Loading what="the book" />;
  const empty = rows.length === 0 && !find && !archived && !gone;
  return (
    <div className="mx-auto max-w-4xl space-y-4 p-3 sm:p-5">
      <h1 className="text-3xl">Book</h1>
      {gone && (
        <Undone
          name={gone.piece || "The run"}
          back={() => move.mutate({ ...gone, away: false })}
          error={move.error}
        />
      )}
      {empty ? (
        <Empty title="Nothing finished yet">
          <p>
            When a run is closed, it lands here: what was planned against what happened, and how
            much charge the piece really took. That is what the next plan of its kind can lean on.
          </p>
          <Link to="/plans/new" className="btn btn-main">
            Start a plan
          </Link>
        </Empty>
      ) : (
        <>
          <div className="flex flex-wrap items-end gap-4">
            {field(count)}
            <Tick label={word("list.shelf")} on={archived} set={setArchived} />
          </div>
          <table className="w-full border-collapse">
            <thead>
              <tr className="border-b-2 border-line text-left text-sm">
                <th scope="col" className="py-1 pr-3">
                  Piece
                </th>
                <th scope="col" className="hidden py-1 pr-3 sm:table-cell">
                  Rust and aim
                </th>
                <th scope="col" className="py-1 pr-3 text-right">
                  Cleaning it took
                </th>
                <th scope="col" className="py-1 text-right">
                  Hands
                </th>
                <th scope="col" className="sr-only">
                  {word("list.archive")}
                </th>
              </tr>
            </thead>
            <tbody>
              {rows.map((r) => (
                <Over
                  key={r.run_id + r.alone}
                  row={r}
                  archived={archived}
                  move={(away) => move.mutate({ id: r.run_id, piece: r.piece, away })}
                />
              ))}
            </tbody>
          </table>
          {rows.length === 0 && <p className="text-ink-2">{word("list.none")}</p>}
          <More shown={rows.length} count={count} more={more} />
        </>
      )}
    </div>
  );
}

/** A run that is over: into its page of the book, or, given up, to the run itself. */
const times = (n: number) => (n === 1 ? "once" : n === 2 ? "twice" : `${n} times`);

function Over({
  row,
  archived,
  move,
}: {
  row: Schemas["OverOut"];
  archived: boolean;
  move: (away: boolean) => void;
}) {
  const closed = row.state === "closed" || row.alone !== "";
  const over = ["closed", "abandoned"].includes(row.state);
  const what = word(archived ? "list.back" : "list.archive");
  return (
    <tr className="border-b border-hair align-baseline">
      <th scope="row" className="py-2 pr-3 text-left">
        <Link
          to={closed ? pageOf(row.run_id, row.alone) : `/runs/${row.run_id}`}
          className="sign text-xl underline decoration-2 underline-offset-4"
        >
          {row.piece || "A piece"}
        </Link>
        <span className="block text-xs font-normal text-ink-2">
          {dateOf(new Date(row.over_at))}
          {!closed && `, ${word(`run.state.${row.state}`)}`}
          {!over && `, ${word("book.goes_on")}`}
        </span>
      </th>
      <td className="hidden py-2 pr-3 text-sm sm:table-cell">
        {closed && `${said("piece.grade", row.grade)}, ${said("piece.aim", row.aim)}`}
      </td>
      <td className="sign py-2 pr-3 text-right text-lg">{row.took}</td>
      <td className="sign py-2 text-right text-lg">{row.hands}</td>
      <td className="py-1 text-right">
        {over && (
          <button
            type="button"
            className="btn btn-bare min-h-11 min-w-11"
            aria-label={`${what}: ${row.piece}`}
            title={what}
            onClick={() => move(!archived)}
          >
            {archived ? (
              <ArchiveRestore size={18} aria-hidden="true" />
            ) : (
              <Archive size={18} aria-hidden="true" />
            )}
          </button>
        )}
      </td>
    </tr>
  );
}

/** The same bath once more: a run on the same revision of the plan. */
function Again({ planId, revision }: { planId: string; revision: number }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const start = useMutation({
    mutationFn: () => {
      const body = { plan_id: planId, revision };
      return once("run", body, (headers) => ask(api.POST("/api/runs", { body, headers })));
    },
    onSuccess: (run) => {
      void queries.invalidateQueries({ queryKey: keys.rack });
      navigate(`/runs/${run.id}`);
    },
  });
  return (
    <div className="no-print space-y-2">
      <button
        type="button"
        className="btn"
        disabled={start.isPending}
        onClick={() => start.mutate()}
      >
        {start.isPending ? "One moment …" : word("book.again")}
      </button>
      <p className="text-sm text-ink-2">{word("book.again_why")}</p>
      {start.error && <Trouble error={start.error} />}
    </div>
  );
}

export function BookEntryPage() {
  const { runId = "" } = useParams();
  const piece = useSearchParams()[0].get("piece") ?? "";
  const page = useQuery({
    queryKey: keys.page(`${runId}.${piece}`),
    queryFn: () =>
      ask(api.GET("/api/book/{run_id}", { params: { path: { run_id: runId }, query: { piece } } })),
  });
  if (page.error) return <Trouble error={page.error} again={() => void page.refetch()} />;
  if (!page.data) return <Loading what="the entry" />;
  return <EntryPage page={page.data} />;
}

function EntryPage({ page }: { page: PageOut }) {
  const e = page.entry;
  return (
    <article className="mx-auto max-w-4xl space-y-5 p-3 sm:p-5">
      <header className="border-b-4 border-liquid pb-2">
        <p className="text-sm text-ink-2">
          <Link to="/book" className="underline">
            Book
          </Link>
          , {dateOf(new Date(page.closed_at))}
        </p>
        <h1 className="text-3xl">{e.piece}</h1>
        <p>
          {capital(said("piece.grade", e.grade))}, {said("piece.aim", e.aim)}. It took{" "}
          <strong className="sign text-2xl">{page.took}</strong> of cleaning; {e.looks}{" "}
          {e.looks === 1 ? "look" : "looks"}, switched on {times(e.stretches)}
          {e.stops_found_later > 0 && `; found off ${times(e.stops_found_later)}`}.
        </p>
      </header>
      <table className="w-full border-collapse">
        <caption className="sign text-left text-2xl">Planned against happened</caption>
        <thead>
          <tr className="border-b-2 border-line text-left text-sm">
            <th scope="col" className="py-1">
              What
            </th>
            <th scope="col" className="py-1 text-right">
              Planned
            </th>
            <th scope="col" className="py-1 text-right">
              Happened
            </th>
          </tr>
        </thead>
        <tbody>
          {page.pairs.map((p) => (
            <tr key={p.name} className="border-b border-hair">
              <th scope="row" className="py-1.5 text-left font-normal">
                {p.name}
              </th>
              <td className="sign py-1.5 text-right text-lg">{p.planned || "not planned"}</td>
              <td className="sign py-1.5 text-right text-lg">{p.happened || "not noted"}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <dl className="grid gap-x-8 gap-y-2 sm:grid-cols-2">
        <Item name="Minutes of hands" value={page.hands} />
        <Item name="Current cost" value={e.energy_cost.toFixed(2)} />
        <Item name="Materials" value={e.materials.toFixed(2)} />
        <Item
          name="Paid, worth before, worth now"
          value={[e.paid, e.worth_before, e.worth_after].map((v) => v ?? "not said").join(", ")}
        />
        <Item name="Stamps and marks" value={e.stamps || "none noted"} />
        <Item
          name="Done on the way"
          value={e.changes.map((c) => c.replaceAll("_", " ")).join(", ") || "nothing"}
        />
        <Item
          name="Finish"
          value={e.finish.map((s) => s.replaceAll("_", " ")).join(", ") || "none"}
        />
        <Item name="Photographs" value={e.photos.join(", ") || "none taken"} />
      </dl>
      {e.remarks && <p className="border-l-4 border-line bg-sheet p-3">{e.remarks}</p>}
      <Again planId={e.plan_id} revision={e.revision} />
      <WholeLog runId={page.run_id} />
      <p className="flex flex-wrap gap-4 text-sm">
        <Link className="underline" to={`/runs/${page.run_id}`}>
          The run and its log
        </Link>
        <Link className="underline" to={`/plans/${e.plan_id}`}>
          Its plan (revision {e.revision})
        </Link>
      </p>
    </article>
  );
}

/** Every entry of its run with its words, the newest first. */
function WholeLog({ runId }: { runId: string }) {
  const run = useQuery({
    queryKey: keys.run(runId),
    queryFn: () => ask(api.GET("/api/runs/{run_id}", { params: { path: { run_id: runId } } })),
  });
  if (run.error) return <Trouble error={run.error} again={() => void run.refetch()} />;
  return run.data ? <RunLog run={run.data} now={new Date(run.data.now)} /> : null;
}

function Item({ name, value }: { name: string; value: string }) {
  return (
    <div className="border-t border-hair pt-1">
      <dt className="text-sm text-ink-2">{name}</dt>
      <dd>{value}</dd>
    </div>
  );
}
