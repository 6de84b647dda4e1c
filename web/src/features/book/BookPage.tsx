import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { api, ask, keys, type PageOut } from "@/shared/api/client";
import { dateOf } from "@/shared/time";
import { Empty, Loading, Trouble } from "@/shared/ui/States";
import { capital, said } from "@/shared/words";

export function BookPage() {
  const book = useQuery({ queryKey: keys.book, queryFn: () => ask(api.GET("/api/book")) });
  if (book.error) return <Trouble error={book.error} again={() => void book.refetch()} />;
  if (!book.data) return <Loading what="the book" />;
  return (
    <div className="mx-auto max-w-4xl space-y-4 p-3 sm:p-5">
      <h1 className="text-3xl">Book</h1>
      {book.data.length === 0 ? (
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
            </tr>
          </thead>
          <tbody>
            {book.data.map((p) => (
              <tr key={p.run_id} className="border-b border-hair align-baseline">
                <th scope="row" className="py-2 pr-3 text-left">
                  <Link
                    to={`/book/${p.run_id}`}
                    className="sign text-xl underline decoration-2 underline-offset-4"
                  >
                    {p.entry.piece}
                  </Link>
                  <span className="block text-xs font-normal text-ink-2">
                    {dateOf(new Date(p.closed_at))}
                  </span>
                </th>
                <td className="hidden py-2 pr-3 text-sm sm:table-cell">
                  {said("piece.grade", p.entry.grade)}, {said("piece.aim", p.entry.aim)}
                </td>
                <td className="sign py-2 pr-3 text-right text-lg">{p.took}</td>
                <td className="sign py-2 text-right text-lg">{p.hands}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

export function BookEntryPage() {
  const { runId = "" } = useParams();
  const page = useQuery({
    queryKey: keys.page(runId),
    queryFn: () => ask(api.GET("/api/book/{run_id}", { params: { path: { run_id: runId } } })),
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
          {e.looks === 1 ? "look" : "looks"}, {e.stretches} stretches under power
          {e.stops_found_later > 0 && `, ${e.stops_found_later} silent stop found later`}.
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

function Item({ name, value }: { name: string; value: string }) {
  return (
    <div className="border-t border-hair pt-1">
      <dt className="text-sm text-ink-2">{name}</dt>
      <dd>{value}</dd>
    </div>
  );
}
