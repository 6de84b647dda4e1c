import type { SceneOut } from "@/shared/api/client";
import type { Side } from "./flat";
import { halfAt, outlineAt } from "./shape";

export interface Paper {
  w: number;
  h: number;
  k: number;
  x: (u: number) => number;
  y: (v: number) => number;
}

/** How the tank lies on the paper: true to scale, with room for the rules at its left and foot. */
export function paper(scene: SceneOut, side: Side, w: number, h: number): Paper {
  const [wide, tall] = extent(scene, side);
  const k = Math.max(Math.min((w - 62) / wide, (h - 56) / tall), 1);
  const mid = 40 + (w - 50) / 2;
  const foot = side === "above" ? 8 + (h - 46) / 2 : h - 40;
  return { w, h, k, x: (u) => mid + u * k, y: (v) => foot - v * k };
}

/** The same without rules, at so many units a metre, in the middle of its place. */
export function plainPaper(side: Side, w: number, h: number, k: number): Paper {
  const foot = side === "above" ? h / 2 : h - 4;
  return { w, h, k, x: (u) => w / 2 + u * k, y: (v) => foot - v * k };
}

/** How wide and tall a view is [m], with the bar over an upright one. */
export function extent(scene: SceneOut, side: Side): [number, number] {
  const across = (z: number) => 2 * halfAt(scene, z)[1];
  const wide =
    side === "end" ? Math.max(across(scene.height_m), across(scene.height_m / 2)) : scene.rim_x_m;
  const above = scene.round ? scene.rim_x_m : scene.rim_y_m;
  return [wide, side === "above" ? above : scene.height_m * 1.08];
}

/** Upright views show the wall's section, the view from above its rim. */
export function wallPath(scene: SceneOut, side: Side, p: Paper, upTo: number): string {
  if (side === "above")
    return `M${outlineAt(scene, upTo)
      .map(([x, y]) => `${p.x(x)} ${p.y(y)}`)
      .join("L")}z`;
  const along = side === "front" ? 0 : 1;
  const heights = [...scene.wall.map((w) => w.z_m).filter((z) => z < upTo), upTo];
  const right = heights.map((z) => `${p.x(halfAt(scene, z)[along])} ${p.y(z)}`);
  const left = heights.map((z) => `${p.x(-halfAt(scene, z)[along])} ${p.y(z)}`).reverse();
  return `M${[...left, ...right].join("L")}`;
}
