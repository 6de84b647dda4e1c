import { useId } from "react";
import type { SceneOut } from "@/shared/api/client";

/** End view and view from above, to scale, as on a workshop drawing. */
export function Drawing({ scene, cleanShare = 0 }: { scene: SceneOut; cleanShare?: number }) {
  const rusty = useId(); // the page holds two drawings, one of them only in print
  const wide = Math.max(scene.rim_x_m, scene.floor_x_m);
  const deep = widest(scene);
  const k = Math.min(190 / wide, 150 / Math.max(scene.height_m, deep));
  const gapX = 24;
  const width = (wide + deep) * k + gapX + 36;
  const height = Math.max(scene.height_m, deep) * k + 34;
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      className="block max-h-44 w-full"
      role="img"
      aria-label={`Tank from the end and from above: liquid ${scene.level_text} deep, ${scene.rods.length} rods, ${scene.gap_text} between rod and piece.`}
    >
      <defs>
        <pattern
          id={rusty}
          width="5"
          height="5"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width="5" height="5" fill="var(--sheet)" />
          <path d="M0 0V5" stroke="var(--rust)" strokeWidth="3.4" />
        </pattern>
      </defs>
      <Side rusty={rusty} scene={scene} k={k} x0={18} base={height - 20} cleanShare={cleanShare} />
      <Above
        rusty={rusty}
        scene={scene}
        k={k}
        cx={18 + deep * k + gapX + (wide * k) / 2}
        cy={8 + (deep * k) / 2}
      />
      <text
        x={18 + (deep * k) / 2}
        y={height - 4}
        className="sign"
        fontSize="12"
        textAnchor="middle"
        fill="var(--ink-2)"
      >
        from the end
      </text>
      <text
        x={18 + deep * k + gapX + (wide * k) / 2}
        y={height - 4}
        className="sign"
        fontSize="12"
        textAnchor="middle"
        fill="var(--ink-2)"
      >
        from above
      </text>
    </svg>
  );
}

/** Width of the tank [m] from its end, where it is widest. */
function widest(scene: SceneOut): number {
  return 2 * Math.max(...scene.wall.map((p) => p.half_y_m));
}

/** Half the width [m] of the tank at a height, straight between the points of its wall. */
function halfAt(scene: SceneOut, z: number): number {
  const over = scene.wall.findIndex((p) => p.z_m >= z);
  const b = scene.wall.at(over);
  const a = scene.wall[Math.max(over - 1, 0)];
  if (!a || !b || over < 0 || b.z_m <= a.z_m) return b?.half_y_m ?? 0;
  return a.half_y_m + ((b.half_y_m - a.half_y_m) * (z - a.z_m)) / (b.z_m - a.z_m);
}

interface View {
  rusty: string;
  scene: SceneOut;
  k: number;
}

function Side({
  rusty,
  scene,
  k,
  x0,
  base,
  cleanShare,
}: View & { x0: number; base: number; cleanShare: number }) {
  const wide = widest(scene) * k;
  const mid = x0 + wide / 2;
  const h = scene.height_m * k;
  const half = (z: number) => halfAt(scene, z) * k;
  const upTo = (top: number) => {
    const points = scene.wall.filter((p) => p.z_m < top);
    points.push({ z_m: top, half_y_m: halfAt(scene, top) });
    const right = points.map((p) => `${mid + p.half_y_m * k} ${base - p.z_m * k}`);
    const left = points.map((p) => `${mid - p.half_y_m * k} ${base - p.z_m * k}`).reverse();
    return `M${[...left, ...right].join("L")}`;
  };
  const level = scene.level_m;
  const barY = base - h - 5;
  return (
    <g>
      <path className="liquid-move" d={`${upTo(level)}z`} fill="var(--liquid)" />
      <path
        d={`M${mid - half(scene.height_m) - 8} ${barY}H${mid + half(scene.height_m) + 8}`}
        stroke="var(--line)"
        strokeWidth="4"
      />
      {scene.pieces.map((p) => (
        <path
          key={p.id}
          d={`M${mid + p.y_m * k} ${barY}V${base - (p.bottom_m + p.size_z_m) * k}`}
          stroke="var(--ink)"
          strokeWidth="1.2"
        />
      ))}
      {scene.rods.map((r) => {
        const turn = (r.turn_deg * Math.PI) / 180;
        const half = Math.max(
          (Math.abs(r.half_x_m * Math.sin(turn)) + Math.abs(r.half_y_m * Math.cos(turn))) * k,
          1,
        );
        const top = r.high_m == null ? barY : base - r.high_m * k;
        return (
          <rect
            key={r.id}
            x={mid + r.y_m * k - half}
            y={top}
            width={2 * half}
            height={Math.max(base - r.low_m * k - top, 2)}
            fill="var(--steel)"
            stroke="var(--ink)"
            strokeWidth="1"
          />
        );
      })}
      {scene.pieces.map((p) => {
        const at = {
          x: mid + (p.y_m - p.size_y_m / 2) * k,
          y: base - (p.bottom_m + p.size_z_m) * k,
          height: Math.max(p.size_z_m * k, 1.5),
        };
        const wide = p.size_y_m * k;
        const clean = Math.min(cleanShare, 1);
        return (
          <g key={p.id}>
            <rect
              {...at}
              width={wide}
              fill={`url(#${rusty})`}
              stroke="var(--ink)"
              strokeWidth="1.5"
            />
            {clean > 0 && <rect {...at} width={wide * clean} fill="var(--ink)" />}
          </g>
        );
      })}
      <path d={upTo(scene.height_m)} fill="none" stroke="var(--line)" strokeWidth="2.5" />
      <path
        d={`M${mid - half(level) - 6} ${base - level * k}H${mid + half(level) + 6}`}
        stroke="var(--ink)"
        strokeWidth="1.2"
        strokeDasharray="7 3"
      />
    </g>
  );
}

