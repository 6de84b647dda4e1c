import assert from "node:assert/strict";
import test from "node:test";
import { parseWhen } from "@/shared/when";

const now = new Date(2026, 10, 28, 15, 0, 0);
const at = (h: number, m = 0, back = 0) => new Date(2026, 10, 28 - back, h, m, 0).getTime();

test("times as people say them, always the last such one before now", () => {
  const cases: [string, number][] = [
    ["", now.getTime()],
    ["now", now.getTime()],
    ["20 min ago", at(14, 40)],
    ["20 min", at(14, 40)],
    ["1 h 20 min ago", at(13, 40)],
    ["an hour ago", at(14)],
    ["half an hour ago", at(14, 30)],
    ["two hours ago", at(13)],
    ["ten past two", at(14, 10)],
    ["10 past 2", at(14, 10)],
    ["half past two", at(14, 30)],
    ["a quarter to three", at(14, 45)],
    ["quarter to one", at(12, 45)],
    ["two o'clock", at(14)],
    ["14:10", at(14, 10)],
    ["2:10", at(14, 10)],
    ["02:10", at(2, 10)],
    ["2.10 pm", at(14, 10)],
    ["2 am", at(2)],
    ["16:20", at(16, 20, 1)],
    ["yesterday 18:00", at(18, 0, 1)],
    ["noon", at(12)],
    ["midnight", at(0)],
    ["2026-11-27T09:30", at(9, 30, 1)],
  ];
  for (const [text, wanted] of cases)
    assert.equal(parseWhen(text, now)?.getTime(), wanted, `${text}: ${parseWhen(text, now)}`);
});

test("what names no time, or one to come, is none", () => {
  for (const text of [
    "soon",
    "25:00",
    "13 pm",
    "12:75",
    "2",
    "ten past",
    "2027-01-01T10:00",
    "2 elephants ago",
  ])
    assert.equal(parseWhen(text, now), null, text);
});
