import type { SceneOut } from "@/shared/api/client";
import { Hanging, Liquid, Pieces } from "@/shared/scene/drawn";
import type { Side } from "@/shared/scene/flat";
import type { Paper } from "@/shared/scene/paper";
import { halfAt, type Point, ruled } from "@/shared/scene/shape";
import { fromEdges } from "./model";
import type { Guide } from "./moves";
import type { OrthoProps } from "./props";

export function GuideLine({ g, side, p }: { g: Guide; side: Side; p: Paper }) {
  const across = (g.axis === "x") === (side !== "end");
  if (side !== "above" && !across) return null;
  const d = across ? `M${p.x(g.at)} 0V${p.h}` : `M0 ${p.y(g.at)}H${p.w}`;
  return (
    <g>
      <path d={d} stroke="var(--focus)" strokeWidth="1" strokeDasharray="6 3" />
      <text
        x={across ? p.x(g.at) + 4 : p.w - 4}
        y={across ? 12 : p.y(g.at) - 4}
        textAnchor={across ? "start" : "end"}
        fontSize="12"
        className="sign"
        fill="var(--focus)"
      >
        {g.why}
      </text>
    </g>
  );
}

type PieceBox = SceneOut["pieces"][number];

export function Box({
  q,
  side,
  p,
  on,
  ink,
}: {
  q: PieceBox;
  side: Side;
  p: Paper;
  on: boolean;
  ink: string;
}) {
  const look = {
    fill: "transparent",
    stroke: ink,
    strokeWidth: on ? 2.5 : 1,
    strokeDasharray: on ? undefined : "4 3",
  };
  const least = 14;
  if (side === "above") {
    const [x, y] = [p.x(q.x_m), p.y(q.y_m)];
    const [w, h] = [q.foot_x_m * p.k, q.foot_y_m * p.k];
    const [gw, gh] = [Math.max(w, least), Math.max(h, least)];
    return (
      <g transform={`rotate(${-q.turn_deg} ${x} ${y})`}>
        <rect x={x - gw / 2} y={y - gh / 2} width={gw} height={gh} fill="transparent" />
        <rect x={x - w / 2} y={y - h / 2} width={w} height={h} {...look} />
        <rect
          className="ring opacity-0"
          x={x - gw / 2 - 4}
          y={y - gh / 2 - 4}
          width={gw + 8}
          height={gh + 8}
          fill="none"
          stroke="var(--focus)"
          strokeWidth="3"
        />
      </g>
    );
  }
  const u = side === "front" ? q.x_m : q.y_m;
  const wide = (side === "front" ? q.size_x_m : q.size_y_m) * p.k;
  const [gw, tall] = [Math.max(wide, least), q.size_z_m * p.k];
  const y = p.y(q.bottom_m + q.size_z_m);
  return (
    <g>
      <rect
        x={p.x(u) - gw / 2}
        y={y}
        width={gw}
        height={Math.max(tall, least)}
        fill="transparent"
      />
      <rect x={p.x(u) - wide / 2} y={y} width={wide} height={tall} {...look} />
      <rect
        className="ring opacity-0"
        x={p.x(u) - gw / 2 - 4}
        y={y - 4}
        width={gw + 8}
        height={tall + 8}
        fill="none"
        stroke="var(--focus)"
        strokeWidth="3"
      />
    </g>
  );
}

export function TurnKnob({ q, p }: { q: PieceBox; p: Paper }) {
  const turn = (q.turn_deg * Math.PI) / 180;
  const far = (q.foot_x_m * p.k) / 2 + 20;
  const [x, y] = [p.x(q.x_m) + far * Math.cos(turn), p.y(q.y_m) - far * Math.sin(turn)];
  return (
    <g>
      <circle cx={x} cy={y} r={16} fill="transparent" />
      <circle cx={x} cy={y} r={7} fill="var(--sheet)" stroke="var(--ink)" strokeWidth="2" />
      <path
        d={`M${x - 3} ${y + 1}a3.4 3.4 0 1 1 3 2.4`}
        fill="none"
        stroke="var(--ink)"
        strokeWidth="1.3"
      />
    </g>
  );
}

export function Tide({
  scene,
  side,
  p,
  on,
}: {
  scene: SceneOut;
  side: Side;
  p: Paper;
  on: boolean;
}) {
  const half = halfAt(scene, scene.level_m)[side === "front" ? 0 : 1];
  const y = p.y(scene.level_m);
  const [left, right] = [p.x(-half), p.x(half)];
  return (
    <g className="cursor-ns-resize">
      <rect x={left} y={y - 8} width={right - left} height={16} fill="transparent" />
      <path
        d={`M${left - 6} ${y}H${right + 14}`}
        stroke="var(--ink)"
        strokeWidth={on ? 2.6 : 1.4}
        strokeDasharray="8 3"
      />
      <path
        d={`M${right + 2} ${y}l12 -7v14z`}
        fill="var(--liquid)"
        stroke="var(--ink)"
        strokeWidth="1.5"
      />
      <rect
        className="ring opacity-0"
        x={left - 8}
        y={y - 9}
        width={right - left + 26}
        height={18}
        fill="none"
        stroke="var(--focus)"
        strokeWidth="3"
      />
    </g>
  );
}

