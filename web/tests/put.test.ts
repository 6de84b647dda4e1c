import assert from "node:assert/strict";
import test from "node:test";
import "./browser";
import { differs, places, titleOf, valueAt } from "@/shared/form/context";
import { putAll, putAt, typeAt, typedWithout } from "@/shared/form/put";
import { plan } from "./scene";

test("a star stands for every member of a list", () => {
  assert.deepEqual(places(plan(), "/anodes/*/x_m"), ["/anodes/0/x_m", "/anodes/1/x_m"]);
  const made = putAt(plan(), "/anodes/*/material", "graphite");
  assert.deepEqual(
    made.anodes?.map((a) => a.material),
    ["graphite", "graphite"],
  );
});

test("a value of several is theirs only where they agree", () => {
  assert.equal(valueAt(plan(), "/anodes/*/kind"), "rod");
  assert.equal(valueAt(plan(), "/anodes/*/y_m"), undefined);
  assert.ok(differs(plan(), "/anodes/*/y_m"));
  assert.ok(!differs(plan(), "/anodes/*/kind"));
});

test("what was typed under a place goes when the place is set, and nothing else", () => {
  const typed = typeAt(typeAt(plan(), "/anodes/*/x_m", "10 mm"), "/tank/level_m", "20 cm");
  const made = putAt(typed, "/anodes/0", { id: "a1" });
  assert.deepEqual(made.typed, { "/anodes/1/x_m": "10 mm", "/tank/level_m": "20 cm" });
});

test("a copy shares nothing with what it was made from", () => {
  const before = plan();
  const value = { kind: "bar" };
  const made = putAll(before, [{ pointer: "/pieces/0/shape", value }]);
  value.kind = "tube";
  assert.equal(made.pieces?.[0]?.shape?.kind, "bar");
  assert.equal(before.pieces?.[0]?.shape?.kind, "plate");
});

test("a place that is not there yet is made", () => {
  const made = putAt(plan(), "/mix/product", "baking_soda");
  assert.equal(made.mix?.product, "baking_soda");
});

test("a bath is called by its pieces, else by its plan", () => {
  const named = (...names: string[]) => ({ name: "Plan", pieces: names.map((name) => ({ name })) });
  assert.equal(titleOf(named("Latch") as never), "Latch");
  assert.equal(titleOf(named("Latch", "Key") as never), "Latch and Key");
  assert.equal(titleOf(named("Latch", "Key", "Bolt") as never), "Latch, Key and 1 more");
  assert.equal(titleOf(named("", "") as never), "Plan");
});

test("texts typed into a list's members go with them", () => {
  const typed = { "/pieces/0/mass_kg": "1 k", "/pieces/1/mass_kg": "2 lb", "/pieces/2/shape/length_m": "x", "/mix/ph": "7" }; // biome-ignore format: one line
  assert.deepEqual(typedWithout(typed, "/pieces", 1), {
    "/pieces/0/mass_kg": "1 k",
    "/pieces/1/shape/length_m": "x",
    "/mix/ph": "7",
  });
  assert.deepEqual(typedWithout(undefined, "/pieces", 0), {});
});
