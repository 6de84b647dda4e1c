import type { Schemas } from "@/shared/api/client";
import { niceTop } from "@/shared/ui/Scale";

const W = 560;
const H = 220;
const L = 36;
const R = 66;
const B = 30;
const T = 16;

/** The table of conductivity as curves: one a dose, soda solid, the others for comparison. */
export function ConductsChart({ sheet }: { sheet: Schemas["SheetOut"] }) {
  const warmths = sheet.columns.slice(2).map((c) => Number.parseFloat(c));
  const unit = sheet.columns.at(-1)?.split(" ").at(-1) ?? "°C";
  const curves = sheet.rows
    .filter(
      ([salt, dose]) => salt?.includes("carbonate") && !salt.includes("bi") && Number(dose) <= 20,
    )
    .map((r) => ({ dose: r[1], values: r.slice(2).map(Number), dashed: false }));
  const other = sheet.rows.find(([salt, dose]) => salt?.includes("bicarbonate") && dose === "10");
  if (other)
    curves.push({ dose: "10 baking soda", values: other.slice(2).map(Number), dashed: true });
  const top = niceTop(Math.max(...curves.flatMap((c) => c.values)));
  const [low, high] = [warmths[0] ?? 0, warmths.at(-1) ?? 60];
  const x = (t: number) => L + ((W - L - R) * (t - low)) / (high - low);
  const y = (s: number) => H - B - ((H - B - T) * s) / top;
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      className="max-w-2xl"
      role="img"
      aria-label="Conductivity against warmth, one curve a dose; the table below says the same."
    >
      {[0, 0.25, 0.5, 0.75, 1].map((s) => (
        <g key={s}>
          <line x1={L} x2={W - R} y1={y(s * top)} y2={y(s * top)} stroke="var(--hair)" />
          <text x={L - 5} y={y(s * top) + 4} textAnchor="end" className="sign fill-ink text-[13px]">
            {(s * top).toPrecision(2)}
          </text>
        </g>
      ))}
      <text x={L} y={10} className="fill-ink-2 text-[12px]">
        S/m by warmth of the liquid, {unit}; soda by dose, dashed: 10 g/L of baking soda
      </text>
      {warmths.map((t) => (
        <text key={t} x={x(t)} y={H - 10} textAnchor="middle" className="sign fill-ink text-[13px]">
          {t}
        </text>
      ))}
      {curves.map((c) => (
        <g key={c.dose}>
          <path
            d={c.values.map((v, k) => `${k ? "L" : "M"}${x(warmths[k] ?? 0)} ${y(v)}`).join("")}
            fill="none"
            stroke="var(--ink)"
            strokeWidth={c.dashed ? 1.5 : 2.5}
            strokeDasharray={c.dashed ? "4 4" : undefined}
          />
          {!c.dashed && (
            <text
              x={W - R + 5}
              y={y(c.values.at(-1) ?? 0) + 4}
              className="sign fill-ink text-[13px]"
            >
              {c.dose} g/L
            </text>
          )}
        </g>
      ))}
    </svg>
  );
}
