import { shade } from "./colour";
import { type Facets, ownerOf } from "./facets";

export type Side = "above" | "front" | "end" | "below" | "back" | "left";

/** What a side sees of a surface: its pieces that face it, far to near, as plane points [m]. */
export interface Flat {
  mesh: string;
  side: Side;
  order: Uint32Array;
  points: Float32Array;
}

/** Across and up [m] on paper, and how near to the eye. */
export function projected(side: Side, x: number, y: number, z: number): [number, number, number] {
  switch (side) {
    case "above":
      return [x, y, z];
    case "below":
      return [x, -y, -z];
    case "front":
      return [x, z, -y];
    case "back":
      return [-x, z, y];
    case "left":
      return [-y, z, -x];
    case "end":
      return [y, z, x];
  }
}

export function flatten(f: Facets, side: Side): Flat {
  const n = f.corners.length / 12;
  const points = new Float32Array(n * 8);
  const depth = new Float32Array(n);
  const seen: number[] = [];
  for (let k = 0; k < n; k++) {
    let turned = 0;
    for (let c = 0; c < 4; c++) {
      const at = 12 * k + 3 * c;
      const [u, v, w] = projected(
        side,
        (f.corners[at] as number) / 1000,
        (f.corners[at + 1] as number) / 1000,
        (f.corners[at + 2] as number) / 1000,
      );
      points[8 * k + 2 * c] = u;
      points[8 * k + 2 * c + 1] = v;
      depth[k] = (depth[k] as number) + w;
    }
    for (let c = 0; c < 4; c++) {
      const [a, b] = [8 * k + 2 * c, 8 * k + 2 * ((c + 1) % 4)];
      turned +=
        (points[a] as number) * (points[b + 1] as number) -
        (points[b] as number) * (points[a + 1] as number);
    }
    if (turned > 0) seen.push(k);
  }
  seen.sort((a, b) => (depth[a] as number) - (depth[b] as number));
  return { mesh: f.mesh, side, order: new Uint32Array(seen), points };
}

/** Fill the pieces that a side sees with their colours. */
export function fill(
  c: CanvasRenderingContext2D,
  flat: Flat,
  f: Facets,
  top: number,
  to: (u: number, v: number) => [number, number],
) {
  const p = flat.points;
  c.lineWidth = 0.6;
  for (const k of flat.order) {
    c.fillStyle = shade(f.values[ownerOf(f, k)] ?? 0, top);
    c.strokeStyle = c.fillStyle;
    c.beginPath();
    for (let i = 8 * k; i < 8 * k + 8; i += 2) {
      const [x, y] = to(p[i] as number, p[i + 1] as number);
      if (i === 8 * k) c.moveTo(x, y);
      else c.lineTo(x, y);
    }
    c.closePath();
    c.fill();
    c.stroke();
  }
}
