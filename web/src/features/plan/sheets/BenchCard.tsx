import type { AnswerOut, Plan, Schemas } from "@/shared/api/client";
import { titleOf } from "@/shared/form/context";
import { Drawing } from "@/shared/ui/Drawing";
import { word } from "@/shared/words";

/** One printed page for the bench, from the same rows as the PDF. */
export function BenchCard({ doc, answer }: { doc: Plan; answer: AnswerOut }) {
  const { bench } = answer;
  if (!bench) return null;
  const stops = answer.findings.filter((f) => f.severity === "stop");
  return (
    <section className="print-only space-y-3 text-black" aria-label="Bench card">
      <h1 className="border-b-4 border-black text-3xl">{titleOf(doc) || "Bath"}</h1>
      {stops.map((f) => (
        <p key={f.id + f.evidence} className="border-2 border-black p-1 font-semibold">
          Stop: {f.title}. {f.fix}
        </p>
      ))}
      <Drawing scene={answer.scene} />
      <Rows rows={[...bench.mix, ...bench.wiring]} />
      <h2 className="text-xl">If the amps are not that</h2>
      <Rows rows={bench.others} />
      <h2 className="text-xl">Scrap, from the inside edges of the rim</h2>
      <Table
        head={["No.", "Kind", "From left", "From front", "Foot"]}
        rows={bench.placed.map((p) => [`+${p.number}`, p.kind, p.left, p.front, p.foot])}
      />
      <h2 className="text-xl">{word("setup.before")}</h2>
      <ul className="text-sm">
        {answer.points.map((p) => (
          <li key={p.id}>☐ {p.text}</li>
        ))}
      </ul>
      <h2 className="text-xl">Readings</h2>
      <Table
        head={["Time", "Amps", word("field.entry.tank_v"), "Seen, done"]}
        rows={[...bench.times, "", "", "", "", ""].map((t) => [`${t}\u00a0`, "", "", ""])}
      />
      <p className="text-xs">
        Power off before hands go in. No lid, no spark, fresh air. Local codes and licensed practice
        come first.
      </p>
    </section>
  );
}

function Rows({ rows }: { rows: readonly Schemas["CardRowOut"][] }) {
  return (
    <table className="w-full text-sm">
      <tbody>
        {rows.map((r) => (
          <tr key={r.name} className="border-b border-gray-400">
            <th scope="row" className="w-48 py-0.5 pr-3 text-left">
              {r.name}
            </th>
            <td>{r.text}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Table({ head, rows }: { head: readonly string[]; rows: readonly (readonly string[])[] }) {
  return (
    <table className="w-full border-collapse text-sm">
      <thead>
        <tr>
          {head.map((h) => (
            <th key={h} scope="col" className="border border-black p-1 text-left">
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: rows are known by their place
          <tr key={k}>
            {head.map((h, c) => (
              <td key={h} className="border border-black p-1.5">
                {row[c]}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
