import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import { type AnswerOut, api, ask, type Plan, type Schemas } from "@/shared/api/client";
import { askAgain, drag } from "@/shared/api/drag";
import { Num } from "@/shared/ui/Num";
import { niceTop } from "@/shared/ui/Scale";
import { Trouble } from "@/shared/ui/States";

type FieldOut = Schemas["FieldOut"];

// Perceptually even and safe for colour-blind eyes: dark blue is little current, yellow is much.
const STOPS = [
  "#00224e",
  "#1d3a6d",
  "#434e6c",
  "#636573",
  "#7f7c78",
  "#9d9576",
  "#bdaf6e",
  "#dfca5a",
  "#fee838",
];

function shade(value: number, top: number): string {
  const at = Math.min(Math.max(value / top, 0), 1) * (STOPS.length - 1);
  const k = Math.min(Math.floor(at), STOPS.length - 2);
  const [a, b] = [STOPS[k] as string, STOPS[k + 1] as string].map((c) =>
    [1, 3, 5].map((i) => Number.parseInt(c.slice(i, i + 2), 16)),
  ) as [number[], number[]];
  return `rgb(${a.map((v, i) => Math.round(v + ((b[i] as number) - v) * (at - k))).join(" ")})`;
}

/** Where the current goes on the piece, solved in three dimensions: a body to turn, and its table. */
export function FieldMap({ doc, answer }: { doc: Plan; answer: AnswerOut }) {
  const [quality, setQuality] = useState<"preview" | "settled">("preview");
  const shape = JSON.stringify([
    doc.pieces,
    doc.tank,
    doc.mix,
    doc.anodes,
    doc.placing,
    doc.supply,
    doc.system,
  ]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another bath is previewed first
  useEffect(() => setQuality("preview"), [shape]);
  const sent = useRested(shape, 500);
  const field = useQuery({
    queryKey: ["field", sent, quality],
    enabled: sent === shape,
    queryFn: ({ signal }) =>
      ask(
        api.POST("/api/plans/field", {
          body: { document: { ...doc }, quality, drag: drag("map") },
          signal,
        }),
      ),
    retry: askAgain,
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: keepPreviousData,
  });
  const f = field.data;
  const busy = field.isFetching || sent !== shape;
  return (
    <section
      className="border-t border-line pt-1.5"
      aria-label="Where the current goes"
      aria-busy={busy}
    >
      <h3 className="text-sm font-medium text-ink-2">Where the current goes</h3>
      {field.error && <Trouble error={field.error} again={() => void field.refetch()} />}
      {!f && !field.error && <Waiting />}
      {f && (
        <div className={busy ? "opacity-60" : ""}>
          <Body field={f} top={topOf(f, answer)} />
          <Legend top={topOf(f, answer)} band={answer.band} />
          <table className="mt-2 w-full text-sm">
            <caption className="sr-only">Mean current density by region of the piece</caption>
            <thead>
              <tr className="text-left text-xs text-ink-2">
                <th scope="col">Region</th>
                <th scope="col" className="text-right">
                  A/dm²
                </th>
                <th scope="col" className="text-right">
                  of the mean
                </th>
              </tr>
            </thead>
            <tbody>
              {f.regions.map((r) => (
                <tr
                  key={r.id}
                  className="border-t border-hair"
                  data-region={r.id}
                  data-ratio={r.ratio}
                >
                  <th scope="row" className="text-left font-normal">
                    {r.name}
                  </th>
                  <td className="sign text-right text-base">
                    <Num f={r.density} text={r.density.number.toPrecision(2)} />
                  </td>
                  <td className="sign text-right text-base">{Math.round(r.ratio * 100)} %</td>
                </tr>
              ))}
              <tr className="border-t border-hair">
                <th scope="row" className="text-left font-normal">
                  Worst patch, 2 % of it
                </th>
                <td className="sign text-right text-base">
                  <Num f={f.worst} text={f.worst.number.toPrecision(2)} />
                </td>
                <td className="sign text-right text-base">{Math.round(f.worst_percent)} %</td>
              </tr>
            </tbody>
          </table>
          <Kinds field={f} />
          <p className="mt-1 text-xs text-ink-2">
            Solved on {f.facets} facets, resistance within {f.error_percent.toFixed(1)} % of the
            model's own; films and mix are what you typed, and the first reading tells.{" "}
            {quality === "preview" && (
              <button type="button" className="underline" onClick={() => setQuality("settled")}>
                Solve it finer
              </button>
            )}
          </p>
        </div>
      )}
    </section>
  );
}

/** What is waited for; at the very first start the solver's compiled part is made. */
function Waiting() {
  const ready = useQuery({
    queryKey: ["solver"],
    queryFn: () => ask(api.GET("/api/plans/solver")),
    refetchInterval: 700,
  });
  const seconds = ready.data?.getting_ready_s;
  if (seconds == null) return <p role="status">Solving the field in three dimensions …</p>;
  return (
    <div role="status" className="space-y-1 text-sm">
      <p>
        Getting the solver ready, {Math.round(seconds)} s so far; about 15 s at the first start.
      </p>
      <progress className="h-3 w-full" value={Math.min(seconds, 19)} max={20} />
    </div>
  );
}

const KIND = { outer: "Outer surface", recess: "Recesses", bore: "Bores" } as const;

/** Outer surface, recesses and bores apart; and what no scrap looks at, which is geometry only. */
function Kinds({ field: f }: { field: FieldOut }) {
  return (
    <div className="mt-2 space-y-1 text-sm">
      {f.kinds.length > 1 && (
        <ul>
          <li className="flex justify-between gap-3 text-xs text-ink-2">
            <span>By how open it lies</span>
            <span>nine tenths between</span>
          </li>
          {f.kinds.map((k) => (
            <li key={k.kind} className="flex justify-between gap-3 border-t border-hair">
              <span>
                {KIND[k.kind]}, {k.area_percent.toFixed(0)} % of it
              </span>
              <span className="sign whitespace-nowrap text-base">
                {Math.max(k.p5, 0).toPrecision(2)} to {k.p95.toPrecision(2)} A/dm²
              </span>
            </li>
          ))}
        </ul>
      )}
      <p className="text-xs text-ink-2">
        Line of sight:{" "}
        {f.blind_percent < 0.5 ? "every part" : `${(100 - f.blind_percent).toFixed(0)} %`} of the
        surface sees some scrap. That is geometry, not current: current bends round, and a blind
        side still gets some.
      </p>
    </div>
  );
}

function topOf(f: FieldOut, answer: AnswerOut): number {
  return niceTop(Math.max(f.p95 * 1.15, answer.band.low * 1.2));
}

function useRested(value: string, ms: number): string {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setRested(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return rested;
}

const STEP = Math.PI / 12;

function Body({ field, top }: { field: FieldOut; top: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [turn, setTurn] = useState({ yaw: -0.6, pitch: 0.45 });
  const held = useRef<{ x: number; y: number } | null>(null);
  useEffect(() => {
    if (canvas.current) paint(canvas.current, field, top, turn.yaw, turn.pitch);
  }, [field, top, turn]);
  const by = (yaw: number, pitch: number) =>
    setTurn((t) => ({ yaw: t.yaw + yaw, pitch: Math.min(Math.max(t.pitch + pitch, -1.5), 1.5) }));
  const press = (e: KeyboardEvent) => {
    const move = {
      ArrowLeft: [-STEP, 0],
      ArrowRight: [STEP, 0],
      ArrowUp: [0, STEP],
      ArrowDown: [0, -STEP],
    }[e.key];
    if (!move) return;
    e.preventDefault();
    by(move[0] as number, move[1] as number);
  };
  const drag = (e: PointerEvent) => {
    if (!held.current) return;
    by((e.clientX - held.current.x) / 120, (e.clientY - held.current.y) / 120);
    held.current = { x: e.clientX, y: e.clientY };
  };
  const words = field.regions
    .map((r) => `${r.name} ${Math.round(r.ratio * 100)} % of the mean`)
    .join(", ");
  return (
    <div>
      <canvas
        ref={canvas}
        tabIndex={0}
        role="img"
        aria-label={`The piece shaded by current density: ${words}. Arrow keys turn it.`}
        className="block h-44 w-full cursor-grab touch-none"
        onKeyDown={press}
        onPointerDown={(e) => {
          held.current = { x: e.clientX, y: e.clientY };
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={drag}
        onPointerUp={() => {
          held.current = null;
        }}
      />
      <div className="no-print flex flex-wrap items-center gap-1 text-xs text-ink-2">
        Drag to turn, or look from
        {(
          [
            ["front", 0, 0],
            ["back", Math.PI, 0],
            ["end", Math.PI / 2, 0],
            ["above", 0, 1.5],
          ] as const
        ).map(([name, yaw, pitch]) => (
          <button
            key={name}
            type="button"
            className="underline"
            onClick={() => setTurn({ yaw, pitch })}
          >
            {name}
          </button>
        ))}
      </div>
    </div>
  );
}

/** Facets turned, culled, sorted far to near and filled: enough for one body, and needs no GPU. */
function paint(
  canvas: HTMLCanvasElement,
  field: FieldOut,
  top: number,
  yaw: number,
  pitch: number,
) {
  const ratio = window.devicePixelRatio || 1;
  const [w, h] = [canvas.clientWidth, canvas.clientHeight];
  canvas.width = w * ratio;
  canvas.height = h * ratio;
  const c = canvas.getContext("2d");
  if (!c) return;
  c.scale(ratio, ratio);
  c.clearRect(0, 0, w, h);
  const p = field.corners;
  const [cy, sy, cp, sp] = [Math.cos(yaw), Math.sin(yaw), Math.cos(pitch), Math.sin(pitch)];
  const flat: { u: number; v: number; depth: number }[] = [];
  for (let at = 0; at < p.length; at += 3) {
    const [x, y, z] = [p[at] as number, p[at + 1] as number, p[at + 2] as number];
    const away = -sy * x + cy * y;
    flat.push({ u: cy * x + sy * y, v: -(cp * z + sp * away), depth: cp * away - sp * z });
  }
  const spread = (pick: (q: { u: number; v: number }) => number) => {
    let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (const q of flat) {
      low = Math.min(low, pick(q));
      high = Math.max(high, pick(q));
    }
    return [(low + high) / 2, Math.max(high - low, 1)] as const;
  };
  const [[mu, wide], [mv, tall]] = [spread((q) => q.u), spread((q) => q.v)];
  const k = 0.92 * Math.min(w / wide, h / tall);
  const faces: { depth: number; points: [number, number][]; value: number }[] = [];
  field.values.forEach((value, f) => {
    const corners = flat.slice(f * 4, f * 4 + 4);
    const points = corners.map((q): [number, number] => [
      w / 2 + k * (q.u - mu),
      h / 2 + k * (q.v - mv),
    ]);
    const area = points.reduce((sum, [x, y], i) => {
      const [nx, ny] = points[(i + 1) % 4] as [number, number];
      return sum + x * ny - nx * y;
    }, 0);
    const depth = corners.reduce((sum, q) => sum + q.depth, 0);
    if (area < 0) faces.push({ depth, points, value });
  });
  faces.sort((a, b) => b.depth - a.depth);
  c.lineWidth = 0.7;
  for (const face of faces) {
    c.beginPath();
    face.points.forEach(([x, y], i) => {
      if (i) c.lineTo(x, y);
      else c.moveTo(x, y);
    });
    c.closePath();
    c.fillStyle = shade(face.value, top);
    c.strokeStyle = c.fillStyle;
    c.fill();
    c.stroke();
  }
}

function Legend({ top, band }: { top: number; band: AnswerOut["band"] }) {
  const x = (v: number) => 6 + (Math.min(v, top) / top) * 388;
  return (
    <svg
      viewBox="0 0 400 40"
      className="block w-full"
      role="img"
      aria-label={`Colour scale from 0 to ${top} A/dm², working band ${band.low} to ${band.high}`}
    >
      <defs>
        <linearGradient id="density">
          {STOPS.map((s, k) => (
            <stop key={s} offset={k / (STOPS.length - 1)} stopColor={s} />
          ))}
        </linearGradient>
      </defs>
      <rect x={6} y={10} width={388} height={9} fill="url(#density)" stroke="var(--line)" />
      <path
        d={`M${x(band.low)} 5V24M${x(band.high)} 5V24M${x(band.low)} 6H${x(band.high)}`}
        stroke="var(--ink)"
        strokeWidth="2"
        fill="none"
      />
      {[0, band.low, band.high, top].map((v) => (
        <text
          key={v}
          x={x(v)}
          y={36}
          textAnchor={v === 0 ? "start" : v === top ? "end" : "middle"}
          className="sign"
          fontSize="13"
          fill="var(--ink)"
        >
          {v === top ? `${v} A/dm²` : v}
        </text>
      ))}
    </svg>
  );
}
