import { useEffect, useRef } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import { painted } from "@/shared/painted";
import { niceTop } from "@/shared/ui/Scale";
import { useMedia } from "@/shared/useMedia";
import type { SeriesOut } from "./useLive";

export interface Line {
  at: number[];
  values: (number | null)[];
  low: number | null;
  high: number | null;
}

/** History and what came since, as one line. */
export function joined(
  s: SeriesOut,
  came: readonly { at_ms: number; value: number | null }[],
): Line {
  const last = s.at_ms.at(-1) ?? 0;
  const at = s.at_ms.map((t) => t / 1000);
  const values = [...s.values];
  let before = last;
  for (const c of came) {
    if (c.at_ms <= last || c.value === null) continue;
    // a gap is a gap, never a straight line
    if (before && c.at_ms - before > GAP_MS) {
      at.push((before + c.at_ms) / 2000);
      values.push(null);
    }
    at.push(c.at_ms / 1000);
    values.push(c.value);
    before = c.at_ms;
  }
  return { at, values, low: s.low ?? null, high: s.high ?? null };
}

const GAP_MS = 65_000; // longer than a stretch of what was summed up

/** One channel over time: a thin iron line, what is expected as a band of liquid behind it. */
export function Strip({
  line,
  from,
  to,
  axis,
  name,
  height,
}: {
  line: Line;
  from: number;
  to: number;
  axis: boolean;
  name: string;
  height: number;
}) {
  const host = useRef<HTMLDivElement>(null);
  const plot = useRef<uPlot | null>(null);
  const band = useRef<[number | null, number | null]>([null, null]);
  band.current = [line.low, line.high];
  const dark = useMedia("(prefers-color-scheme: dark)");
  // biome-ignore lint/correctness/useExhaustiveDependencies: made anew when the light changes
  useEffect(() => {
    const box = host.current;
    if (!box) return;
    const { ink, "ink-2": ink2, hair, liquid } = painted("ink", "ink-2", "hair", "liquid");
    const font = `13px ${getComputedStyle(document.body).fontFamily}`;
    const ticks = { stroke: ink2, font, grid: { stroke: hair, width: 1 }, ticks: { stroke: hair } };
    const made = new uPlot(
      {
        width: box.clientWidth,
        height,
        legend: { show: false },
        cursor: { show: false },
        padding: [8, 10, 4, 0],
        scales: {
          x: { time: true },
          y: { range: (_, low, high) => spread(low, high, band.current) },
        },
        axes: [
          { ...ticks, show: axis, size: 26, space: 96, values: (_, times) => clocks(times) },
          {
            ...ticks,
            size: 48,
            splits: (_, __, low, high) => marks(low, high),
            values: (_, at) => at.map(short),
          },
        ],
        series: [{}, { stroke: ink, width: 1.5, points: { show: false }, spanGaps: false }],
        hooks: {
          drawClear: [
            (u) => {
              const [low, high] = band.current;
              if (low === null || high === null) return;
              const top = u.valToPos(high, "y", true);
              const under = u.valToPos(low, "y", true);
              u.ctx.save();
              u.ctx.globalAlpha = 0.35;
              u.ctx.fillStyle = liquid;
              u.ctx.fillRect(u.bbox.left, top, u.bbox.width, under - top);
              u.ctx.restore();
            },
          ],
        },
      },
      [[], []],
      box,
    );
    plot.current = made;
    const watch = new ResizeObserver(() => made.setSize({ width: box.clientWidth, height }));
    watch.observe(box);
    return () => {
      watch.disconnect();
      made.destroy();
      plot.current = null;
    };
  }, [axis, height, dark]);
  useEffect(() => {
    const made = plot.current;
    if (!made) return;
    made.batch(() => {
      made.setData([line.at, line.values], false);
      made.setScale("x", { min: from, max: to });
    });
  }, [line, from, to]);
  return (
    <div className="relative" style={{ height }} role="img" aria-label={said(name, line)}>
      <div ref={host} className="absolute inset-0 overflow-hidden" />
    </div>
  );
}

/** A scale that holds the line and what is expected, with a little room. */
function spread(
  low: number | null,
  high: number | null,
  [under, over]: [number | null, number | null],
): [number, number] {
  const known = [low, high, under, over].filter(
    (v): v is number => v !== null && Number.isFinite(v),
  );
  if (!known.length) return [0, 1];
  const [least, most] = [Math.min(...known), Math.max(...known)];
  const room = Math.max((most - least) * 0.12, Math.abs(most) * 0.02, 0.05);
  return [Math.max(least - room, Math.min(least, 0)), most + room];
}

/** Two to four round values on a scale. */
function marks(low: number, high: number): number[] {
  const step = niceTop((high - low) / 3);
  const first = Math.ceil(low / step) * step;
  const count = Math.floor((high - first) / step + 1e-9) + 1;
  return Array.from({ length: Math.max(count, 0) }, (_, k) => first + k * step);
}

const short = (value: number) => String(Number(value.toPrecision(4)));

const clock = new Intl.DateTimeFormat(undefined, { hour: "2-digit", minute: "2-digit" });
const day = new Intl.DateTimeFormat(undefined, { weekday: "short", hour: "2-digit" });

function clocks(times: number[]): string[] {
  const long = (times.at(-1) ?? 0) - (times[0] ?? 0) > 86_400;
  return times.map((t) => (long ? day : clock).format(new Date(t * 1000)));
}

/** What the picture says, for who does not see it. */
function said(name: string, line: Line): string {
  const known = line.values.filter((v): v is number => v !== null);
  if (!known.length) return `${name}: nothing yet`;
  const [least, most] = [Math.min(...known), Math.max(...known)];
  const expected =
    line.low === null || line.high === null
      ? ""
      : `, expected ${line.low.toPrecision(3)} to ${line.high.toPrecision(3)}`;
  return `${name}: from ${least} to ${most}, now ${known.at(-1)}${expected}`;
}
