import { useId } from "react";
import type { SceneOut } from "@/shared/api/client";
import { Anode, Hanging, Liquid, Pieces } from "@/shared/scene/drawn";
import type { Side } from "@/shared/scene/flat";
import { extent, plainPaper, wallPath } from "@/shared/scene/paper";
import { word } from "@/shared/words";

const VIEWS = ["end", "above"] as const;
const [WIDE, TALL, GAP] = [200, 150, 26];
const SIGN = 112; // what the words under a slender tank take

/** End view and view from above, to scale, as on a workshop drawing. */
export function Drawing({ scene, cleanShare = 0 }: { scene: SceneOut; cleanShare?: number }) {
  const sizes = VIEWS.map((side) => extent(scene, side));
  const k = Math.min(...sizes.flatMap(([w, h]) => [WIDE / w, TALL / h]));
  const places = sizes.map(([w]) => Math.max(w * k + GAP, SIGN));
  const height = Math.max(...sizes.map(([, h]) => h * k)) + 14;
  return (
    <svg
      viewBox={`0 0 ${places.reduce((a, b) => a + b)} ${height + 18}`}
      className="block max-h-44 w-full"
      role="img"
      aria-label={`Tank from the end and from above: liquid ${scene.level_text} deep, ${scene.rods.length} rods, ${scene.gap_text} between rod and piece.`}
    >
      {VIEWS.map((side, n) => (
        <g key={side} transform={`translate(${n && places[0]} 0)`}>
          <One scene={scene} side={side} w={places[n] ?? 0} h={height} k={k} clean={cleanShare} />
        </g>
      ))}
    </svg>
  );
}

interface OneProps {
  scene: SceneOut;
  side: Side;
  w: number;
  h: number;
  k: number;
  clean: number;
}

function One({ scene, side, w, h, k, clean }: OneProps) {
  const rusty = useId(); // the page may hold several drawings, some only in print
  const p = plainPaper(side, w, h, k);
  const at = { scene, side, p };
  const within = (r: SceneOut["rods"][number]) => r.kind === "bore" || scene.own_vessel;
  const [inner, outer] = [scene.rods.filter(within), scene.rods];
  // from the end they stand behind one another
  const numbered = (r: SceneOut["rods"][number]) =>
    side === "above" ? outer.indexOf(r) + 1 : null;
  const anode = (r: SceneOut["rods"][number]) => (
    <Anode key={r.id} r={r} n={numbered(r)} on={false} ink="var(--ink)" {...at} />
  );
  return (
    <>
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
      <Liquid {...at} opacity={1} />
      <Hanging {...at} />
      {outer.filter((r) => !within(r)).map(anode)}
      <Pieces
        {...at}
        fill={`url(#${rusty})`}
        edge="var(--ink)"
        clean={side === "end" ? clean : 0}
      />
      {inner.map(anode)}
      <path
        d={wallPath(scene, side, p, scene.height_m)}
        fill="none"
        stroke="var(--line)"
        strokeWidth="2.5"
      />
      <text
        x={w / 2}
        y={h + 14}
        className="sign"
        fontSize="12"
        textAnchor="middle"
        fill="var(--ink-2)"
      >
        {word(`view.${side}`)}
      </text>
    </>
  );
}
