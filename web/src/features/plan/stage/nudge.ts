import type { KeyboardEvent } from "react";
import type { SceneOut } from "@/shared/api/client";
import type { Side } from "@/shared/scene/flat";
import { useHand } from "./hand";
import { type Grip, movedTo, poured, raisedTo, turnedTo, without } from "./moves";

const WAYS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** Keys on a thing in the tank: arrows 1 mm, with shift 10 mm; [ and ] turn; delete takes away. */
export function useNudge(scene: SceneOut, select: (grip: Grip | null) => void) {
  const hand = useHand();
  return (e: KeyboardEvent, grip: Grip, side: Side) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const way = WAYS[e.key];
    const by = e.shiftKey ? 0.01 : 0.001;
    if (way) {
      e.preventDefault();
      const [u, v] = [way[0] * by, way[1] * by];
      if (grip.kind === "tide") hand.once(grip, (d) => poured(d, scene, scene.level_m + v));
      else if (v && side !== "above" && grip.kind === "piece") {
        const q = scene.pieces.find((x) => x.id === grip.id);
        if (q) hand.once(grip, (d) => raisedTo(d, scene, grip.id, q.bottom_m + v));
      } else {
        const it = [...scene.rods, ...scene.pieces].find((x) => x.id === grip.id);
        if (!it) return;
        const [dx, dy] = side === "end" ? [0, u] : [u, side === "above" ? v : 0];
        hand.once(grip, (d) => movedTo(d, scene, grip, [it.x_m + dx, it.y_m + dy]));
      }
    } else if ((e.key === "[" || e.key === "]") && grip.kind === "piece") {
      const q = scene.pieces.find((x) => x.id === grip.id);
      if (q) hand.once(grip, (d) => turnedTo(d, grip.id, q.turn_deg + (e.key === "]" ? -1 : 1)));
    } else if ((e.key === "{" || e.key === "}") && grip.kind === "piece") {
      const q = scene.pieces.find((x) => x.id === grip.id);
      if (q) hand.once(grip, (d) => turnedTo(d, grip.id, q.turn_deg + (e.key === "}" ? -15 : 15)));
    } else if ((e.key === "Delete" || e.key === "Backspace") && grip.kind === "anode") {
      e.preventDefault();
      hand.once(grip, (d) => without(d, grip.id));
      select(null);
    } else if (e.key === "Escape") select(null);
  };
}
