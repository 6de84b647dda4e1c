import type { AnswerOut, Plan } from "@/shared/api/client";
import { titleOf } from "@/shared/form/context";
import { Drawing } from "@/shared/ui/Drawing";
import { windowText } from "@/shared/ui/Num";
import { word } from "@/shared/words";

/** One printed page for the bench: the mix, the placing, the check list, a table for readings. */
export function BenchCard({ doc, answer }: { doc: Plan; answer: AnswerOut }) {
  const f = answer.figures;
  const line = (key: string) => (f[key] ? `${f[key].text} ${f[key].unit}` : "");
  const clean = f["time.clean"];
  return (
    <section className="print-only space-y-3 text-black" aria-label="Bench card">
      <h1 className="border-b-4 border-black text-3xl">{titleOf(doc) || "Bath"}</h1>
      <Drawing scene={answer.scene} />
      <table className="w-full text-sm">
        <tbody>
          <Line name="Water" value={line("tank.water")} />
          <Line
            name={word("line.name.put_in")}
            value={`${line("mix.product")}, or ${f["mix.spoons"]?.text} level tablespoons`}
          />
          <Line name="Level with everything in" value={line("tank.level")} />
          <Line
            name="Rods"
            value={`${answer.scene.rods.length}, ${answer.scene.wall_text} from the wall to the centre; ${answer.scene.gap_text} clear of the piece`}
          />
          <Line
            name="Expect"
            value={
              f["amps.gives"]
                ? `${windowText(f["amps.gives"])}, supply rated ${answer.rated_a} A`
                : ""
            }
          />
          <Line name="Clean after, under power" value={clean ? windowText(clean) : ""} />
        </tbody>
      </table>
      <h2 className="text-xl">Before switching on</h2>
      <ul className="text-sm">
        {answer.points.map((p) => (
          <li key={p.id}>☐ {p.text}</li>
        ))}
      </ul>
      <h2 className="text-xl">Readings</h2>
      <table className="w-full border-collapse text-sm">
        <thead>
          <tr>
            {["Time", "Amps", "Volts at the tank", "Seen, done"].map((h) => (
              <th key={h} scope="col" className="border border-black p-1 text-left">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {["10 s", "35 min", "", "", "", "", ""].map((t, k) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: empty rows to write in
            <tr key={k}>
              <td className="w-24 border border-black p-1.5">{t}&nbsp;</td>
              <td className="border border-black" />
              <td className="border border-black" />
              <td className="w-1/2 border border-black" />
            </tr>
          ))}
        </tbody>
      </table>
      <p className="text-xs">
        Power off before hands go in. No lid, no spark, fresh air. Local codes and licensed practice
        come first.
      </p>
    </section>
  );
}

function Line({ name, value }: { name: string; value: string }) {
  return (
    <tr className="border-b border-gray-400">
      <th scope="row" className="py-0.5 pr-3 text-left">
        {name}
      </th>
      <td>{value}</td>
    </tr>
  );
}
