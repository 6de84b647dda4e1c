import type { Plan, SceneOut } from "@/shared/api/client";
import { freshId } from "@/shared/api/outbox";
import { putAt, typedWithout } from "@/shared/form/put";
import { halfAt, keptInside, type Point } from "@/shared/scene/shape";

export type Grip =
  | { kind: "anode"; id: string }
  | { kind: "piece"; id: string; face?: string }
  | { kind: "tide" };
export type Guide = { axis: "x" | "y"; at: number; why: string };

export const sameGrip = (a: Grip | null, b: Grip): boolean =>
  a?.kind === b.kind && ("id" in b ? a !== null && "id" in a && a.id === b.id : true);

/** The document with its scrap standing where it was set out, to be moved one by one. */
export function byHand(doc: Plan, tidied: Plan): Plan {
  if (doc.layout?.arrangement === "by_hand") return doc;
  return putAt(putAt(doc, "/anodes", tidied.anodes), "/layout/arrangement", "by_hand");
}

export function indexOf(doc: Plan, grip: Grip): number {
  if (grip.kind === "tide") return -1;
  const list: readonly { id?: string }[] | undefined =
    grip.kind === "anode" ? doc.anodes : doc.pieces;
  return list?.findIndex((x) => x.id === grip.id) ?? -1;
}

function with2(doc: Plan, base: string, values: Record<string, unknown>): Plan {
  return Object.entries(values).reduce((d, [key, v]) => putAt(d, `${base}/${key}`, v), doc);
}

/** An anode or a piece put at a spot [m] from the middle, kept inside the tank. */
export function movedTo(doc: Plan, scene: SceneOut, grip: Grip, at: Point): Plan {
  const k = indexOf(doc, grip);
  if (k < 0 || grip.kind === "tide") return doc;
  const [x, y] = keptInside(scene, at, halfOf(scene, grip));
  const base = grip.kind === "anode" ? `/anodes/${k}` : `/pieces/${k}`;
  return with2(doc, base, { x_m: round(x), y_m: round(y) });
}

export function halfOf(scene: SceneOut, grip: Grip): Point {
  if (grip.kind === "piece") {
    const p = scene.pieces.find((x) => x.id === grip.id);
    return p ? [p.size_x_m / 2, p.size_y_m / 2] : [0, 0];
  }
  const r = grip.kind === "anode" ? scene.rods.find((x) => x.id === grip.id) : undefined;
  if (!r) return [0, 0];
  const turn = (r.turn_deg * Math.PI) / 180;
  const [c, s] = [Math.abs(Math.cos(turn)), Math.abs(Math.sin(turn))];
  return [r.half_x_m * c + r.half_y_m * s, r.half_x_m * s + r.half_y_m * c];
}

/** A piece hung with its lower edge at a height [m]. */
export function raisedTo(doc: Plan, scene: SceneOut, id: string, bottom: number): Plan {
  const k = indexOf(doc, { kind: "piece", id });
  if (k < 0) return doc;
  const kept = Math.min(Math.max(bottom, 0), scene.height_m);
  return putAt(doc, `/pieces/${k}/bottom_m`, round(kept));
}

export function turnedTo(doc: Plan, id: string, deg: number): Plan {
  const k = indexOf(doc, { kind: "piece", id });
  const kept = ((((deg + 180) % 360) + 360) % 360) - 180;
  return k < 0 ? doc : putAt(doc, `/pieces/${k}/turn_deg`, Math.round(kept * 10) / 10);
}

/** The liquid to stand at a height [m], piece in. */
export function poured(doc: Plan, scene: SceneOut, level: number): Plan {
  const kept = round(Math.min(Math.max(level, 0.02), scene.height_m - 0.002));
  return with2(doc, "/tank", { level_m: kept, water_m3: null });
}

export function without(doc: Plan, id: string): Plan {
  const k = (doc.anodes ?? []).findIndex((a) => a.id === id);
  const anodes = (doc.anodes ?? []).filter((a) => a.id !== id);
  if (k < 0 || !anodes.length) return doc;
  return { ...doc, anodes, typed: typedWithout(doc.typed, "/anodes", k) };
}

/** Another anode like the last, across the middle from it, or where there is room. */
export function withOneMore(doc: Plan, scene: SceneOut): Plan {
  const anodes = doc.anodes ?? [];
  const last = anodes.at(-1);
  if (!last || anodes.length >= 40) return doc;
  const id = `a${freshId().slice(0, 8)}`; // never one that is or was another's
  const free = (at: Point) =>
    anodes.every((a) => Math.hypot((a.x_m ?? 0) - at[0], (a.y_m ?? 0) - at[1]) > 0.02);
  const [x, y] = [last.x_m ?? 0, last.y_m ?? 0];
  const tries: Point[] = [[-x, -y], [x, -y], [-x, y]]; // biome-ignore format: one line reads as one
  const reach = Math.min(...halfAt(scene, scene.level_m)) * 0.85;
  for (let t = 0; t < 12; t++) {
    tries.push([reach * Math.cos((t * Math.PI) / 6), reach * Math.sin((t * Math.PI) / 6)]);
  }
  const at = keptInside(
    scene,
    tries.find(free) ?? [0, 0],
    halfOf(scene, { kind: "anode", id: last.id }),
  );
  return { ...doc, anodes: [...anodes, { ...last, id, x_m: round(at[0]), y_m: round(at[1]) }] };
}

/** Tenths of a millimetre: finer than anyone can hang it. */
const round = (m: number): number => Math.round(m * 1e4) / 1e4;

/** The spot pulled to halves, to other things' lines and to equal spacing, and why. */
export function snapped(
  scene: SceneOut,
  grip: Grip,
  at: Point,
  near: number,
): { at: Point; guides: Guide[] } {
  const others = [
    ...scene.rods.filter((r) => grip.kind !== "anode" || r.id !== grip.id),
    ...scene.pieces.filter((p) => grip.kind !== "piece" || p.id !== grip.id),
  ];
  const [hx, hy] = halfAt(scene, scene.level_m);
  const half = halfOf(scene, grip);
  const guides: Guide[] = [];
  const out: Point = [...at];
  (["x", "y"] as const).forEach((axis, k) => {
    const own = others.map((o) => (axis === "x" ? o.x_m : o.y_m));
    const wall = (k ? hy : hx) - (half[k] as number) - 0.002;
    const lines: [number, string][] = [
      [0, "the middle"],
      [wall, "the wall"],
      [-wall, "the wall"],
      ...own.map((v): [number, string] => [v, "in line"]),
      ...own.map((v): [number, string] => [-v, "opposite"]),
      ...spaced(own),
    ];
    const [best, why] = lines.reduce((a, b) =>
      Math.abs(b[0] - (at[k] as number)) < Math.abs(a[0] - (at[k] as number)) ? b : a,
    );
    if (Math.abs(best - (at[k] as number)) > near) return;
    out[k] = best;
    guides.push({ axis, at: best, why });
  });
  return { at: out, guides };
}

/** Half way between two neighbours. */
function spaced(values: readonly number[]): [number, string][] {
  const sorted = [...new Set(values)].sort((a, b) => a - b);
  return sorted.slice(1).map((v, k) => [(v + (sorted[k] as number)) / 2, "equal spacing"]);
}
