import type { SceneOut } from "@/shared/api/client";
import type { Side } from "./flat";
import { type Paper, wallPath } from "./paper";
import { halfAt } from "./shape";

/** The bath drawn to scale, part by part: under the hand, on the card, in print and beside a run. */
interface Drawn {
  scene: SceneOut;
  side: Side;
  p: Paper;
}

const across = (side: Side, x: number, y: number) => (side === "end" ? y : x);

export function Liquid({ scene, side, p, opacity = 0.32 }: Drawn & { opacity?: number }) {
  return (
    <path
      className="liquid-move"
      d={`${wallPath(scene, side, p, scene.level_m)}z`}
      fill="var(--liquid)"
      fillOpacity={opacity}
    />
  );
}

/** The bar over an upright view, and what hangs from it. */
export function Hanging({ scene, side, p }: Drawn) {
  if (side === "above") return null;
  const bar = p.y(scene.height_m * 1.05);
  const half = halfAt(scene, scene.height_m)[side === "end" ? 1 : 0] * p.k;
  return (
    <path
      d={`M${p.x(0) - half - 8} ${bar}H${p.x(0) + half + 8}${scene.pieces
        .map((q) => `M${p.x(across(side, q.x_m, q.y_m))} ${bar}V${p.y(q.bottom_m + q.size_z_m)}`)
        .join("")}`}
      stroke="var(--line)"
      strokeWidth="2"
    />
  );
}

/** The pieces as boxes; ``clean`` of each from its left on is filled dark. */
export function Pieces({
  scene,
  side,
  p,
  fill,
  edge,
  clean = 0,
}: Drawn & { fill: string; edge?: string; clean?: number }) {
  return scene.pieces.map((q) => {
    const above = side === "above";
    const [u, v] = above
      ? [p.x(q.x_m), p.y(q.y_m)]
      : [p.x(across(side, q.x_m, q.y_m)), p.y(q.bottom_m + q.size_z_m / 2)];
    const wide = (above ? q.foot_x_m : side === "end" ? q.size_y_m : q.size_x_m) * p.k;
    const tall = (above ? q.foot_y_m : q.size_z_m) * p.k;
    const [w, h] = [Math.max(wide, 2), Math.max(tall, 2)];
    const at = { x: u - w / 2, y: v - h / 2, height: h };
    return (
      <g key={q.id} transform={above ? `rotate(${-q.turn_deg} ${u} ${v})` : undefined}>
        <rect {...at} width={w} fill={fill} stroke={edge} strokeWidth={edge && 1.5} />
        {clean > 0 && <rect {...at} width={w * Math.min(clean, 1)} fill="var(--ink)" />}
      </g>
    );
  });
}

type Rod = SceneOut["rods"][number];

export function Anode({
  r,
  n,
  scene,
  side,
  p,
  on,
  ink,
}: {
  ink: string;
  r: Rod;
  /** Its number, told beside it. */
  n: number | null;
  scene: SceneOut;
  side: Side;
  p: Paper;
  on: boolean;
}) {
  const look = { fill: "var(--steel)", stroke: ink, strokeWidth: on ? 3 : 1.2 };
  const turn = (r.turn_deg * Math.PI) / 180;
  const label = (x: number, y: number) =>
    n !== null && (
      <text
        x={x}
        y={y}
        fontSize="13"
        className="sign pointer-events-none"
        textAnchor="middle"
        fill="var(--ink)"
      >
        +{n}
      </text>
    );
  if (side === "above") {
    const [x, y] = [p.x(r.x_m), p.y(r.y_m)];
    const [w, h] = [Math.max(r.half_x_m * p.k, 2), Math.max(r.half_y_m * p.k, 2)];
    const inward = Math.hypot(r.x_m, r.y_m) || 1;
    const tag = r.kind === "rod" || r.kind === "plate";
    const off = tag ? Math.max(w, h) + 10 : 0;
    return (
      <g>
        {r.kind === "ring" ? (
          <circle
            cx={x}
            cy={y}
            r={w}
            fill="none"
            stroke="var(--steel)"
            strokeWidth={Math.max(r.diameter_m * p.k, 3)}
          />
        ) : (
          <>
            {tag && <circle cx={x} cy={y} r={Math.max(w, h, 21)} fill="transparent" />}
            {r.kind === "rod" ? (
              <circle cx={x} cy={y} r={Math.max(w, 4)} {...look} />
            ) : (
              <rect
                x={x - w}
                y={y - h}
                width={2 * w}
                height={2 * h}
                transform={`rotate(${-r.turn_deg} ${x} ${y})`}
                {...look}
              />
            )}
            <circle
              className="ring opacity-0"
              cx={x}
              cy={y}
              r={Math.max(w, h) + 6}
              fill="none"
              stroke="var(--focus)"
              strokeWidth="3"
            />
          </>
        )}
        {label(x - (r.x_m / inward) * off * 1.3, y + (r.y_m / inward) * off + 4)}
      </g>
    );
  }
  const half =
    side === "front"
      ? Math.abs(r.half_x_m * Math.cos(turn)) + Math.abs(r.half_y_m * Math.sin(turn))
      : Math.abs(r.half_x_m * Math.sin(turn)) + Math.abs(r.half_y_m * Math.cos(turn));
  const u = p.x(side === "front" ? r.x_m : r.y_m);
  const w = Math.max(half * p.k, 2);
  const top = p.y(r.high_m ?? scene.height_m * 1.05);
  const tall = Math.max(p.y(r.low_m) - top, 2);
  const nearer = side === "front" ? r.y_m < 0 : r.x_m > 0;
  return (
    <g>
      <rect
        x={u - Math.max(w, 10)}
        y={top}
        width={2 * Math.max(w, 10)}
        height={tall}
        fill="transparent"
      />
      <rect
        x={u - w}
        y={top}
        width={2 * w}
        height={tall}
        {...look}
        fillOpacity={nearer ? 0.55 : 0.25}
        strokeDasharray={nearer ? undefined : "4 3"}
      />
      <rect
        className="ring opacity-0"
        x={u - w - 4}
        y={top - 4}
        width={2 * w + 8}
        height={tall + 8}
        fill="none"
        stroke="var(--focus)"
        strokeWidth="3"
      />
      {label(u + (nearer ? -9 : 9), top - 3)}
    </g>
  );
}