function Above({ rusty, scene, k, cx, cy }: View & { cx: number; cy: number }) {
  const share = scene.level_m / scene.height_m;
  const at = (a: number, b: number) => (a + (b - a) * share) * k;
  const w = at(scene.floor_x_m, scene.rim_x_m);
  const d = 2 * halfAt(scene, scene.level_m) * k;
  const shape = { fill: "var(--liquid)", stroke: "var(--line)", strokeWidth: 2.5 };
  return (
    <g>
      {scene.round ? (
        <circle cx={cx} cy={cy} r={w / 2} {...shape} />
      ) : (
        <rect x={cx - w / 2} y={cy - d / 2} width={w} height={d} {...shape} />
      )}
      {scene.rods
        .filter((r) => r.kind !== "bore")
        .map((r) => (
          <Scrap key={r.id} r={r} k={k} cx={cx} cy={cy} />
        ))}
      {scene.pieces.map((p) => (
        <rect
          key={p.id}
          x={cx + (p.x_m - p.size_x_m / 2) * k}
          y={cy - p.y_m * k - Math.max(p.size_y_m * k, 2) / 2}
          width={p.size_x_m * k}
          height={Math.max(p.size_y_m * k, 2)}
          fill={`url(#${rusty})`}
          stroke="var(--ink)"
          strokeWidth="1.5"
        />
      ))}
      {scene.rods
        .filter((r) => r.kind === "bore")
        .map((r) => (
          <Scrap key={r.id} r={r} k={k} cx={cx} cy={cy} />
        ))}
      {scene.pieces.map((p) => (
        <text
          key={p.id}
          x={cx + p.x_m * k}
          y={cy - p.y_m * k - Math.max(p.size_y_m * k, 2) / 2 - 4}
          textAnchor="middle"
          className="sign"
          fontSize="14"
          fill="var(--on-liquid)"
        >
          −
        </text>
      ))}
    </g>
  );
}

/** One anode from above: a rod, a plate on edge, a plate lying, a ring or a rod in a bore. */
function Scrap({
  r,
  k,
  cx,
  cy,
}: {
  r: SceneOut["rods"][number];
  k: number;
  cx: number;
  cy: number;
}) {
  const x = cx + r.x_m * k;
  const y = cy - r.y_m * k; // the front, -y, is nearest to the reader
  const look = { fill: "var(--steel)", stroke: "var(--ink)" };
  const w = Math.max(r.half_x_m * k, 1.2);
  const h = Math.max(r.half_y_m * k, 1.2);
  if (r.kind === "ring") {
    return (
      <g>
        <circle cx={x} cy={y} r={w} fill="none" stroke="var(--ink)" strokeWidth="4.5" />
        <circle cx={x} cy={y} r={w} fill="none" stroke="var(--steel)" strokeWidth="2.5" />
      </g>
    );
  }
  return (
    <g>
      {r.kind === "rod" ? (
        <circle cx={x} cy={y} r={Math.max((r.diameter_m * k) / 2, 3)} {...look} />
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
      <text
        x={x + (r.x_m > 0.01 ? -6 - w : 6 + w)}
        y={y + 4}
        textAnchor={r.x_m > 0.01 ? "end" : "start"}
        className="sign"
        fontSize="12"
        fill="var(--on-liquid)"
      >
        +
      </text>
    </g>
  );
}
