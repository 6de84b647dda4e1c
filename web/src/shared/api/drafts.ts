/**
 * Plans that are not saved yet, kept on this device: each tab has its own draft of each plan, with
 * the revision it started from. One whose tab is gone is an orphan, which another tab may take up.
 */
import { practiceId } from "../clock";
import type { Plan } from "./client";
import { freshId } from "./outbox";

export interface KeptDraft {
  doc: Plan;
  base: number;
  aside?: Plan | undefined;
  /** When it was last changed [ms]. */
  at: number;
}

export interface Orphan {
  key: string;
  draft: KeptDraft;
  /** Another tab has it open. */
  open: boolean;
}

const TABS = "yb.tabs";
const ALIVE = 150_000; // ms: a browser lets a tab in the back speak once a minute
const BEAT = 5_000;

function tabs(): Record<string, number> {
  try {
    return JSON.parse(localStorage.getItem(TABS) ?? "{}") as Record<string, number>;
  } catch {
    return {};
  }
}

function beat(alive: boolean) {
  const now = Date.now();
  const others = Object.entries(tabs()).filter(([id, at]) => id !== TAB && now - at < ALIVE);
  put(TABS, JSON.stringify(Object.fromEntries(alive ? [...others, [TAB, now]] : others)));
}

function put(key: string, text: string): boolean {
  try {
    localStorage.setItem(key, text);
    return true;
  } catch {
    return false; // a full store is not worth losing the page for
  }
}

const isAlive = (tab: string) => Date.now() - (tabs()[tab] ?? 0) < ALIVE;

/** This tab's name: the same after a reload, another in a tab that was made as a copy of this. */
function tabName(): string {
  const held = sessionStorage.getItem("yb.tab");
  const name = held && !isAlive(held) ? held : freshId().slice(0, 12);
  sessionStorage.setItem("yb.tab", name);
  return name;
}

const TAB = tabName();
beat(true);
setInterval(() => beat(true), BEAT);
window.addEventListener("pagehide", () => beat(false));
window.addEventListener("pageshow", () => beat(true));

const start = (planId: string) => `yb.draft.${practiceId()}${planId}.`;
const own = (planId: string) => start(planId) + TAB;

function read(key: string): KeptDraft | null {
  try {
    const text = localStorage.getItem(key);
    const found = text ? (JSON.parse(text) as KeptDraft) : null;
    return found?.doc ? { ...found, at: found.at ?? 0 } : null;
  } catch {
    return null;
  }
}

/** Every draft of a plan but this tab's own, the newest first. */
export function otherDrafts(planId: string): Orphan[] {
  const keys = Array.from({ length: localStorage.length }, (_, k) => localStorage.key(k) ?? "");
  return keys
    .filter((key) => isOther(key, planId))
    .flatMap((key) => {
      const draft = read(key);
      return draft ? [{ key, draft, open: isAlive(key.slice(start(planId).length)) }] : [];
    })
    .sort((a, b) => b.draft.at - a.draft.at);
}

/** Drafts of before tabs had their own stand under the plan's name alone. */
const isOther = (key: string, planId: string) =>
  (key.startsWith(start(planId)) && key !== own(planId)) || key === `yb.draft.${planId}`;

/** This tab's draft of a plan; else the newest whose tab is gone, which then is this tab's. */
export function takeDraft(planId: string): KeptDraft | null {
  const mine = read(own(planId));
  if (mine) return mine;
  const orphan = otherDrafts(planId).find((o) => !o.open);
  if (!orphan) return null;
  keepDraft(planId, orphan.draft);
  localStorage.removeItem(orphan.key);
  return orphan.draft;
}

/** Kept at once; false where the device has no room, and the page alone holds it. */
export function keepDraft(planId: string, draft: Omit<KeptDraft, "at"> & { at?: number }): boolean {
  const { doc, base, aside, at = Date.now() } = draft;
  return put(own(planId), JSON.stringify({ doc, base, aside, at }));
}

export const hasDraft = (planId: string) =>
  read(own(planId)) !== null || otherDrafts(planId).some((o) => !o.open);

export function forgetDraft(planId: string) {
  localStorage.removeItem(own(planId));
}

/** By hand, for good. */
export function throwAway(orphan: Orphan) {
  localStorage.removeItem(orphan.key);
}
