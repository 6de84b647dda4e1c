import type { Schemas } from "@/shared/api/client";

/** A tank's true silhouette, filled with yellow to the share of the dose that is done. */
export function TankShape({
  outline,
  share,
  size = 44,
}: {
  outline: Schemas["OutlineOut"] | null;
  share: number;
  size?: number;
}) {
  const scene = outline ?? PLAIN;
  const widest = Math.max(scene.rim_x_m, scene.height_m);
  const k = (size - 4) / widest;
  const rim = scene.rim_x_m * k;
  const floor = scene.floor_x_m * k;
  const h = scene.height_m * k;
  const fill = Math.min(Math.max(share, 0), 1) * h;
  const at = (y: number) => floor + ((rim - floor) * y) / h;
  const mid = rim / 2 + 2;
  const base = h + 3;
  const top = at(fill);
  return (
    <svg width={rim + 4} height={h + 6} aria-hidden="true" className="shrink-0">
      {fill > 0.5 && (
        <path
          className="liquid-move"
          d={`M${mid - floor / 2} ${base}L${mid - top / 2} ${base - fill}H${mid + top / 2}L${mid + floor / 2} ${base}z`}
          fill="var(--liquid)"
        />
      )}
      <path
        d={`M${mid - rim / 2} 3L${mid - floor / 2} ${base}H${mid + floor / 2}L${mid + rim / 2} 3`}
        fill="none"
        stroke="currentColor"
        strokeWidth="2"
      />
      {scene.round && (
        <path
          d={`M${mid - rim / 2 - 1} 4H${mid + rim / 2 + 1}`}
          stroke="currentColor"
          strokeWidth="1"
          strokeDasharray="3 2"
        />
      )}
    </svg>
  );
}

/** Any tank, while its own shape is not known. */
const PLAIN = { round: false, floor_x_m: 0.3, rim_x_m: 0.3, height_m: 0.3 };
