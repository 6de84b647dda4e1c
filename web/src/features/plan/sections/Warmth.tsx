import type { Schemas } from "@/shared/api/client";

const W = 560;
const H = 110;
const L = 40;
const R = 12;
const B = 22;

/** The bath's temperature over the longest run, against what the tank bears. */
export function Warmth({ warmth }: { warmth: Schemas["WarmthOut"] }) {
  const { values, hours, limit, unit } = warmth;
  const low = Math.floor(Math.min(...values) / 5) * 5;
  const high = Math.max(Math.ceil((Math.max(...values) + 2) / 5) * 5, low + 10);
  const x = (k: number) => L + ((W - L - R) * k) / (values.length - 1);
  const y = (t: number) => H - B - ((H - B - 12) * (t - low)) / (high - low);
  const path = values
    .map((t, k) => `${k ? "L" : "M"}${x(k).toFixed(1)} ${y(t).toFixed(1)}`)
    .join("");
  const step = [0.5, 1, 2, 6, 12, 24, 48, 120].find((s) => hours / s <= 8) ?? 240;
  const marks = Array.from({ length: Math.floor(hours / step) + 1 }, (_, k) => k * step);
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      className="w-full"
      role="img"
      aria-label={`Bath from ${values[0]?.toFixed(0)} to ${values.at(-1)?.toFixed(0)} ${unit} over ${hours.toFixed(0)} hours; the tank bears ${limit.toFixed(0)} ${unit}`}
    >
      <path
        d={`${path}L${x(values.length - 1)} ${H - B}L${L} ${H - B}Z`}
        fill="var(--liquid)"
        opacity={0.35}
      />
      <path d={path} fill="none" stroke="var(--ink)" strokeWidth={2.5} />
      <line x1={L} x2={W - R} y1={H - B} y2={H - B} stroke="var(--line)" />
      {[low, (low + high) / 2, high].map((t) => (
        <text key={t} x={L - 5} y={y(t) + 4} textAnchor="end" className="sign fill-ink text-[13px]">
          {t}
        </text>
      ))}
      <text x={L} y={10} className="fill-ink-2 text-[12px]">
        {unit} over hours under power
      </text>
      {limit <= high && (
        <line
          x1={L}
          x2={W - R}
          y1={y(limit)}
          y2={y(limit)}
          stroke="var(--stop)"
          strokeDasharray="6 4"
        />
      )}
      {marks.map((h) => (
        <g key={h}>
          <line
            x1={L + ((W - L - R) * h) / hours}
            x2={L + ((W - L - R) * h) / hours}
            y1={H - B}
            y2={H - B + 4}
            stroke="var(--line)"
          />
          <text
            x={L + ((W - L - R) * h) / hours}
            y={H - 5}
            textAnchor="middle"
            className="sign fill-ink text-[13px]"
          >
            {h}
          </text>
        </g>
      ))}
    </svg>
  );
}
