import assert from "node:assert/strict";
import test from "node:test";
import "./browser";
import type { RackItemOut } from "@/shared/api/client";
import { Away, Broken, Refused } from "@/shared/api/client";
import { askAgain, drag } from "@/shared/api/drag";
import { practiceId, setPractice, timeNow } from "@/shared/clock";
import { dueOf } from "@/shared/due";
import { takeWords } from "@/shared/words";

takeWords({ "due.one": "{name}: {what}" });
const NOW = new Date(2026, 2, 1, 18, 0);
const item = (id: string, title: string, minutes: number | null, danger = false) =>
  ({
    run_id: id,
    name: id.toUpperCase(),
    next: {
      title,
      danger,
      at: minutes === null ? null : new Date(NOW.getTime() + 60_000 * minutes).toISOString(),
    },
  }) as unknown as RackItemOut;

test("what is due calls, what comes later does not", () => {
  const rack = [item("a", "Look", -3), item("b", "Lift", 20), item("c", "Look", 0)];
  assert.deepEqual(
    dueOf(rack, NOW).map((d) => d.words),
    ["A: Look", "C: Look"],
  );
});

test("a danger calls whenever it is, and first", () => {
  const rack = [item("a", "Look", -3), item("b", "Pull the plug", null, true)];
  const due = dueOf(rack, NOW);
  assert.deepEqual(
    due.map((d) => [d.runId, d.danger]),
    [
      ["b", true],
      ["a", false],
    ],
  );
});

test("what has no time of its own, and a bath with nothing next, wait", () => {
  const idle = { run_id: "z", name: "Z", next: null } as unknown as RackItemOut;
  assert.deepEqual(dueOf([item("a", "Begin", null), idle], NOW), []);
  assert.deepEqual(dueOf([], NOW), []);
});

test("in a practice it is as late as the practice has it, and back in the shop as the device has", () => {
  const ahead = new Date(Date.now() + 7 * 3600e3);
  setPractice("p1", ahead);
  assert.equal(practiceId(), "p1");
  assert.ok(Math.abs(timeNow().getTime() - ahead.getTime()) < 1000);
  setPractice("");
  assert.equal(practiceId(), "");
  assert.ok(Math.abs(timeNow().getTime() - Date.now()) < 1000);
});

test("each request of a row is the next turn of this tab's own", () => {
  const one = drag("field");
  const two = drag("field");
  assert.equal(one.by, two.by);
  assert.equal(two.turn, one.turn + 1);
  assert.notEqual(drag("live").by, one.by);
});

test("what a newer took the place of, or a lost connection, is asked again twice; a refusal is not", () => {
  const problem = (type: string) =>
    new Refused({ type, title: "t", detail: "d", status: 409 } as never);
  assert.deepEqual(
    [0, 1, 2].map((n) => askAgain(n, problem("urn:yb:superseded"))),
    [true, true, false],
  );
  assert.equal(askAgain(0, new Away()), true);
  assert.equal(askAgain(0, problem("urn:yb:no-answer")), false);
  assert.equal(askAgain(0, new Broken()), false);
});
