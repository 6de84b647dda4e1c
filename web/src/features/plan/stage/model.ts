import type { Plan, SceneOut } from "@/shared/api/client";

/** The scene as it is in the hand: the last answer's, with what the document has moved since. */
export function inHand(scene: SceneOut, doc: Plan): SceneOut {
  const anodes = new Map((doc.anodes ?? []).map((a) => [a.id, a]));
  const byHand = doc.layout?.arrangement === "by_hand";
  const level = doc.tank?.water_m3 == null ? doc.tank?.level_m : null;
  return {
    ...scene,
    level_m: level == null ? scene.level_m : Math.min(level, scene.height_m),
    rods: scene.rods
      .filter((r) => !byHand || anodes.has(r.id))
      .map((r) => {
        const a = anodes.get(r.id);
        const free = byHand && a && (r.kind === "rod" || r.kind === "plate" || r.kind === "floor");
        return free ? { ...r, x_m: a.x_m ?? 0, y_m: a.y_m ?? 0 } : r;
      }),
    pieces: scene.pieces.map((p) => {
      const d = doc.pieces?.find((x) => x.id === p.id);
      if (!d) return p;
      return {
        ...p,
        x_m: d.x_m ?? p.x_m,
        y_m: d.y_m ?? p.y_m,
        turn_deg: d.turn_deg ?? p.turn_deg,
        bottom_m: d.bottom_m ?? p.bottom_m,
      };
    }),
  };
}

/** How a person would say where something is: from the rim's left and front edges. */
export function fromEdges(scene: SceneOut, x: number, y: number): { left: number; front: number } {
  const half = scene.round ? scene.rim_x_m / 2 : scene.rim_y_m / 2;
  return { left: x + scene.rim_x_m / 2, front: y + half };
}
