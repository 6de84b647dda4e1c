/**
 * What time it is: the device's, or in a practice the practice's own, which runs ahead of it. Which
 * practice this tab is in, if any, is kept with the tab.
 */

const STORE = "yb.practice";

interface Kept {
  id: string;
  /** By how much its clock is ahead of the device's [ms]. */
  ahead: number;
}

function load(): Kept | null {
  try {
    return JSON.parse(sessionStorage.getItem(STORE) ?? "null") as Kept | null;
  } catch {
    return null;
  }
}

let kept = load();

/** The practice that this tab is in. */
export const practiceId = () => kept?.id ?? "";

export const timeNow = () => new Date(Date.now() + (kept?.ahead ?? 0));

/** This tab is in a practice, whose clock says this; with none it is back in the shop. */
export function setPractice(id: string, now?: Date) {
  kept = id && now ? { id, ahead: now.getTime() - Date.now() } : null;
  if (kept) sessionStorage.setItem(STORE, JSON.stringify(kept));
  else sessionStorage.removeItem(STORE);
}
