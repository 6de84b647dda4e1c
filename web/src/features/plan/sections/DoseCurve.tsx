import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { api, ask, type Schemas } from "@/shared/api/client";
import { usePlan } from "@/shared/form/context";
import { putAt } from "@/shared/form/put";
import { niceTop } from "@/shared/ui/Scale";
import { Trouble } from "@/shared/ui/States";

type Curve = Schemas["DoseCurveOut"];
type Point = Schemas["DosePointOut"];

/** How much soda is of use here: amps and evenness against dose, solved for this tank. */
export function DoseCurve() {
  const { doc, replace } = usePlan();
  const asked = useRef<typeof doc | null>(null);
  const found = useMutation({
    mutationFn: (document: typeof doc) =>
      ask(api.POST("/api/plans/doses", { body: { document: { ...document } } })),
  });
  const draw = () => {
    asked.current = doc;
    found.mutate(doc);
  };
  const old = found.data && asked.current !== doc;
  const { mutate } = found;
  useEffect(() => {
    if (!old) return;
    const timer = setTimeout(() => {
      asked.current = doc;
      mutate(doc);
    }, 900);
    return () => clearTimeout(timer);
  }, [old, doc, mutate]);
  const take = (dose: string) =>
    replace({
      ...putAt(doc, "/mix/concentration_kg_m3", doc.mix?.concentration_kg_m3),
      typed: { ...doc.typed, "/mix/concentration_kg_m3": dose },
    });
  return (
    <div className="space-y-2" data-dose-curve>
      {!found.data && (
        <button type="button" className="btn btn-small" disabled={found.isPending} onClick={draw}>
          {found.isPending ? "Solving ten doses …" : "How much soda is of use here?"}
        </button>
      )}
      {found.error && <Trouble error={found.error} again={draw} />}
      {found.data && (
        <figure className={old ? "opacity-60" : ""}>
          <Chart curve={found.data} />
          <figcaption className="mt-1 flex flex-wrap items-center gap-x-3 gap-y-1 text-sm">
            <span>
              Take <b className="sign text-lg">{found.data.dose_text}</b>: {found.data.why}.
            </span>
            <button
              type="button"
              className="btn btn-small"
              onClick={() => found.data && take(found.data.dose_text)}
            >
              Take it
            </button>
          </figcaption>
          <Rows curve={found.data} />
        </figure>
      )}
    </div>
  );
}

const W = 560;
const H = 200;
const L = 40;
const R = 44;
const B = 34;
const T = 14;

function Chart({ curve }: { curve: Curve }) {
  const top = niceTop(Math.max(...curve.points.map((p) => p.gives), curve.now.gives) || 1);
  const [low, high] = [curve.points[0]?.dose ?? 1, curve.points.at(-1)?.dose ?? 40];
  const x = (d: number) => L + ((W - L - R) * Math.log(d / low)) / Math.log(high / low);
  const y = (a: number) => H - B - ((H - B - T) * a) / top;
  const even = (share: number) => H - B - ((H - B - T) * share) / 100;
  const line = (of: (p: Point) => number) =>
    curve.points
      .map((p, k) => `${k ? "L" : "M"}${x(p.dose).toFixed(1)} ${of(p).toFixed(1)}`)
      .join("");
  const ticks = curve.points.map((p) => p.dose).filter((d) => [1, 2, 5, 10, 20, 40].includes(d));
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      className="w-full"
      role="img"
      aria-label={`Amps from ${curve.points[0]?.gives.toPrecision(2)} at ${low} g/L to ${curve.points.at(-1)?.gives.toPrecision(2)} at ${high} g/L; take ${curve.dose_text}. The table below says the same.`}
    >
      <line x1={L} y1={H - B} x2={W - R} y2={H - B} stroke="var(--line)" />
      {ticks.map((d) => (
        <g key={d}>
          <line x1={x(d)} y1={H - B} x2={x(d)} y2={H - B + 5} stroke="var(--line)" />
          <text x={x(d)} y={H - B + 18} textAnchor="middle" className="sign fill-ink text-[13px]">
            {d}
          </text>
        </g>
      ))}
      <text x={W - R} y={H - 3} textAnchor="end" className="fill-ink-2 text-[12px]">
        g/L, dry soda
      </text>
      {[0.25, 0.5, 0.75, 1].map((s) => (
        <g key={s}>
          <line
            x1={L}
            x2={W - R}
            y1={y(s * top)}
            y2={y(s * top)}
            stroke="var(--hair)"
            strokeWidth={1}
          />
          <text x={L - 5} y={y(s * top) + 4} textAnchor="end" className="sign fill-ink text-[13px]">
            {(s * top).toPrecision(2)}
          </text>
        </g>
      ))}
      <text x={L} y={T - 3} className="fill-ink text-[12px]">
        A, this supply gives (dotted: slowest spots, 5 % of the surface, share of the mean)
      </text>
      {curve.rated < top && (
        <g>
          <line
            x1={L}
            x2={W - R}
            y1={y(curve.rated)}
            y2={y(curve.rated)}
            stroke="var(--stop)"
            strokeDasharray="6 4"
          />
          <text x={L + 4} y={y(curve.rated) - 4} className="fill-stop text-[12px]">
            supply's rating
          </text>
        </g>
      )}
      <path d={line((p) => y(p.gives))} fill="none" stroke="var(--ink)" strokeWidth={3} />
      <path
        d={line((p) => even(p.least_percent))}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={1.5}
        strokeDasharray="2 4"
      />
      <text
        x={W - R + 4}
        y={even(curve.points.at(-1)?.least_percent ?? 50) + 4}
        className="sign fill-ink text-[13px]"
      >
        {Math.round(curve.points.at(-1)?.least_percent ?? 0)} %
      </text>
      <circle
        cx={x(curve.now.dose)}
        cy={y(curve.now.gives)}
        r={5}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={2}
      />
      <line
        x1={x(curve.dose)}
        x2={x(curve.dose)}
        y1={T}
        y2={H - B}
        stroke="var(--liquid-deep)"
        strokeWidth={4}
      />
    </svg>
  );
}

function Rows({ curve }: { curve: Curve }) {
  return (
    <details className="mt-1 text-sm">
      <summary className="cursor-pointer font-semibold">The same as a table</summary>
      <div className="overflow-x-auto">
        <table className="mt-1 w-full">
          <thead className="text-left text-xs text-ink-2">
            <tr>
              {[
                "g/L",
                "Weigh out",
                "A",
                "Load, %",
                "Slowest spots, of the mean",
                "Fastest spots, A/dm²",
              ].map((h) => (
                <th key={h} scope="col" className="pr-2">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {curve.points.map((p) => (
              <tr key={p.dose} className="border-t border-hair">
                <th scope="row" className="sign pr-2 text-left text-base">
                  {p.dose}
                </th>
                <td className="sign pr-2 text-base">{p.product}</td>
                <td className="sign pr-2 text-base">{p.gives.toPrecision(3)}</td>
                <td className="sign pr-2 text-base">{Math.round(p.load_percent)}</td>
                <td className="sign pr-2 text-base">{Math.round(p.least_percent)} %</td>
                <td className="sign pr-2 text-base">{p.edges.toPrecision(2)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </details>
  );
}
