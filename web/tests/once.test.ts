import assert from "node:assert/strict";
import test from "node:test";
import "./browser";
import { once, onceDone, onceKey } from "@/shared/api/once";

const key = (what: string, content: unknown, at: number) =>
  onceKey(what, content, at)["Idempotency-Key"];

test("until it is done every press of the same is the same write", () => {
  const first = key("a", { grams: 5 }, 0);
  assert.equal(key("a", { grams: 5 }, 60_000), first, "sent again after a lost connection");
  assert.notEqual(key("a", { grams: 6 }, 60_001), first, "other content");
});

test("a double press is one write, a later press is another", () => {
  const first = key("b", 1, 0);
  onceDone("b", 30);
  assert.equal(key("b", 1, 200), first);
  assert.notEqual(key("b", 1, 5_000), first);
});

test("what fails keeps its key, what is made gives it up", async () => {
  const keys: string[] = [];
  const make = (fail: boolean) =>
    once("c", 1, async (headers) => {
      keys.push(headers["Idempotency-Key"]);
      if (fail) throw new Error("away");
      return 7;
    });
  await assert.rejects(make(true));
  assert.equal(await make(false), 7);
  assert.equal(keys[0], keys[1]);
});
