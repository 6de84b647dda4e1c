import { useQuery } from "@tanstack/react-query";
import { Columns2 } from "lucide-react";
import { type AnswerOut, api, ask, type Plan, type ReadOut } from "@/shared/api/client";
import { Drawing } from "@/shared/ui/Drawing";
import { windowText } from "@/shared/ui/Num";
import { Trouble } from "@/shared/ui/States";

const ROWS = [
  "amps.gives",
  "power.load",
  "density.mean",
  "density.p5",
  "density.p95",
  "time.clean",
  "scrap.gap",
  "mix.product",
] as const;

interface Two {
  aside: Plan;
  doc: Plan;
}

function useBoth({ aside, doc }: Two) {
  return useQuery({
    queryKey: ["compare", JSON.stringify(aside), JSON.stringify(doc)],
    queryFn: () =>
      ask(api.POST("/api/plans/compare", { body: { one: { ...aside }, other: { ...doc } } })),
    placeholderData: (last) => last,
  });
}

const BRIEF = ["amps.gives", "time.clean"] as const;

/** Over the stage while there are two: which is which, what both come to, and which is kept. */
export function VariantStrip({
  aside,
  doc,
  keepThis,
  goBack,
}: Two & { keepThis: () => void; goBack: () => void }) {
  const found = useBoth({ aside, doc }).data;
  const told = (read: ReadOut) =>
    BRIEF.flatMap((key) => {
      const f = read.answer?.figures[key];
      if (!f) return [];
      return [key === "time.clean" ? windowText(f) : `${f.text} ${f.unit}`];
    }).join(", ") || read.trouble;
  const sides: [string, ReadOut | undefined][] = [
    ["Set aside", found?.one],
    ["This one, which you change", found?.other],
  ];
  return (
    <section
      aria-label="Two variants"
      className="mb-2 flex flex-wrap items-center gap-x-5 gap-y-1 border-2 border-liquid bg-sheet px-3 py-1.5"
    >
      <Columns2 size={18} aria-hidden="true" />
      {sides.map(([name, read]) => (
        <p key={name}>
          <span className="text-sm text-ink-2">{name}</span>{" "}
          <strong className="sign text-lg">{read ? told(read) : "…"}</strong>
        </p>
      ))}
      <span className="ml-auto flex flex-wrap gap-2">
        <a href="#both" className="btn btn-small">
          What differs
        </a>
        <button type="button" className="btn btn-small" onClick={goBack}>
          Keep the one set aside
        </button>
        <button type="button" className="btn btn-small" onClick={keepThis}>
          Keep this one
        </button>
      </span>
    </section>
  );
}

/** A variant set aside and the plan as it is now, side by side. */
export function Variants({ aside, doc }: Two) {
  const both = useBoth({ aside, doc });
  const found = both.data;
  return (
    <section
      id="both"
      aria-label="Compare"
      className="scroll-mt-40 border-t-2 border-line bg-sheet p-4"
    >
      <h2 className="text-2xl">Two variants</h2>
      {both.error && <Trouble error={both.error} again={() => void both.refetch()} />}
      {!found && !both.error && <p role="status">Solving both …</p>}
      {found && (
        <div
          className={`mt-2 grid gap-6 md:grid-cols-2 ${both.isPlaceholderData ? "opacity-60" : ""}`}
        >
          <Side name="Set aside" read={found.one} />
          <Side name="This one" read={found.other} than={found.one.answer} />
          <div className="md:col-span-2">
            <h3 className="text-xl">What differs</h3>
            {found.differences.length === 0 && <p>Nothing yet: change this one.</p>}
            <table className="w-full text-sm">
              <caption className="sr-only">Fields in which the two differ</caption>
              <tbody>
                {found.differences.map((d) => (
                  <tr key={d.pointer} className="border-t border-hair" data-difference={d.pointer}>
                    <th scope="row" className="py-0.5 text-left font-normal">
                      {d.name}
                    </th>
                    <td className="sign text-base">{d.one}</td>
                    <td className="sign text-base">{d.other}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </div>
      )}
    </section>
  );
}

function Side({
  name,
  read,
  than,
}: {
  name: string;
  read: ReadOut;
  than?: AnswerOut | null | undefined;
}) {
  const a = read.answer;
  if (!a) return <p>{read.trouble}</p>;
  const stops = a.findings.filter((f) => f.severity === "stop");
  return (
    <div>
      <h3 className="flex items-center gap-2 text-xl">
        <Columns2 size={18} aria-hidden="true" /> {name}
      </h3>
      <Drawing scene={a.scene} />
      <dl className="grid grid-cols-[1fr_auto] gap-x-3 text-sm">
        {ROWS.map((key) => {
          const f = a.figures[key];
          const other = than?.figures[key];
          if (!f) return null;
          const better = other ? f.value_si - other.value_si : 0;
          return (
            <div key={key} className="contents">
              <dt className="border-t border-hair">{f.name}</dt>
              <dd className="sign border-t border-hair text-right text-base">
                {key === "time.clean" ? windowText(f) : `${f.text} ${f.unit}`}
                {other && Math.abs(better) > 0.005 * Math.abs(other.value_si) && (
                  <span className="pl-1 text-sm text-ink-2">
                    {better > 0 ? "+" : "−"}
                    {Math.round(Math.abs(100 * (f.value_si / other.value_si - 1)))} %
                  </span>
                )}
              </dd>
            </div>
          );
        })}
      </dl>
      {stops.map((s) => (
        <p key={s.id} className="text-sm font-semibold text-stop">
          Stop: {s.title}
        </p>
      ))}
    </div>
  );
}
