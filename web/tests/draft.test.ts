import assert from "node:assert/strict";
import test from "node:test";
import "./browser";
import { type Draft, step } from "@/features/plan/draft/reducer";
import { assumed as known, saidAgain, saidWithout } from "@/shared/form/said";
import { plan } from "./scene";

const fresh = (): Draft => ({ doc: plan(), base: 1, past: [], future: [], dirty: false, edits: 0 });

test("a change is one step back, and forward again", () => {
  const made = step(fresh(), { do: "put", pointer: "/name", value: "Latch" });
  assert.equal(made.doc.name, "Latch");
  assert.ok(made.dirty);
  const back = step(made, { do: "undo" });
  assert.equal(back.doc.name, undefined);
  assert.equal(step(back, { do: "redo" }).doc.name, "Latch");
});

test("a new change forgets what was undone", () => {
  let d = step(fresh(), { do: "put", pointer: "/name", value: "One" });
  d = step(d, { do: "undo" });
  d = step(d, { do: "put", pointer: "/name", value: "Two" });
  assert.equal(step(d, { do: "redo" }).doc.name, "Two");
  assert.equal(step(d, { do: "undo" }).doc.name, undefined);
});

test("letters typed into one field are one step, those of another are their own", () => {
  let d = fresh();
  ["8", "8 i", "8 in"].forEach((text, k) => {
    d = step(d, { do: "type", pointer: "/pieces/0/shape/length_m", text, at: 200 * k });
  });
  d = step(d, { do: "type", pointer: "/mix/concentration_kg_m3", text: "5", at: 700 });
  assert.equal(d.past.length, 2);
  assert.deepEqual(step(d, { do: "undo" }).doc.typed, { "/pieces/0/shape/length_m": "8 in" });
  d = step(d, { do: "type", pointer: "/mix/concentration_kg_m3", text: "50", at: 6000 });
  assert.equal(d.past.length, 3, "after a while it is another step");
});

test("what is typed while it is being saved stays, with its way back", () => {
  const sent = step(fresh(), { do: "put", pointer: "/name", value: "Latch" });
  const saved = { do: "saved", doc: sent.doc, base: 2, edits: sent.edits } as const;
  // tidied by the server meanwhile: nobody typed
  const tidied = step(sent, { do: "tidy", sent: sent.doc, tidied: { ...sent.doc } });
  assert.deepEqual([step(tidied, saved).dirty, step(tidied, saved).base], [false, 2]);
  const typed = step(sent, { do: "put", pointer: "/name", value: "Latch, left" });
  const after = step(typed, saved);
  assert.deepEqual([after.doc.name, after.base, after.dirty], ["Latch, left", 2, true]);
  assert.equal(step(after, { do: "undo" }).doc.name, "Latch");
  assert.equal(step(step(sent, { do: "undo" }), saved).dirty, true, "taken back meanwhile");
});

test("what another changed meanwhile is a step of its own, and is not lost to what is typed", () => {
  const sent = step(fresh(), { do: "put", pointer: "/name", value: "Latch" });
  const both = { ...sent.doc, notes: "theirs" };
  const saved = { do: "saved", doc: both, base: 3, edits: sent.edits, brought: true } as const;
  const after = step(sent, saved);
  assert.deepEqual([after.doc.notes, after.base, after.dirty], ["theirs", 3, false]);
  const back = step(after, { do: "undo" });
  assert.deepEqual([back.doc.name, back.doc.notes, back.dirty], ["Latch", undefined, true]);
  const typed = step(sent, { do: "put", pointer: "/name", value: "Latch, left" });
  const on = step(typed, saved);
  assert.deepEqual([on.doc.name, on.base], ["Latch, left", 1], "from what it knows");
});

test("the same step of the same draft is the same draft", () => {
  const d = fresh();
  const s = { do: "type", pointer: "/name", text: "Latch", at: 5 } as const;
  assert.deepEqual(step(d, s), step(d, s));
});

test("what is changed, typed or picked as it stood is said, and the rest stays assumed", () => {
  const assumed = { ...fresh(), doc: { ...plan(), said: ["/pieces/0/shape"] } };
  const said = (d: Draft, at: string) => !known(d.doc.said, at);
  let d = step(assumed, { do: "put", pointer: "/mix/product", value: plan().mix?.product });
  assert.ok(said(d, "/mix/product"), "picked as it stood");
  assert.ok(!said(d, "/mix/temperature_c"));
  d = step(d, { do: "type", pointer: "/supply/rated_a", text: "8 A", at: 0 });
  assert.ok(said(d, "/supply/rated_a"));
  d = step(d, { do: "replace", doc: { ...d.doc, place: { ...d.doc.place, lid: false } } as never });
  assert.ok(said(d, "/place/lid"));
  // of another shape the sizes are only assumed again
  assert.ok(said(d, "/pieces/0/shape/length_m"));
  d = step(d, { do: "put", pointer: "/pieces/0/shape", value: { kind: "ring" } });
  assert.ok(said(d, "/pieces/0/shape/kind"));
  assert.ok(!said(d, "/pieces/0/shape/outer_diameter_m"));
  assert.equal(step(fresh(), { do: "put", pointer: "/name", value: "x" }).doc.said, plan().said);
});

test("what was said of a piece goes with it", () => {
  const said = ["/pieces/0/metal", "/pieces/1/shape", "/pieces/2/paint", "/mix"];
  assert.deepEqual(saidWithout(said, "/pieces", 1), ["/pieces/0/metal", "/pieces/1/paint", "/mix"]);
  assert.deepEqual(saidAgain(said, "/pieces", 2), [...said.slice(0, 3), "/pieces/3/paint", "/mix"]);
  assert.equal(saidWithout(null, "/pieces", 0), undefined);
});

test("what the server read takes the draft's place only while nothing else was typed", () => {
  const sent = fresh();
  const tidied = { ...plan(), name: "tidied" };
  assert.equal(step(sent, { do: "tidy", sent: sent.doc, tidied }).doc.name, "tidied");
  const on = step(sent, { do: "put", pointer: "/name", value: "typed meanwhile" });
  assert.equal(step(on, { do: "tidy", sent: sent.doc, tidied }).doc.name, "typed meanwhile");
});

test("tidying is no step of its own", () => {
  const d = fresh();
  const tidied = step(d, { do: "tidy", sent: d.doc, tidied: plan() });
  assert.equal(tidied.past.length, 0);
  assert.ok(!tidied.dirty);
});

test("a saved plan is clean, and its way back stays", () => {
  const made = step(fresh(), { do: "put", pointer: "/name", value: "Latch" });
  const saved = step(made, { do: "saved", doc: made.doc, base: 2, edits: made.edits });
  assert.deepEqual([saved.dirty, saved.base, saved.past.length], [false, 2, 1]);
});

test("a variant set aside comes back as one step, or is let go", () => {
  let d = step(fresh(), { do: "set_aside" });
  d = step(d, { do: "put", pointer: "/name", value: "Variant" });
  assert.equal(step(d, { do: "keep_this" }).aside, undefined);
  const back = step(d, { do: "go_back" });
  assert.equal(back.doc.name, undefined);
  assert.equal(step(back, { do: "undo" }).doc.name, "Variant");
});

test("a hundred steps back are kept, and no more", () => {
  let d = fresh();
  for (let k = 0; k < 130; k++) d = step(d, { do: "put", pointer: "/name", value: `${k}` });
  assert.equal(d.past.length, 100);
});
