import assert from "node:assert/strict";
import test from "node:test";
import "./browser";
import {
  errorOf,
  type Happened,
  isBusy,
  type Saving,
  saving,
  type ToDo,
  type Wanted,
} from "@/features/plan/draft/saving";

const REST: Saving = { at: "rest" };
const PLAN = { id: "p1", revision: 3 };
const pressed = (start = false, more: Partial<Wanted> = {}): Happened => ({
  is: "pressed",
  wanted: { start, ...more },
});
const saved = (more: { dirty?: boolean; first?: boolean } = {}): Happened => ({
  is: "saved",
  plan: PLAN,
  dirty: false,
  first: false,
  ...more,
});
const failed: Happened = { is: "failed", error: new Error("away") };
const started: Happened = { is: "started", run: "r1" };
const RUN: ToDo = { do: "open", path: "/runs/r1", stays: false };

/** Where it stands after some things, and all that was to be done. */
function after(...events: Happened[]): [Saving, ToDo[]] {
  let state = REST;
  const done: ToDo[] = [];
  for (const e of events) {
    const [next, todo] = saving(state, e);
    state = next;
    done.push(...todo);
  }
  return [state, done];
}
const what = (done: ToDo[]) => done.map((d) => d.do);

test("a save is a save", () => {
  const [state, done] = after(pressed(), saved());
  assert.deepEqual([state, done], [REST, [{ do: "save", wanted: { start: false } }]]);
});

test("a new plan goes on under its own address, as it is", () => {
  const [, done] = after(pressed(), saved({ first: true }));
  assert.deepEqual(done[1], { do: "open", path: "/plans/p1", stays: true });
});

test("a bath is saved, set up and opened", () => {
  const [state, done] = after(pressed(true), saved({ first: true }), started);
  assert.deepEqual(state, REST);
  assert.deepEqual(what(done), ["save", "start", "open"]);
  assert.deepEqual([done[1], done[2]], [{ do: "start", plan: PLAN }, RUN]);
});

test("pressed twice it is saved once", () => {
  const [state, done] = after(pressed(), pressed(), pressed(), saved());
  assert.deepEqual([state, what(done)], [REST, ["save"]]);
});

test("what was changed while it was sent is saved next", () => {
  const [state, done] = after(pressed(), pressed(), saved({ dirty: true }));
  assert.deepEqual([state.at, what(done)], ["saving", ["save", "save"]]);
});

test("what was changed and not pressed stays a draft", () => {
  const [state, done] = after(pressed(), saved({ dirty: true }));
  assert.deepEqual([state, what(done)], [REST, ["save"]]);
});

test("who wants a bath while a save is under way gets one", () => {
  assert.deepEqual(what(after(pressed(), pressed(true), saved(), started)[1]), [
    "save",
    "start",
    "open",
  ]);
  const [, done] = after(pressed(), pressed(true), saved({ dirty: true }), saved(), started);
  assert.deepEqual(what(done), ["save", "save", "start", "open"]);
});

test("a plain press does not take a bath back that is wanted already", () => {
  const [, done] = after(pressed(true), pressed(), saved(), started);
  assert.deepEqual(what(done), ["save", "start", "open"]);
  const late = after(pressed(true), pressed(), saved({ dirty: true }), saved(), started);
  assert.deepEqual(what(late[1]), ["save", "save", "start", "open"]);
});

test("saved once more while its bath is set up, the bath is opened after that", () => {
  const [state, done] = after(pressed(true), saved(), pressed(), started, saved());
  assert.deepEqual([state, what(done)], [REST, ["save", "start", "save", "open"]]);
  assert.deepEqual(done[3], RUN);
});

test("a second press for a bath while it is set up makes no second one", () => {
  const [state, done] = after(pressed(true), saved(), pressed(true), started, saved());
  assert.deepEqual([state, what(done).filter((d) => d === "start").length], [REST, 1]);
});

test("where the later save fails the bath is opened all the same", () => {
  const [state, done] = after(pressed(true), saved(), pressed(), started, failed);
  assert.deepEqual([state, done.at(-1)], [REST, RUN]);
});

test("what is refused says so, remembers what was wanted, and is sent again by a press", () => {
  const [state] = after(pressed(true), failed);
  assert.equal(state.at, "refused");
  assert.equal(errorOf(state, "refused")?.message, "away");
  assert.equal(errorOf(state, "not_started"), undefined);
  assert.deepEqual(state.at === "refused" && state.wanted, { start: true });
  const [again, todo] = saving(state, pressed(true, { from: 7 }));
  assert.deepEqual(
    [again.at, todo],
    ["saving", [{ do: "save", wanted: { start: true, from: 7 } }]],
  );
});

test("a bath that was wanted meanwhile is remembered over a refusal", () => {
  const [state] = after(pressed(), pressed(true), failed);
  assert.ok(state.at === "refused" && state.wanted.start);
});

test("choices among two versions go with the press that made them, and no further", () => {
  const choices = { "/mix/product": "mine" } as const;
  const [, done] = after(
    pressed(false, { from: 4, choices }),
    pressed(),
    saved({ dirty: true }),
    saved(),
  );
  assert.deepEqual(done, [
    { do: "save", wanted: { start: false, from: 4, choices } },
    { do: "save", wanted: { start: false } },
  ]);
});

test("a bath that could not be set up is told apart from a save that failed", () => {
  const [state] = after(pressed(true), saved(), failed);
  assert.equal(errorOf(state, "not_started")?.message, "away");
  assert.equal(errorOf(state, "refused"), undefined);
  assert.deepEqual(what(saving(state, pressed(true))[1]), ["save"]);
});

test("a refusal is let be, what is under way is not", () => {
  assert.deepEqual(after(pressed(), failed, { is: "let_be" })[0], REST);
  const [state] = after(pressed(), { is: "let_be" });
  assert.equal(state.at, "saving");
});

test("answers that nobody waits for change nothing", () => {
  for (const stray of [saved(), started, failed]) {
    assert.deepEqual(saving(REST, stray), [REST, []]);
  }
});

test("in any order of presses and answers there is one save at a time, and a bath for who wants one", () => {
  let seed = 7;
  const random = () => {
    seed = (seed * 1103515245 + 12345) % 2147483648;
    return seed / 2147483648;
  };
  for (let walk = 0; walk < 400; walk++) {
    let state = REST as Saving;
    let open = 0; // asked of the server and not answered
    let wanted = false;
    let opened = false;
    let gone = false;
    const step = (e: Happened) => {
      const [next, todo] = saving(state, e);
      state = next;
      for (const one of todo) {
        if (one.do === "open") opened ||= one.path.startsWith("/runs/");
        else open += 1;
      }
      assert.ok(open <= 1, "one at a time");
      assert.equal(open === 1, isBusy(state), "busy while something is asked, and only then");
    };
    for (let k = 0; k < 12; k++) {
      if (random() < 0.5) {
        const start = random() < 0.3;
        wanted ||= start;
        step(pressed(start));
      } else if (open) {
        open -= 1;
        const fails = random() < 0.1;
        gone ||= fails;
        if (fails) step(failed);
        else step(state.at === "starting" ? started : saved({ dirty: random() < 0.5 }));
      }
    }
    while (open) {
      open -= 1;
      step(state.at === "starting" ? started : saved());
    }
    if (wanted && !gone) assert.ok(opened, `walk ${walk}`);
  }
});