/** Rules from the rim's edges, or from the floor, to what is in the hand or chosen. */
export function Dims({ side, scene, p, selected, system }: OrthoProps & { p: Paper }) {
  if (side === "above") {
    const list: readonly { id: string; x_m: number; y_m: number }[] =
      selected?.kind === "piece" ? scene.pieces : scene.rods;
    const it =
      selected && "id" in selected ? list.find((x) => x.id === selected.id) : scene.rods[0];
    if (!it) return null;
    const half = scene.round ? scene.rim_x_m / 2 : scene.rim_y_m / 2;
    const d = fromEdges(scene, it.x_m, it.y_m);
    const [left, foot] = [p.x(-scene.rim_x_m / 2), p.y(-half)];
    return (
      <g className="pointer-events-none">
        <Rule
          a={[left, foot + 22]}
          b={[p.x(it.x_m), foot + 22]}
          from={[left, foot]}
          to={[p.x(it.x_m), p.y(it.y_m)]}
          text={ruled(d.left, system)}
        />
        <Rule
          a={[left - 16, foot]}
          b={[left - 16, p.y(it.y_m)]}
          from={[left, foot]}
          to={[p.x(it.x_m), p.y(it.y_m)]}
          text={ruled(d.front, system)}
        />
      </g>
    );
  }
  const q =
    scene.pieces.find((x) => selected && "id" in selected && x.id === selected.id) ??
    [...scene.pieces].sort((a, b) => a.bottom_m - b.bottom_m).at(0);
  const wall = p.x(-halfAt(scene, scene.height_m)[side === "front" ? 0 : 1]);
  const floor = p.y(0);
  return (
    <g className="pointer-events-none">
      <Rule
        a={[wall - 28, floor]}
        b={[wall - 28, p.y(scene.level_m)]}
        text={ruled(scene.level_m, system)}
      />
      {q && (
        <Rule
          a={[wall - 10, floor]}
          b={[wall - 10, p.y(q.bottom_m)]}
          text={ruled(q.bottom_m, system)}
        />
      )}
      {q && (
        <Rule
          a={[
            p.x(-(side === "front" ? scene.rim_x_m / 2 : halfAt(scene, scene.height_m)[1])),
            floor + 22,
          ]}
          b={[p.x(side === "front" ? q.x_m : q.y_m), floor + 22]}
          text={ruled(
            side === "front" ? scene.rim_x_m / 2 + q.x_m : halfAt(scene, scene.height_m)[1] + q.y_m,
            system,
          )}
        />
      )}
    </g>
  );
}

/** One dimension: its line with ticks, the thin lines that lead to it, and its length. */
function Rule({
  a,
  b,
  from,
  to,
  text,
}: {
  a: Point;
  b: Point;
  from?: Point;
  to?: Point;
  text: string;
}) {
  const upright = a[0] === b[0];
  const tick = (c: Point) => (upright ? `M${c[0] - 4} ${c[1]}h8` : `M${c[0]} ${c[1] - 4}v8`);
  const [mx, my] = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  const lead = (c: Point, d: Point) =>
    upright ? `M${c[0]} ${c[1]}H${d[0]}` : `M${c[0]} ${c[1]}V${d[1]}`;
  return (
    <g>
      <path
        d={`M${a[0]} ${a[1]}L${b[0]} ${b[1]}${tick(a)}${tick(b)}`}
        stroke="var(--ink)"
        strokeWidth="1.2"
      />
      {from && to && (
        <path
          d={lead(from, a) + lead(to, b)}
          stroke="var(--ink)"
          strokeWidth="0.7"
          strokeDasharray="2 3"
          opacity="0.6"
        />
      )}
      <text
        x={mx}
        y={my}
        dy={upright ? -3 : 14}
        transform={upright ? `rotate(-90 ${mx} ${my})` : undefined}
        textAnchor="middle"
        fontSize="14"
        className="sign"
        fill="var(--ink)"
        stroke="var(--sheet)"
        strokeWidth="3"
        paintOrder="stroke"
      >
        {text}
      </text>
    </g>
  );
}

export function Under({ side, scene, facets, p }: OrthoProps & { p: Paper }) {
  return (
    <svg className="absolute inset-0 h-full w-full" aria-hidden="true">
      <Liquid scene={scene} side={side} p={p} />
      <Hanging scene={scene} side={side} p={p} />
      {!facets && <Pieces scene={scene} side={side} p={p} fill="var(--rust)" />}
    </svg>
  );
}
