import { createContext, useContext, useSyncExternalStore } from "react";
import {
  Away,
  api,
  ask,
  type Plan,
  type ReadOut,
  Refused,
  type Schemas,
} from "@/shared/api/client";
import { drag } from "@/shared/api/drag";
import { decode, type Facets } from "@/shared/scene/facets";

export interface LiveState {
  /** What the hand holds, not yet put down; drawn at once, answered as fast as the server can. */
  held: Plan | null;
  /** What the newest answer is to, and the answer. */
  doc: Plan | null;
  read: ReadOut | null;
  field: Schemas["LiveFieldOut"] | null;
  facets: Facets | null;
  lost: boolean;
  problem: string;
}

const EMPTY: LiveState = {
  held: null,
  doc: null,
  read: null,
  field: null,
  facets: null,
  lost: false,
  problem: "",
};

interface Wanted {
  doc: Plan;
  ready: boolean;
  stamp: number;
}

/** Answers while something moves: one request under way, and of those waiting only the newest. */
export class Live {
  state = EMPTY;
  /** Writes a new map's colours before anything else follows; true where it did. */
  painter: ((facets: Facets) => boolean) | null = null;
  private listeners = new Set<() => void>();
  private waiting: Wanted | null = null;
  private frame = 0;
  private busy = false;
  private again: ReturnType<typeof setTimeout> | undefined;

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => {
      this.listeners.delete(listener);
    };
  };
  get = () => this.state;

  private set(change: Partial<LiveState>) {
    cancelAnimationFrame(this.frame);
    this.frame = 0;
    this.state = { ...this.state, ...change };
    for (const listener of this.listeners) listener();
  }

  /** Draw this with the next frame and have it answered; ``stamp`` is when the hand moved [ms]. */
  hold(doc: Plan, stamp: number) {
    this.state = { ...this.state, held: doc };
    if (document.documentElement.dataset.rendering !== "paused")
      this.frame ||= requestAnimationFrame(() => this.set({}));
    this.ask(doc, { stamp });
  }

  /** The hand is off: what it held is the plan's now. */
  release() {
    this.set({ held: null });
  }

  ask(doc: Plan, { ready = false, stamp = performance.now() } = {}) {
    this.waiting = { doc, ready, stamp };
    if (!this.busy) void this.work();
  }

  private async work() {
    this.busy = true;
    for (let next = this.waiting; next; next = this.waiting) {
      this.waiting = null;
      await this.answer(next);
    }
    this.busy = false;
  }

  private async answer({ doc, ready, stamp }: Wanted) {
    const sent = performance.now();
    try {
      const out = await ask(
        api.POST("/api/plans/live", {
          body: {
            document: { ...doc },
            mesh: this.state.facets?.mesh ?? "",
            ready,
            drag: drag("live"),
          },
        }),
      );
      const answered = performance.now();
      const facets = out.field ? decode(out.field.shown, this.state.facets) : null;
      if (facets && this.painter?.(facets) && !ready) {
        const detail = { waited: sent - stamp, answered: answered - sent };
        performance.measure("yb.live", { start: stamp, end: performance.now(), detail });
      }
      this.set({ doc, read: out.read, field: out.field, facets, lost: false, problem: "" });
    } catch (e) {
      if (e instanceof Away) this.lose(doc);
      else if (!(e instanceof Refused && e.problem.type.endsWith("superseded")))
        this.set({ problem: e instanceof Error ? e.message : String(e) });
    }
  }

  /** The server is away: the newest is asked again until it answers. */
  private lose(doc: Plan) {
    this.set({ lost: true });
    clearTimeout(this.again);
    this.again = setTimeout(() => this.ask(this.state.held ?? doc), 1500);
  }

  stop() {
    clearTimeout(this.again);
    this.waiting = null;
  }
}

export const LiveContext = createContext<Live | null>(null);

export function useLiveStore(): Live {
  const live = useContext(LiveContext);
  if (!live) throw new Error("outside a plan");
  return live;
}

export function useLive(): LiveState {
  const live = useLiveStore();
  return useSyncExternalStore(live.subscribe, live.get);
}

/** Whether two documents are the same bath, whatever was typed to get there. */
export function sameBath(a: Plan | null | undefined, b: Plan | null | undefined): boolean {
  if (!a || !b) return false;
  if (a === b) return true;
  const of = (d: Plan) =>
    JSON.stringify([d.pieces, d.tank, d.mix, d.anodes, d.placing, d.supply, d.place, d.system]);
  return of(a) === of(b);
}
