import assert from "node:assert/strict";
import test from "node:test";
import { Away, Later, Locked, onLocked, Refused } from "@/shared/api/client";
import { lines } from "@/shared/api/lines";
import { json, serve } from "./browser";

const signal = new AbortController().signal;
const asked = (each: (line: unknown) => void = () => {}) =>
  lines("/api/plans/turns", { body: "{}", signal }, each);

test("lines are told as they come, wherever the pieces are cut", async () => {
  const text = '{"done":1}\n{"done":2,"words":"Größe"}\n{"done":3}\n';
  const bytes = new TextEncoder().encode(text);
  for (const size of [1, 3, 7, 1000]) {
    serve(
      () =>
        new Response(
          new ReadableStream({
            start(stream) {
              for (let k = 0; k < bytes.length; k += size) stream.enqueue(bytes.slice(k, k + size));
              stream.close();
            },
          }),
        ),
    );
    const seen: unknown[] = [];
    await asked((line) => seen.push(line));
    assert.deepEqual(seen, [{ done: 1 }, { done: 2, words: "Größe" }, { done: 3 }]);
  }
});

test("what comes with a refusal is told as everywhere else", async () => {
  const problem = { type: "urn:t", title: "No", detail: "Not so.", status: 400 };
  for (const [status, error] of [
    [401, Locked],
    [413, Refused],
    [429, Later],
    [422, Refused],
    [404, Refused],
  ] as const) {
    serve(() => json(problem, status));
    await assert.rejects(asked(), error, `${status}`);
  }
});

test("where the passcode is asked for, the frame is told", async () => {
  let told = 0;
  const stop = onLocked(() => {
    told += 1;
  });
  serve(() => json({ type: "urn:t", title: "Passcode", detail: "Type it.", status: 401 }, 401));
  await assert.rejects(asked(), Locked);
  stop();
  assert.equal(told, 1);
});

test("an answer without a body is nobody's answer", async () => {
  serve(() => new Response(null, { status: 200 }));
  await assert.rejects(asked(), Away);
});
