import assert from "node:assert/strict";
import test from "node:test";
import "./browser";
import {
  byHand,
  movedTo,
  poured,
  raisedTo,
  snapped,
  turnedTo,
  withOneMore,
  without,
} from "@/features/plan/stage/moves";
import { halfAt, keptInside, ruled } from "@/shared/scene/shape";
import { box, plan } from "./scene";

const A1 = { kind: "anode", id: "a1" } as const;
const at = (doc: ReturnType<typeof plan>, k: number) => [
  doc.anodes?.[k]?.x_m,
  doc.anodes?.[k]?.y_m,
];

test("a rod goes where it is put, to a tenth of a millimetre, and no further than the wall", () => {
  assert.deepEqual(at(movedTo(plan(), box(), A1, [0.05004, -0.1]), 0), [0.05, -0.1]);
  assert.deepEqual(at(movedTo(plan(), box(), A1, [9, -9]), 0), [0.194, -0.144]);
});

test("in a round tank it is kept within the circle", () => {
  const round = { ...box(), round: true, floor_x_m: 0.3, rim_x_m: 0.3 };
  const [x, y] = keptInside(round, [1, 1], [0.006, 0.006]);
  assert.ok(Math.abs(Math.hypot(x, y) - 0.144) < 1e-9);
  assert.deepEqual(keptInside(round, [0.01, 0.02], [0.006, 0.006]), [0.01, 0.02]);
});

test("a tapered wall is as wide as it is at that height", () => {
  const bucket = { ...box(), floor_x_m: 0.2, rim_x_m: 0.4 };
  assert.equal(halfAt(bucket, 0)[0], 0.1);
  assert.ok(Math.abs(halfAt(bucket, 0.175)[0] - 0.15) < 1e-12);
  assert.equal(halfAt(bucket, 9)[0], 0.2);
});

test("near a line it is pulled to it and says why, further off it is left", () => {
  const near = snapped(box(), A1, [0.004, -0.131], 0.005);
  assert.deepEqual(near.at, [0, -0.13]);
  assert.deepEqual(
    near.guides.map((g) => [g.axis, g.why]),
    [
      ["x", "the middle"],
      ["y", "opposite"],
    ],
  );
  const off = snapped(box(), A1, [0.06, -0.06], 0.005);
  assert.deepEqual([off.at, off.guides], [[0.06, -0.06], []]);
});

test("its own line does not hold it", () => {
  const held = snapped(box(), A1, [0.09, -0.128], 0.001);
  assert.ok(!held.guides.some((g) => g.axis === "x"));
});

test("scrap that was set out stands by hand once one of it is moved", () => {
  const tidied = plan();
  const made = byHand({ ...plan(), anodes: [] }, tidied);
  assert.equal(made.layout?.arrangement, "by_hand");
  assert.equal(made.anodes?.length, 2);
  assert.equal(byHand(made, plan()), made, "and then stays so");
});

test("one more stands free of the others, inside, with an id of its own", () => {
  let doc = plan();
  for (let k = 0; k < 8; k++) doc = withOneMore(doc, box());
  const spots = doc.anodes?.map((a) => [a.x_m ?? 0, a.y_m ?? 0]) ?? [];
  assert.equal(new Set(doc.anodes?.map((a) => a.id)).size, 10);
  spots.forEach(([x, y], k) => {
    assert.ok(Math.abs(x as number) <= 0.194 && Math.abs(y as number) <= 0.144);
    for (const [u, v] of spots.slice(0, k))
      assert.ok(Math.hypot((x as number) - (u as number), (y as number) - (v as number)) > 0.019);
  });
  const full = { ...plan(), anodes: Array(40).fill(plan().anodes?.[0]) };
  assert.equal(withOneMore(full, box()), full);
});

test("the last of the scrap stays", () => {
  const one = without(plan(), "a1");
  assert.deepEqual(
    one.anodes?.map((a) => a.id),
    ["a2"],
  );
  assert.equal(without(one, "a2"), one);
});

test("a piece hangs between floor and rim, and turns the short way round", () => {
  assert.equal(raisedTo(plan(), box(), "p1", -1).pieces?.[0]?.bottom_m, 0);
  assert.equal(raisedTo(plan(), box(), "p1", 5).pieces?.[0]?.bottom_m, 0.35);
  assert.equal(turnedTo(plan(), "p1", 190).pieces?.[0]?.turn_deg, -170);
  assert.equal(turnedTo(plan(), "p1", -365).pieces?.[0]?.turn_deg, -5);
});

test("a level that is chosen takes the place of the water put in", () => {
  const made = poured(plan(), box(), 0.9);
  assert.deepEqual([made.tank?.level_m, made.tank?.water_m3], [0.348, null]);
});

test("a rule reads millimetres, or inches and sixteenths", () => {
  assert.equal(ruled(0.0254, "metric"), "25 mm");
  assert.equal(ruled(12.3456, "metric"), "12.35 m");
  assert.equal(ruled(0.0254 * 2.5, "us"), "2 1/2 in");
  assert.equal(ruled(0.0254 * 0.375, "imperial"), "3/8 in");
  assert.equal(ruled(-0.0254, "us"), "−1 in");
  assert.equal(ruled(0, "us"), "0 in");
});
