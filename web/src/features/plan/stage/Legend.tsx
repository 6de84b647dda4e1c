import { STOPS } from "@/shared/scene/colour";

// about the width on the screen, so that the figures are as large as they say
const WIDE = 280;
const LONG = WIDE - 12;

/** The colours' scale with its marks: the working band, or the need. */
export function Legend({
  top,
  unit,
  marks,
  words,
  names = [],
}: {
  top: number;
  unit: string;
  marks: readonly number[];
  words: string;
  /** Where the colours stand for names and not for numbers. */
  names?: readonly string[];
}) {
  const x = (v: number) => 6 + (Math.min(v, top) / top) * LONG;
  // the end carries the unit: a mark beside it stands without its number
  const clear = (v: number) => v === top || x(top) - x(v) > 72;
  const shown = [0, ...marks, top].filter((v, k, all) => all.indexOf(v) === k && clear(v));
  return (
    <svg viewBox={`0 0 ${WIDE} 40`} className="block w-full max-w-80" role="img" aria-label={words}>
      <defs>
        <linearGradient id="density">
          {STOPS.map((s, k) => (
            <stop key={s} offset={k / (STOPS.length - 1)} stopColor={s} />
          ))}
        </linearGradient>
      </defs>
      <rect x={6} y={10} width={LONG} height={9} fill="url(#density)" stroke="var(--line)" />
      {marks.length > 1 && (
        <path
          d={`M${x(marks[0] as number)} 6H${x(marks[1] as number)}`}
          stroke="var(--ink)"
          strokeWidth="2"
        />
      )}
      {marks.map((m) => (
        <path key={m} d={`M${x(m)} 5V24`} stroke="var(--ink)" strokeWidth="2" />
      ))}
      {names.map((name, k) => (
        <text
          key={name}
          x={6 + (LONG * k) / (names.length - 1)}
          y={36}
          textAnchor={k === 0 ? "start" : k === names.length - 1 ? "end" : "middle"}
          className="sign"
          fontSize="13"
          fill="var(--ink)"
        >
          {name}
        </text>
      ))}
      {(names.length ? [] : shown).map((v) => (
        <text
          key={v}
          x={x(v)}
          y={36}
          textAnchor={v === 0 ? "start" : v === top ? "end" : "middle"}
          className="sign"
          fontSize="13"
          fill="var(--ink)"
        >
          {v === top ? `${v} ${unit}` : v}
        </text>
      ))}
    </svg>
  );
}
