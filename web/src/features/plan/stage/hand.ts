import { createContext, useContext, useMemo, useRef } from "react";
import type { Plan, SceneOut } from "@/shared/api/client";
import type { Point } from "@/shared/scene/shape";
import { useLiveStore } from "./live";
import {
  byHand,
  type Grip,
  type Guide,
  movedTo,
  poured,
  raisedTo,
  snapped,
  turnedTo,
} from "./moves";

/** What can be done to the bath with a hand or an arrow key; put down, it is one step to undo. */
export interface Hand {
  grab(grip: Grip): void;
  /** To a spot [m] as seen from above; ``near`` [m] is how far a line pulls, nought for freely. */
  move(grip: Grip, at: Point, near: number, stamp: number): Guide[];
  raise(id: string, bottom: number, stamp: number): void;
  turn(id: string, deg: number, stamp: number): void;
  pour(level: number, stamp: number): void;
  drop(): void;
  /** A change at once, as by a key. */
  once(grip: Grip, change: (doc: Plan) => Plan): void;
}

export const HandContext = createContext<Hand | null>(null);

export function useHand(): Hand {
  const hand = useContext(HandContext);
  if (!hand) throw new Error("outside a stage");
  return hand;
}

export function useMakeHand(
  doc: Plan,
  tidied: Plan | undefined,
  scene: SceneOut | undefined,
  replace: (doc: Plan, join?: string) => void,
): Hand {
  const live = useLiveStore();
  const now = useRef({ doc, tidied, scene, replace });
  now.current = { doc, tidied, scene, replace };
  return useMemo(() => {
    const start = (grip: Grip) => {
      const { doc, tidied } = now.current;
      return tidied && grip.kind === "anode" ? byHand(doc, tidied) : doc;
    };
    let from: Plan | null = null; // what was grabbed; nothing is held until it moves
    const base = () => live.get().held ?? from ?? now.current.doc;
    const hold = (next: Plan, stamp: number) => live.hold(next, stamp);
    return {
      grab: (grip) => {
        from = start(grip);
      },
      move(grip, at, near, stamp) {
        const { scene } = now.current;
        if (!scene) return [];
        const pulled = near > 0 ? snapped(scene, grip, at, near) : { at, guides: [] };
        hold(movedTo(base(), scene, grip, pulled.at), stamp);
        return pulled.guides;
      },
      raise(id, bottom, stamp) {
        const { scene } = now.current;
        if (scene) hold(raisedTo(base(), scene, id, bottom), stamp);
      },
      turn: (id, deg, stamp) => hold(turnedTo(base(), id, deg), stamp),
      pour(level, stamp) {
        const { scene } = now.current;
        if (scene) hold(poured(base(), scene, level), stamp);
      },
      drop() {
        const { held } = live.get();
        from = null;
        if (held && JSON.stringify(held) !== JSON.stringify(now.current.doc))
          now.current.replace(held);
        live.release();
      },
      once(grip, change) {
        const next = change(start(grip));
        live.ask(next);
        now.current.replace(next, `${grip.kind}${"id" in grip ? grip.id : ""}`);
      },
    };
  }, [live]);
}
