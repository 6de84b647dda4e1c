import type { ThingOut } from "@/shared/api/client";

const W = 56;
const H = 48;

/** A thing as it hangs on the board: tanks true in outline, what is left as a level or a length. */
export function Picture({ thing }: { thing: ThingOut }) {
  return (
    <svg viewBox={`0 0 ${W} ${H}`} width={W} height={H} aria-hidden="true" className="shrink-0">
      <Drawn thing={thing} />
    </svg>
  );
}

const LINE = { fill: "none", stroke: "var(--ink)", strokeWidth: 2 } as const;

function Drawn({ thing }: { thing: ThingOut }) {
  const d = thing.read.thing.detail;
  const share = Math.min(Math.max(thing.left ?? 1, 0), 1);
  switch (d.kind) {
    case "tank":
      return <path d={outline(d.tank?.shape)} {...LINE} />;
    case "supply":
      return d.supply?.kind === "battery" ? (
        <>
          <rect x={8} y={14} width={40} height={28} {...LINE} />
          <path d="M14 14V9h7v5M35 14V9h7v5M14 24h8M35 24h8M39 20v8" {...LINE} />
        </>
      ) : (
        <>
          <rect x={8} y={8} width={40} height={34} {...LINE} />
          <path d="M16 24a12 9 0 0 1 24 0M28 24l6-6" {...LINE} />
          <circle cx={18} cy={35} r={2.5} fill="var(--ink)" />
          <circle cx={38} cy={35} r={2.5} {...LINE} />
        </>
      );
    case "lead":
      return <path d="M6 38c14-2 6-26 20-26s6 26 24 24M4 34l-2 8M50 32l4 8" {...LINE} />;
    case "pump":
      return (
        <>
          <circle cx={20} cy={28} r={12} {...LINE} />
          <path d="M20 16H50M20 28l7-7M8 40h24" {...LINE} />
          <path d="M38 8h12v16H38zM42 8v16M46 8v16" {...LINE} />
        </>
      );
    case "anode":
      return Array.from({ length: Math.min(d.count ?? 2, 4) }, (_, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: alike, known by their place
        <g key={k}>
          <rect x={8 + 12 * k} y={4} width={6} height={40} fill="none" stroke="var(--hair)" />
          <rect
            x={8 + 12 * k}
            y={4}
            width={6}
            height={40 * share}
            fill="var(--steel)"
            stroke="var(--ink)"
          />
        </g>
      ));
    case "mix":
      return (
        <>
          <path d={`M12 ${H - 28}H44V${H - 4}H12Z`} fill="var(--liquid)" />
          <path d={`M10 6V${H - 4}H46V6`} {...LINE} />
          <path d={`M12 ${H - 28}H44`} stroke="var(--ink)" strokeDasharray="3 2" />
        </>
      );
    case "chemical":
      return (
        <>
          <rect x={14} y={8 + 36 * (1 - share)} width={28} height={36 * share} fill="var(--hair)" />
          <path d="M14 8V44H42V8M14 8l5-5h18l5 5" {...LINE} />
        </>
      );
  }
}

type Shape = NonNullable<
  Extract<ThingOut["read"]["thing"]["detail"], { kind: "tank" }>["tank"]
>["shape"];

/** The tank from the side, to its own proportions. */
function outline(shape: Shape): string {
  const s = shape ?? ({ kind: "bucket" } as NonNullable<Shape>);
  const [low, high, tall] =
    s.kind === "box"
      ? [s.length_m ?? 0.4, s.top_length_m ?? s.length_m ?? 0.4, s.height_m ?? 0.35]
      : s.kind === "drum"
        ? [s.diameter_m ?? 0.57, s.diameter_m ?? 0.57, s.height_m ?? 0.4]
        : s.kind === "bore"
          ? [s.diameter_m, s.diameter_m, s.height_m]
          : [s.floor_diameter_m ?? 0.26, s.rim_diameter_m ?? 0.29, s.height_m ?? 0.37];
  const k = Math.min((W - 6) / Math.max(low, high), (H - 6) / tall);
  const x = (half: number) => W / 2 + (half * k) / 2;
  const top = H - 3 - tall * k;
  if (s.kind === "drum") {
    const r = (low * k) / 2;
    const dip = Math.sqrt(Math.max(r * r - (tall * k - r) ** 2, 0));
    return `M${W / 2 - dip} ${top}A${r} ${r} 0 ${tall * k > r ? 1 : 0} 0 ${W / 2 + dip} ${top}`;
  }
  return `M${x(-high)} ${top}L${x(-low)} ${H - 3}H${x(low)}L${x(high)} ${top}`;
}
