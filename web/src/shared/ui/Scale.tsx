/**
 * The scale with a band: a straight scale as on a meter, the working band drawn on it, a hollow
 * needle for what is expected, a solid one for what was read, a wall where the supply ends.
 */
export interface ScaleProps {
  label: string;
  unit: string;
  top: number;
  band?: [number, number];
  bandName?: string;
  window?: [number, number];
  expected?: number;
  read?: number;
  limit?: number;
  limitName?: string;
}

export function niceTop(value: number): number {
  const power = 10 ** Math.floor(Math.log10(Math.max(value, 1e-6)));
  const steps = [1, 1.5, 2, 3, 4, 5, 6, 8, 10];
  return Number(((steps.find((s) => s * power >= value) ?? 10) * power).toPrecision(3));
}

const W = 400;
const PAD = 12;

export function Scale(p: ScaleProps) {
  const x = (v: number) => PAD + (Math.min(Math.max(v, 0), p.top) / p.top) * (W - 2 * PAD);
  const words = describe(p);
  return (
    <figure className="m-0">
      <svg viewBox={`0 0 ${W} 62`} className="block w-full" role="img" aria-label={words}>
        {p.band && (
          <g>
            <rect
              x={x(p.band[0])}
              y={24}
              width={Math.max(x(p.band[1]) - x(p.band[0]), 1)}
              height={13}
              fill="var(--liquid)"
            />
            <path
              d={`M${x(p.band[0])} 21V40M${x(p.band[1])} 21V40`}
              stroke="var(--line)"
              strokeWidth="1.5"
            />
          </g>
        )}
        <path d={`M${PAD} 37H${W - PAD}`} stroke="var(--line)" strokeWidth="2" />
        {ticks(p.top).map((t) => (
          <g key={t.v}>
            <path
              d={`M${x(t.v)} 37v${t.major ? 8 : 4}`}
              stroke="var(--line)"
              strokeWidth={t.major ? 1.5 : 1}
            />
            {t.major && (
              <text
                x={x(t.v)}
                y={58}
                textAnchor="middle"
                className="sign"
                fontSize="14"
                fill="var(--ink)"
              >
                {t.text}
              </text>
            )}
          </g>
        ))}
        {p.window && (
          <path
            d={`M${x(p.window[0])} 30H${x(p.window[1])}M${x(p.window[0])} 26v8M${x(p.window[1])} 26v8`}
            stroke="var(--ink)"
            strokeWidth="2"
            fill="none"
          />
        )}
        {p.limit !== undefined && p.limit <= p.top && (
          <path d={`M${x(p.limit)} 14V40`} stroke="var(--stop)" strokeWidth="3" />
        )}
        {p.expected !== undefined && (
          <path
            d={`M${x(p.expected)} 36l-7-20h14z`}
            fill="var(--sheet)"
            stroke="var(--ink)"
            strokeWidth="2"
          />
        )}
        {p.read !== undefined && (
          <path
            d={`M${x(p.read)} 36l-7-22h14z`}
            fill="var(--ink)"
            stroke="var(--ink)"
            strokeWidth="2"
          />
        )}
      </svg>
      <figcaption className="flex flex-wrap justify-between gap-x-4 text-xs text-ink-2">
        <span>
          {p.label}, {p.unit}
        </span>
        <span className="flex flex-wrap gap-x-3">
          {p.expected !== undefined && <span>▽ expected</span>}
          {p.read !== undefined && <span>▼ read</span>}
          {p.band && <span>▬ {p.bandName ?? "working band"}</span>}
          {p.limit !== undefined && <span>┃ {p.limitName ?? "supply's rating"}</span>}
        </span>
      </figcaption>
    </figure>
  );
}

function describe(p: ScaleProps): string {
  const parts = [`${p.label}, scale 0 to ${p.top} ${p.unit}`];
  if (p.band) parts.push(`${p.bandName ?? "band"} ${p.band[0]} to ${p.band[1]}`);
  if (p.expected !== undefined) parts.push(`expected ${p.expected.toPrecision(3)}`);
  if (p.window) parts.push(`likely ${p.window[0].toPrecision(2)} to ${p.window[1].toPrecision(2)}`);
  if (p.read !== undefined) parts.push(`read ${p.read.toPrecision(3)}`);
  if (p.limit !== undefined) parts.push(`${p.limitName ?? "limit"} ${p.limit}`);
  return parts.join("; ");
}

function ticks(top: number) {
  const step = niceTop(top / 6);
  const out: { v: number; major: boolean; text: string }[] = [];
  for (let k = 0; (k * step) / 2 <= top * 1.001; k++) {
    const v = (k * step) / 2;
    out.push({ v, major: k % 2 === 0, text: String(Number(v.toPrecision(3))) });
  }
  return out;
}
