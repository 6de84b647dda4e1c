import assert from "node:assert/strict";
import test from "node:test";
import "./browser";
import type { Schemas } from "@/shared/api/client";
import { pageOf } from "@/shared/pages";
import { rgb, STOPS, shade } from "@/shared/scene/colour";
import { chanceAt, comingClean } from "@/shared/scene/coming";
import {
  along,
  decode,
  type Facets,
  mapped,
  ownerOf,
  regionOf,
  regionOfFacet,
  unpack,
} from "@/shared/scene/facets";

const packed = (values: ArrayLike<number>, as: "f" | "b" | "h" = "f") => {
  const array =
    as === "f"
      ? new Float32Array(values)
      : as === "h"
        ? new Uint16Array(values)
        : new Uint8Array(values);
  return Buffer.from(array.buffer).toString("base64");
};
const shown = (more: Partial<Schemas["FacetsOut"]> = {}) =>
  ({
    mesh: "m1",
    x_m: 0.1,
    y_m: -0.2,
    values: packed([10, 20]),
    corners: packed(Array.from({ length: 24 }, (_, k) => k)),
    owner: packed([0, 0, 1], "h"),
    regions: ["front", "back"],
    region: packed([1, 0], "b"),
    ...more,
  }) as Schemas["FacetsOut"];
const opened = (more?: Partial<Schemas["FacetsOut"]>) => decode(shown(more)) as Facets;

test("a scale goes from its first colour to its last, and no further", () => {
  const hex = (c: string) => [1, 3, 5].map((k) => Number.parseInt(c.slice(k, k + 2), 16));
  const last = STOPS.at(-1) as string;
  assert.deepEqual([...rgb(0, 5)], hex(STOPS[0] as string));
  assert.deepEqual([...rgb(5, 5)], hex(last));
  assert.deepEqual([rgb(-1, 5), rgb(9, 5)], [rgb(0, 5), rgb(5, 5)]);
  assert.equal(shade(5, 5), `rgb(${hex(last).join(" ")})`);
});

test("more current is lighter at every step, whatever eye sees it", () => {
  const light = ([r, g, b]: readonly number[]) =>
    0.2126 * (r as number) + 0.7152 * (g as number) + 0.0722 * (b as number);
  const steps = Array.from({ length: 60 }, (_, k) => light(rgb(k, 59)));
  for (let k = 1; k < steps.length; k++)
    assert.ok((steps[k] as number) > (steps[k - 1] as number), `${k}`);
});

test("a surface is unpacked as it was sent", () => {
  const f = opened();
  assert.deepEqual([...f.values], [10, 20]);
  assert.equal(f.corners.length, 24);
  assert.deepEqual([f.place, f.mesh], [[0.1, -0.2], "m1"]);
  assert.deepEqual(
    [0, 1, 2].map((k) => ownerOf(f, k)),
    [0, 0, 1],
  );
  assert.deepEqual(
    [0, 1, 2].map((k) => regionOf(f, k)),
    ["back", "back", "front"],
  );
  assert.deepEqual([...unpack(packed([1.5, -2]))], [1.5, -2]);
});

test("without its corners it is the surface that the page has, if it has that one", () => {
  const known = opened();
  const moved = decode(shown({ corners: null, values: packed([3, 4]), x_m: 0 }), known);
  assert.deepEqual([...(moved?.values ?? [])], [3, 4]);
  assert.deepEqual([moved?.corners, moved?.place], [known.corners, [0, -0.2]]);
  assert.equal(decode(shown({ corners: null, mesh: "m2" }), known), null);
  assert.equal(decode(shown({ corners: null })), null);
});

test("pieces that are facets own themselves; a place without a region has none", () => {
  const f = opened({ owner: null, region: null });
  assert.deepEqual([ownerOf(f, 1), regionOf(f, 1), regionOfFacet(f, 0)], [1, undefined, undefined]);
});

test("other values stand on the same surface", () => {
  const f = opened();
  const doubled = mapped(f, (v) => 2 * v);
  assert.deepEqual([...doubled.values], [20, 40]);
  assert.deepEqual([...f.values], [10, 20]);
  assert.equal(doubled.corners, f.corners);
});

test("a curve is straight between its points and level after the last", () => {
  const point = (density: number, share: number) => ({ density, share }) as Schemas["DosePoint"];
  const share = along([point(0, 0), point(10, 0.5), point(20, 0.6)]);
  assert.deepEqual([0, 5, 10, 15, 20].map(share), [0, 0.25, 0.5, 0.55, 0.6]);
  assert.equal(share(90), 0.6);
  assert.equal(along([])(5), 0);
  assert.equal(along([point(4, 0.2)])(2), 0.2);
});

const COMING = {
  densities: [0, 10, 20],
  hours: [2, 4],
  chance: [
    [0, 0.2, 0.4],
    [0, 0.6, 0.8],
  ],
  needs: { back: 2 },
} as unknown as Schemas["ComingOut"];

test("the chance of a spot is straight between densities and hours", () => {
  const near = (got: number, want: number) => assert.ok(Math.abs(got - want) < 1e-9, `${got}`);
  near(chanceAt(COMING, 10, 2), 0.2);
  near(chanceAt(COMING, 15, 2), 0.3);
  near(chanceAt(COMING, 10, 3), 0.4);
  near(chanceAt(COMING, 15, 4), 0.7);
  near(chanceAt(COMING, 10, 1), 0.1); // from nothing at nought
  near(chanceAt(COMING, 10, 0), 0);
  near(chanceAt(COMING, 10, -1), 0);
});

test("beyond the rows it stands at the last of them", () => {
  assert.equal(chanceAt(COMING, 99, 4), 0.8);
  assert.equal(chanceAt(COMING, 20, 99), 0.8);
});

test("a face that wants more is as far as it was at half the hours", () => {
  const f = opened({ owner: null, values: packed([10, 10]) }); // the first is of the back
  const at = comingClean(f, COMING, 4);
  assert.deepEqual([...at.values].map(Math.round), [20, 60]);
});

test("a page of the book is of a run, or of one of its pieces", () => {
  assert.equal(pageOf("r1"), "/book/r1");
  assert.equal(pageOf("r1", "p 2"), "/book/r1?piece=p%202");
});
