import assert from "node:assert/strict";
import test, { beforeEach } from "node:test";
import { onLocked, opened } from "@/shared/api/client";
import { flush, freshId, makeEntry, onSent, post, takeOut } from "@/shared/api/outbox";
import { json, serve } from "./browser";

interface Kept {
  runId: string;
  refused?: string;
  entry: { client_id: string };
}
const waiting = (): Kept[] => JSON.parse(localStorage.getItem("yb.outbox") ?? "[]");
const reading = (amps: number) => makeEntry({ kind: "reading", current_a: amps });
const problem = (title: string, detail: string) => ({ type: "urn:t", title, detail, status: 409 });

beforeEach(() => {
  for (const p of waiting()) takeOut(p.entry.client_id);
});

test("an entry is kept before it is sent, and gone once the server has it", async () => {
  const seen: string[] = [];
  serve(async (request) => {
    assert.equal(waiting().length, 1, "kept first");
    seen.push((await request.json()).client_id);
    return json({ id: "r1" });
  });
  const told: unknown[] = [];
  const stop = onSent((run) => told.push(run));
  const entry = reading(2.4);
  assert.deepEqual(await post("r1", entry), { id: "r1" });
  stop();
  assert.deepEqual([seen, told, waiting()], [[entry.client_id], [{ id: "r1" }], []]);
});

test("what waits goes in the order in which it was typed", async () => {
  serve(() => Promise.reject(new TypeError("no connection")));
  for (const amps of [1, 2, 3]) await post("r1", reading(amps));
  const amps: number[] = [];
  serve(async (request) => {
    amps.push((await request.json()).detail.current_a);
    return json({});
  });
  await flush();
  assert.deepEqual(amps, [1, 2, 3]);
});

test("without a connection it stays, and nothing is said against it", async () => {
  serve(() => Promise.reject(new TypeError("no connection")));
  assert.equal(await post("r1", reading(1)), null);
  assert.deepEqual(
    waiting().map((p) => p.refused),
    [undefined],
  );
});

test("what the server refuses stays with the reason, and the next goes on", async () => {
  serve(async (request) => {
    const { detail } = await request.json();
    return detail.current_a > 5 ? json(problem("No", "Not now: it is off."), 409) : json({});
  });
  await post("r1", reading(9));
  await post("r1", reading(1));
  assert.deepEqual(
    waiting().map((p) => p.refused),
    ["Not now: it is off."],
  );
});

for (const [status, what] of [
  [401, "the passcode is asked for"],
  [413, "it is too much at once"],
  [429, "it is too often"],
] as const)
  test(`where ${what} an entry waits and is not refused`, async () => {
    serve(() => json(problem("Later", "Later."), status));
    let asked = 0;
    const stop = onLocked(() => {
      asked += 1;
    });
    await post("r1", reading(1));
    stop();
    assert.equal(asked, status === 401 ? 1 : 0);
    assert.deepEqual(
      waiting().map((p) => p.refused),
      [undefined],
    );
    serve(() => json({}));
    opened();
    await flush();
    assert.deepEqual(waiting(), []);
  });

test("two sendings at once send each entry once", async () => {
  let calls = 0;
  serve(async () => {
    calls += 1;
    await new Promise((done) => setTimeout(done, 5));
    return json({});
  });
  await Promise.all([post("r1", reading(1)), flush(), flush()]);
  assert.equal(calls, 1);
});

test("ids are long, and never the same", () => {
  const ids = new Set(Array.from({ length: 500 }, freshId));
  assert.equal(ids.size, 500);
  assert.ok([...ids].every((id) => /^[0-9a-f]{32}$/.test(id)));
});
