import type { Choices } from "@/shared/api/client";

/**
 * A plan on its way into the shop, and from there into a bath: one save at a time, or a plan that is
 * pressed twice is two plans. What is pressed meanwhile is done next; who wanted a bath gets one, however
 * many saves come between. Pure: what is to be done comes back beside where it stands.
 */
export interface Wanted {
  /** A bath is set up on it once it is saved. */
  start: boolean;
  /** The revision that it starts from, where another was saved meanwhile. */
  from?: number;
  choices?: Choices;
}

/** A revision as it was saved. */
export interface SavedAs {
  id: string;
  revision: number;
}

export type Saving =
  | { at: "rest" }
  | { at: "saving"; wanted: Wanted; next?: Wanted; goesTo?: string }
  | { at: "starting"; plan: SavedAs; next?: Wanted }
  | { at: "refused"; wanted: Wanted; error: Error }
  | { at: "not_started"; plan: SavedAs; error: Error };

export type Happened =
  | { is: "pressed"; wanted: Wanted }
  /** ``dirty``: it was changed since it was sent; ``first``: it is a new plan. */
  | { is: "saved"; plan: SavedAs; dirty: boolean; first: boolean }
  | { is: "started"; run: string }
  | { is: "failed"; error: Error }
  | { is: "let_be" };

export type ToDo =
  | { do: "save"; wanted: Wanted }
  | { do: "start"; plan: SavedAs }
  /** ``stays``: the page stays as it is under an address of its own. */
  | { do: "open"; path: string; stays: boolean };

type Step = [Saving, ToDo[]];
const REST: Saving = { at: "rest" };

export const isBusy = (s: Saving) => s.at === "saving" || s.at === "starting";

/** What went wrong with a save, or with the bath that was to follow; undefined where nothing did. */
export const errorOf = (s: Saving, at: "refused" | "not_started") =>
  s.at === at ? s.error : undefined;

/** Whoever wanted a bath before still does. */
const both = (one: Wanted | undefined, other: Wanted): Wanted => ({
  ...other,
  start: other.start || (one?.start ?? false),
});

export function saving(s: Saving, e: Happened): Step {
  switch (e.is) {
    case "pressed":
      if (s.at === "saving") return [{ ...s, next: both(s.next, e.wanted) }, []];
      if (s.at === "starting") {
        // it has its bath already; what was changed is saved behind it
        return [{ ...s, next: { ...e.wanted, start: false } }, []];
      }
      return [{ at: "saving", wanted: e.wanted }, [{ do: "save", wanted: e.wanted }]];
    case "saved":
      return s.at === "saving" ? afterSave(s, e) : [s, []];
    case "started": {
      if (s.at !== "starting") return [s, []];
      const path = `/runs/${e.run}`;
      if (!s.next) return [REST, [{ do: "open", path, stays: false }]];
      return [{ at: "saving", wanted: s.next, goesTo: path }, [{ do: "save", wanted: s.next }]];
    }
    case "failed":
      if (s.at === "saving") {
        // the bath is there and is opened; what was not saved stays as a draft
        if (s.goesTo) return [REST, [{ do: "open", path: s.goesTo, stays: false }]];
        return [{ at: "refused", wanted: both(s.next, s.wanted), error: e.error }, []];
      }
      if (s.at === "starting") return [{ at: "not_started", plan: s.plan, error: e.error }, []];
      return [s, []];
    case "let_be":
      return isBusy(s) ? [s, []] : [REST, []];
  }
}

function afterSave(
  s: Extract<Saving, { at: "saving" }>,
  e: Extract<Happened, { is: "saved" }>,
): Step {
  const { wanted, next, goesTo } = s;
  if (next && e.dirty) {
    const more = both(wanted, next);
    return [
      { at: "saving", wanted: more, ...(goesTo && { goesTo }) },
      [{ do: "save", wanted: more }],
    ];
  }
  if (goesTo) return [REST, [{ do: "open", path: goesTo, stays: false }]];
  if (wanted.start || next?.start) {
    return [{ at: "starting", plan: e.plan }, [{ do: "start", plan: e.plan }]];
  }
  return [REST, e.first ? [{ do: "open", path: `/plans/${e.plan.id}`, stays: true }] : []];
}
