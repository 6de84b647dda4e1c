import { createContext, useContext, useSyncExternalStore } from "react";
import {
  Away,
  deviceNow,
  failure,
  type Plan,
  problemIn,
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
  private known: Facets | null = null;
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

  /** The hand is off: what it held is the plan's now, answered once more with all there is. */
  release() {
    const { held } = this.state;
    this.set({ held: null });
    if (held) this.ask(held);
  }

  ask(doc: Plan, { ready = false, stamp = performance.now() } = {}) {
    this.waiting = { doc, ready, stamp };
    if (!this.busy) void this.work();
  }

  /** The next is on its way before the page follows the last: it is drawn while the server works. */
  private async work() {
    this.busy = true;
    let follow: (() => void) | undefined;
    for (let next = this.waiting; next; next = this.waiting) {
      this.waiting = null;
      const answer = this.answer(next);
      follow?.();
      follow = await answer;
    }
    follow?.();
    this.busy = false;
  }

  /** Ask and paint; returns what is left for the page to follow. */
  private async answer({ doc, ready, stamp }: Wanted): Promise<() => void> {
    const sent = performance.now();
    try {
      const out = await post({
        document: doc,
        mesh: this.known?.mesh ?? "",
        ready,
        brief: this.state.held !== null,
      });
      const answered = performance.now();
      const facets = out.field ? decode(out.field.shown, this.known) : null;
      this.known = facets ?? this.known;
      if (facets && this.painter?.(facets) && !ready) {
        const detail = { waited: sent - stamp, answered: answered - sent };
        performance.measure("yb.live", { start: stamp, end: performance.now(), detail });
      }
      return () =>
        this.set({ doc, read: out.read, field: out.field, facets, lost: false, problem: "" });
    } catch (e) {
      if (e instanceof Away) return () => this.lose(doc);
      if (e instanceof Refused && e.problem.type.endsWith("superseded")) return () => {};
      return () => this.set({ problem: e instanceof Error ? e.message : String(e) });
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

/** By itself, since the fetch has to be begun at once and not after a turn of the loop. */
async function post(body: {
  document: Plan;
  mesh: string;
  ready: boolean;
  brief: boolean;
}): Promise<Schemas["LiveOut"]> {
  let response: Response;
  try {
    response = await fetch("/api/plans/live", {
      method: "POST",
      headers: { "Content-Type": "application/json", ...deviceNow() },
      body: JSON.stringify({ ...body, drag: drag("live") }),
    });
  } catch {
    throw new Away();
  }
  if (response.ok) return (await response.json()) as Schemas["LiveOut"];
  throw failure(response.status, await problemIn(response));
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
    JSON.stringify([d.pieces, d.tank, d.mix, d.anodes, d.layout, d.supply, d.place, d.system]);
  return of(a) === of(b);
}
