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

/** A side's pieces filled once, to be laid down where the hand has them; ``corner`` is its upper
 * left one on the plane [m]. */
export interface Picture {
  canvas: HTMLCanvasElement;
  corner: [number, number];
  of: readonly unknown[];
}

const EDGE = 2; // px round it, for the strokes

/** The picture of a side at ``k`` px a metre, ``last`` again where nothing of it is new. */
export function picture(
  flat: Flat,
  f: Facets,
  top: number,
  k: number,
  last: Picture | null,
): Picture {
  const of = [flat, f.values, top, k];
  if (last && of.every((x, i) => x === last.of[i])) return last;
  const [us, vs] = [0, 1].map((a) => flat.points.filter((_, i) => i % 2 === a));
  const span = (row: Float32Array | undefined): [number, number] => [
    row?.reduce((a, b) => Math.min(a, b), Infinity) ?? 0,
    row?.reduce((a, b) => Math.max(a, b), -Infinity) ?? 0,
  ];
  const [[u0, u1], [v0, v1]] = [span(us), span(vs)];
  const canvas = document.createElement("canvas");
  canvas.width = Math.ceil((u1 - u0) * k) + 2 * EDGE;
  canvas.height = Math.ceil((v1 - v0) * k) + 2 * EDGE;
  const c = canvas.getContext("2d");
  if (c) fill(c, flat, f, top, (u, v) => [(u - u0) * k + EDGE, (v1 - v) * k + EDGE]);
  return { canvas, corner: [u0 - EDGE / k, v1 + EDGE / k], of };
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
  c.lineWidth = 1.2; // over the hair between two pieces, which shows what is behind
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
