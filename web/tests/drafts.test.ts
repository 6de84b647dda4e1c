import assert from "node:assert/strict";
import test from "node:test";
import "./browser";
import * as drafts from "@/shared/api/drafts";
import { plan } from "./scene";

const doc = (name: string) => ({ ...plan(), name });
/** A draft of another tab, which spoke so long ago [ms]. */
function other(tab: string, planId: string, name: string, ago: number, at = 1) {
  localStorage.setItem(
    `yb.draft.${planId}.${tab}`,
    JSON.stringify({ doc: doc(name), base: 3, at }),
  );
  const tabs = JSON.parse(localStorage.getItem("yb.tabs") ?? "{}");
  localStorage.setItem("yb.tabs", JSON.stringify({ ...tabs, [tab]: Date.now() - ago }));
}

test("each tab's draft of a plan is its own", () => {
  other("tab-two", "p1", "Theirs", 1_000);
  drafts.keepDraft("p1", { doc: doc("Mine"), base: 2 });
  assert.equal(drafts.takeDraft("p1")?.doc.name, "Mine");
  assert.equal(drafts.takeDraft("p1")?.base, 2);
  assert.deepEqual(
    drafts.otherDrafts("p1").map((o) => [o.draft.doc.name, o.open]),
    [["Theirs", true]],
  );
  drafts.forgetDraft("p1");
  assert.equal(drafts.takeDraft("p1"), null, "a draft that is open elsewhere is not taken");
});

test("of tabs that are gone the newest draft is taken up, and the others are offered", () => {
  other("gone-1", "p2", "Older", 3_600_000, 5);
  other("gone-2", "p2", "Newer", 3_600_000, 9);
  assert.ok(drafts.hasDraft("p2"));
  assert.equal(drafts.takeDraft("p2")?.doc.name, "Newer");
  const left = drafts.otherDrafts("p2");
  assert.deepEqual(left.map((o) => [o.draft.doc.name, o.open]), [["Older", false]]); // biome-ignore format: one line
  for (const o of left) drafts.throwAway(o);
  assert.deepEqual(drafts.otherDrafts("p2"), []);
});

test("a draft of before tabs had their own is taken up too", () => {
  localStorage.setItem("yb.draft.new", JSON.stringify({ doc: doc("Old way"), base: 0 }));
  assert.equal(drafts.takeDraft("new")?.doc.name, "Old way");
  assert.equal(localStorage.getItem("yb.draft.new"), null);
  drafts.forgetDraft("new");
});

test("a new plan's drafts are no other plan's", () => {
  drafts.keepDraft("new", { doc: doc("New"), base: 0 });
  assert.equal(drafts.takeDraft("newest"), null);
  drafts.forgetDraft("new");
});

test("a device without room says so", () => {
  const set = localStorage.setItem;
  localStorage.setItem = () => {
    throw new Error("QuotaExceededError");
  };
  assert.equal(drafts.keepDraft("p3", { doc: doc("x"), base: 1 }), false);
  localStorage.setItem = set;
  assert.equal(drafts.keepDraft("p3", { doc: doc("x"), base: 1 }), true);
});
