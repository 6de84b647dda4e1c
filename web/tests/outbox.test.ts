import assert from "node:assert/strict";
import test, { beforeEach } from "node:test";
import { onLocked, opened } from "@/shared/api/client";
import {
  flush,
  freshId,
  makeEntry,
  onSent,
  post,
  press,
  sendChanged,
  takeOut,
  tryAgain,
} from "@/shared/api/outbox";
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

test("an entry that is too large is put aside and does not keep the others", async () => {
  let calls = 0;
  serve(() => {
    calls += 1;
    return calls === 1 ? json(problem("Too large", "It is too large."), 413) : json({});
  });
  await post("r1", reading(9));
  await post("r1", reading(1));
  assert.deepEqual(
    waiting().map((p) => p.refused),
    ["It is too large."],
  );
  assert.equal(calls, 2);
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

test("pressed twice it is entered once, and pressed later it is entered again", async () => {
  const seen: number[] = [];
  serve(async (request) => {
    seen.push((await request.json()).detail.current_a);
    return json({});
  });
  const detail = { kind: "reading", current_a: 7 } as const;
  await Promise.all([press("r1", detail), press("r1", detail)]);
  await press("r2", detail);
  assert.deepEqual(seen, [7, 7]);
});

test("every request says what the device takes the time to be", async () => {
  let said = "";
  serve((request) => {
    said = request.headers.get("Device-Now") ?? "";
    return json({});
  });
  await post("r1", reading(1));
  assert.ok(Math.abs(Date.parse(said) - Date.now()) < 5_000, said);
});

test("what another tab wrote down meanwhile stays", async () => {
  serve(() => Promise.reject(new TypeError("no connection")));
  await post("r1", reading(1));
  const theirs = { runId: "r9", entry: reading(9) };
  localStorage.setItem("yb.outbox", JSON.stringify([...waiting(), theirs]));
  await post("r1", reading(2));
  assert.deepEqual(waiting().map((p) => p.runId), ["r1", "r9", "r1"]); // biome-ignore format: one line
});

test("what was not taken is sent changed under a name of its own", async () => {
  const names: string[] = [];
  serve(async (request) => {
    const { client_id, detail } = await request.json();
    names.push(client_id);
    return detail.current_a > 5 ? json(problem("No", "Too much."), 422) : json({});
  });
  const entry = reading(9);
  await post("r1", entry);
  await sendChanged(entry.client_id, new Date(0), { kind: "reading", current_a: 0.9 });
  assert.deepEqual(waiting(), []);
  assert.notEqual(names[0], names[1]);
});

test("what broke keeps its name when it is sent again, what was refused takes another", async () => {
  for (const [status, same] of [
    [500, true],
    [409, false],
  ] as const) {
    const names: string[] = [];
    serve(async (request) => {
      names.push((await request.json()).client_id);
      return names.length === 1 ? json(problem("No", "No."), status) : json({});
    });
    const entry = reading(status);
    await post("r1", entry);
    await tryAgain(entry.client_id);
    assert.equal(names[0] === names[1], same, `${status}`);
    assert.deepEqual(waiting(), []);
  }
});

test("on a device without room an entry stays on the page, and is sent", async () => {
  const set = localStorage.setItem;
  localStorage.setItem = () => {
    throw new Error("QuotaExceededError");
  };
  const seen: number[] = [];
  serve(() => Promise.reject(new TypeError("no connection")));
  await post("r1", reading(4));
  serve(async (request) => {
    seen.push((await request.json()).detail.current_a);
    return json({});
  });
  await flush();
  localStorage.setItem = set;
  assert.deepEqual(seen, [4]);
});
