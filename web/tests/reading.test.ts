import assert from "node:assert/strict";
import test from "node:test";
import "./browser";
import { meter, meterFault, temperature, warmthFault, withUnit } from "@/features/run/figures";
import {
  isEmpty,
  NOTHING_TYPED,
  type ReadingDone,
  type ReadingTyped,
  reading,
  unreadable,
} from "@/features/run/reading";
import { takeWords } from "@/shared/words";

takeWords({
  "refused.high": "{value} is a danger",
  "refused.minus": "minus",
});
const NOW = new Date(2026, 2, 1, 18, 0);
const OF = { unit: "°C", now: NOW, since: new Date(2026, 2, 1, 12, 0) };
const typing = (more: Partial<ReadingTyped>): ReadingTyped => ({ ...NOTHING_TYPED, ...more });

/** What comes of a panel after some presses. */
function after(...events: ReadingDone[]) {
  let typed = NOTHING_TYPED;
  for (const e of events) {
    const step = reading(typed, e, OF);
    if (step.left || step.entry) return step;
    typed = step.typed;
  }
  return { typed, left: false, entry: undefined };
}
const type = (field: "amps" | "tank" | "bath" | "when", text: string): ReadingDone => ({
  did: "typed",
  field,
  text,
});
const WROTE: ReadingDone = { did: "wrote" };

test("amps that were typed are written, and the panel is empty again", () => {
  const step = after(type("amps", "2.6"), WROTE);
  assert.deepEqual(step.entry, {
    detail: {
      kind: "reading",
      method: "clamp",
      current_a: 2.6,
      tank_v: null,
      supply_v: null,
      bath_c: null,
      bath: "",
    },
  });
  assert.deepEqual([step.typed, step.left], [NOTHING_TYPED, true]);
});

test("a needle is said to be one", () => {
  const step = after(type("amps", "3"), { did: "read_with", method: "dial" }, WROTE);
  assert.equal(step.entry?.detail.kind === "reading" && step.entry.detail.method, "dial");
});

test("volts and warmth go without amps", () => {
  const volts = after(type("tank", "7,4"), WROTE).entry?.detail;
  assert.deepEqual(volts?.kind === "reading" && [volts.current_a, volts.tank_v], [null, 7.4]);
  const warm = after(type("bath", "24"), WROTE).entry?.detail;
  assert.equal(warm?.kind === "reading" && warm.bath, "24 °C");
});

test("what is said in words is a number too", () => {
  const said = after(type("amps", "about two and a half amps"), WROTE).entry?.detail;
  assert.equal(said?.kind === "reading" && said.current_a, 2.5);
  const range = after(type("amps", "2-4 A"), WROTE).entry?.detail;
  assert.equal(range?.kind === "reading" && range.current_a, 3);
});

test("a look without a reading has no amps, and keeps what volts were typed", () => {
  const step = after(type("amps", "2"), type("tank", "7"), { did: "looked_only" });
  const detail = step.entry?.detail;
  assert.deepEqual(detail?.kind === "reading" && [detail.method, detail.current_a, detail.tank_v], [
    "none",
    null,
    7,
  ]);
});

test("nothing typed is nothing to write, but a look is", () => {
  assert.equal(after(WROTE).entry, undefined);
  assert.equal(isEmpty(typing({ when: "an hour ago" })), true);
  assert.ok(after({ did: "looked_only" }).entry);
});

test("what cannot be read is not sent, and stays as it was typed", () => {
  for (const [field, text] of [
    ["amps", "lots"],
    ["amps", "-2"],
    ["amps", "250"],
    ["tank", "61"],
    ["bath", "warm"],
    ["when", "at dawn of the third day"],
  ] as const) {
    const step = after(type("amps", "2"), type(field, text), WROTE);
    assert.equal(step.entry, undefined, text);
    assert.equal(step.typed[field], text);
    assert.ok(unreadable(step.typed, OF), text);
    assert.equal(after(type(field, text), { did: "looked_only" }).entry, undefined);
  }
});

test("without a time it is of the press; with one of that, never of now", () => {
  assert.equal(after(type("amps", "2"), WROTE).entry?.at, undefined);
  const ago = after(type("amps", "2"), type("when", "20 min ago"), WROTE);
  assert.deepEqual(ago.entry?.at, new Date(2026, 2, 1, 17, 40));
  assert.equal(after(type("amps", "2"), type("when", "??"), WROTE).entry, undefined);
  assert.equal(after(type("amps", "2"), type("when", "   "), WROTE).entry?.at, undefined);
});

test("cancelled it is empty and nothing is written", () => {
  const step = after(type("amps", "2"), { did: "cancelled" });
  assert.deepEqual([step.typed, step.left, step.entry], [NOTHING_TYPED, true, undefined]);
});

test("amps and volts within what a meter shows", () => {
  assert.deepEqual(
    ["", " ", "0", "200", "200.1", "-0.1", "1,5", "800 mA", "x"].map((t) => meter(t, "A")),
    [null, null, 0, 200, undefined, undefined, 1.5, 0.8, undefined],
  );
  assert.deepEqual(
    ["60", "60.1", "12 V"].map((t) => meter(t, "V")),
    [60, undefined, 12],
  );
});

test("a figure that hurts is told as danger, a slip as a slip", () => {
  assert.equal(meterFault("2", "A"), "");
  assert.equal(meterFault("900", "A"), "900 A is a danger");
  assert.equal(meterFault("-3", "A"), "minus");
  assert.match(meterFault("some", "V"), /^A number from 0 to 60 V/);
  assert.equal(warmthFault("140", "°C"), "140 is a danger");
  assert.equal(warmthFault("140", "°F"), "");
  assert.equal(warmthFault("240 F", "°C"), "240 F is a danger");
  assert.match(warmthFault("hot", "°C"), /^A number in °C/);
});

test("a bare warmth gets the shop's unit, one that was written keeps its own", () => {
  assert.deepEqual(
    ["24", "75 F", "24 °C", "", "  "].map((t) => withUnit(t, "°C")),
    ["24 °C", "75 F", "24 °C", "", ""],
  );
  assert.deepEqual(["24", "-3,5 c", "75°F", "", "1e3", "24 K"].map(temperature), [
    true,
    true,
    true,
    true,
    false,
    false,
  ]);
});

test("a clamp round one lead is no reading of the bath", () => {
  const round: ReadingDone = { did: "went_round", lead: "a2" };
  const step = after(type("tank", "11"), round, type("amps", "0.4"), WROTE);
  assert.deepEqual(step.entry?.detail, {
    kind: "one_lead",
    lead: "a2",
    current_a: 0.4,
    method: "clamp",
  });
  assert.equal(isEmpty(typing({ lead: "a2", tank: "11" })), true);
});
