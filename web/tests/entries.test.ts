import assert from "node:assert/strict";
import test from "node:test";
import "./browser";
import {
  type EntryEvent,
  entries,
  nextToSend,
  type Pending,
  together,
  type Written,
} from "@/shared/api/entries";

const entry = (id: string, amps = 2): Written => ({
  client_id: id,
  at: "2026-03-01T18:00:00.000Z",
  detail: { kind: "reading", current_a: amps },
});
const written = (id: string, amps?: number): EntryEvent => ({
  is: "written",
  runId: "r1",
  entry: entry(id, amps),
});
const refused = (id: string, broke = false): EntryEvent => ({
  is: "refused",
  id,
  why: "not now",
  broke,
});
const after = (...events: EntryEvent[]) => events.reduce(entries, [] as Pending[]);
const ids = (all: readonly Pending[]) => all.map((p) => p.entry.client_id);

test("entries wait in the order in which they were written, the oldest first", () => {
  const all = after(written("a"), written("b"));
  assert.deepEqual([ids(all), nextToSend(all)?.entry.client_id], [["a", "b"], "a"]);
  assert.equal(nextToSend([]), undefined);
});

test("what the server has is gone, whichever it is", () => {
  assert.deepEqual(ids(after(written("a"), written("b"), { is: "gone", id: "a" })), ["b"]);
  assert.deepEqual(ids(after(written("a"), { is: "gone", id: "x" })), ["a"]);
});

test("what is refused stays with its reason and holds up nothing", () => {
  const all = after(written("a"), written("b"), refused("a"));
  assert.deepEqual([ids(all), all[0]?.refused], [["a", "b"], "not now"]);
  assert.equal(nextToSend(all)?.entry.client_id, "b");
});

test("tried again it is another entry, unless the server broke on it", () => {
  const again: EntryEvent = { is: "tried_again", id: "a", fresh: "z" };
  const fresh = after(written("a", 3), refused("a"), again);
  assert.deepEqual([ids(fresh), fresh[0]?.refused], [["z"], undefined]);
  assert.deepEqual(fresh[0]?.entry.detail, { kind: "reading", current_a: 3 });
  const own = after(written("a"), refused("a", true), again);
  assert.deepEqual([ids(own), own[0]?.broke], [["a"], undefined]);
});

test("mended it goes by another name, in its own place", () => {
  const all = after(written("a"), written("b"), refused("a"), {
    is: "mended",
    id: "a",
    entry: entry("c", 1.5),
  });
  assert.deepEqual(ids(all), ["c", "b"]);
  assert.equal(nextToSend(all)?.entry.client_id, "c");
});

test("put aside it keeps its words and its reason, until it is thrown away by name", () => {
  const all = after(written("a"), refused("a"), { is: "put_aside", id: "a" });
  assert.deepEqual([all[0]?.aside, all[0]?.refused], [true, "not now"]);
  assert.deepEqual(entries(all, { is: "gone", id: "a" }), []);
});

test("what another tab wrote and what the device has no room for are both here", () => {
  const [a, b] = after(written("a"), written("b")) as [Pending, Pending];
  const [c] = after(written("c")) as [Pending];
  assert.deepEqual(ids(together([a], [b, { ...c, unkept: true }])), ["a", "c"]);
  // it was kept after all, by another tab or later
  assert.deepEqual(ids(together([a, c], [{ ...c, unkept: true }])), ["a", "c"]);
});

test("nothing is lost but by its own name, in any order", () => {
  let seed = 3;
  const random = (n: number) => {
    seed = (seed * 1103515245 + 12345) % 2147483648;
    return seed % n;
  };
  for (let walk = 0; walk < 200; walk++) {
    let all: Pending[] = [];
    const amps = new Map<string, number>(); // by id, what has to be there
    for (let k = 0; k < 30; k++) {
      const known = [...amps.keys()];
      const id = known[random(Math.max(known.length, 1))];
      const fresh = `w${walk}-${k}`;
      const what = random(6);
      if (what < 2 || id === undefined) {
        amps.set(fresh, k);
        all = entries(all, written(fresh, k));
      } else if (what === 2) {
        amps.delete(id);
        all = entries(all, { is: "gone", id });
      } else if (what === 3) all = entries(all, refused(id, random(2) === 0));
      else if (what === 4) all = entries(all, { is: "put_aside", id });
      else {
        const broke = all.find((p) => p.entry.client_id === id)?.broke;
        all = entries(all, { is: "tried_again", id, fresh });
        const had = amps.get(id) ?? 0;
        if (!broke) {
          amps.delete(id);
          amps.set(fresh, had);
        }
      }
      const there = all.map((p) => [
        p.entry.client_id,
        p.entry.detail.kind === "reading" && p.entry.detail.current_a,
      ]);
      assert.deepEqual(new Map(there as [string, number][]), amps);
    }
  }
});
