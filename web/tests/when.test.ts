import assert from "node:assert/strict";
import test from "node:test";
import { parseWhen, readWhen, whichOf } from "@/shared/when";

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
    ["an hour and a half ago", at(13, 30)],
    ["1 and a half hours ago", at(13, 30)],
    ["1 1/2 h ago", at(13, 30)],
    ["2 h 15 ago", at(12, 45)],
    ["three quarters of an hour ago", at(14, 15)],
    ["an hour and ten minutes ago", at(13, 50)],
    ["14h30", at(14, 30)],
    ["1430", at(14, 30)],
    ["0700", at(7)],
    ["about 2 pm", at(14)],
    ["at 2 p.m.", at(14)],
    ["8 last night", at(20, 0, 1)],
    ["half past ten last night", at(22, 30, 1)],
    ["2 last night", at(2)],
    ["6 this morning", at(6)],
    ["ten past two yesterday", at(14, 10, 1)],
    ["Thursday 18:00", at(18, 0, 2)],
    ["friday at 9.15 am", at(9, 15, 1)],
    ["yesterday evening at 7", at(19, 0, 1)],
    ["the day before yesterday 18:00", at(18, 0, 2)],
    ["midday", at(12)],
  ];
  for (const [text, wanted] of cases)
    assert.equal(parseWhen(text, now)?.getTime(), wanted, `${text}: ${parseWhen(text, now)}`);
});

test("a part of a day is an hour of it, and is told to be taken so", () => {
  const cases: [string, number][] = [
    ["last night", at(22, 0, 1)],
    ["this morning", at(8)],
    ["yesterday afternoon", at(15, 0, 1)],
    ["Monday evening", at(19, 0, 5)],
    ["yesterday", at(12, 0, 1)],
  ];
  for (const [text, wanted] of cases)
    assert.deepEqual(readWhen(text, now), { at: new Date(wanted), loose: true }, text);
  assert.equal(readWhen("14:10", now)?.loose, false);
});

test("after it was switched on, where that is known", () => {
  const since = new Date(at(13));
  assert.equal(parseWhen("30 min after switching on", now, since)?.getTime(), at(13, 30));
  assert.equal(parseWhen("an hour and a half after the start", now, since)?.getTime(), at(14, 30));
  assert.equal(parseWhen("30 min after switching on", now), null);
});

test("half ten is asked about", () => {
  assert.deepEqual(whichOf("half ten", now), [new Date(at(10, 30)), new Date(at(9, 30))]);
  assert.equal(whichOf("half past ten", now), null);
  assert.equal(parseWhen("half ten", now), null);
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
    "tonight at 9",
    "last morning",
    "next monday",
    "8 tomorrow",
    "30 min after switching on",
  ])
    assert.equal(parseWhen(text, now), null, text);
});

test("times made by rules, each with its own arithmetic: none is misread, none refused", () => {
  let seed = 26;
  const draw = (low: number, high: number) => {
    seed = (seed * 1103515245 + 12345) % 2147483648;
    return low + Math.floor((seed / 2147483648) * (high - low + 1));
  };
  const two = (n: number) => String(n).padStart(2, "0");
  const words = "one two three four five six seven eight nine ten eleven twelve".split(" ");
  const MINUTE = 60_000;
  /** The last time before now at so many minutes of a day, every so many minutes. */
  const last = (minutes: number, every = 24 * 60) => {
    const day = at(0) + minutes * MINUTE;
    const back = Math.ceil((day - now.getTime()) / (every * MINUTE));
    return day - back * every * MINUTE;
  };
  const makers: (() => [string, number])[] = [
    () => {
      const n = draw(1, 59);
      return [`${n} ${draw(0, 1) ? "min" : "minutes"} ago`, now.getTime() - n * MINUTE];
    },
    () => {
      const [h, m] = [draw(1, 20), draw(1, 59)];
      return [`${h} h ${m} min ago`, now.getTime() - (60 * h + m) * MINUTE];
    },
    () => {
      const h = draw(2, 12);
      return [`${words[h - 1]} and a half hours ago`, now.getTime() - (60 * h + 30) * MINUTE];
    },
    () => {
      const [h, m] = [draw(13, 23), draw(0, 59)];
      return [`${h}:${two(m)}`, last(60 * h + m)];
    },
    () => {
      const [h, m] = [draw(0, 9), draw(0, 59)];
      return [`0${h}:${two(m)}`, last(60 * h + m)];
    },
    () => {
      const [h, m, pm] = [draw(1, 12), draw(0, 59), draw(0, 1)];
      return [`${h}.${two(m)} ${pm ? "pm" : "am"}`, last(60 * ((h % 12) + 12 * pm) + m)];
    },
    () => {
      const [h, m] = [draw(0, 23), draw(0, 59)];
      return [`yesterday ${two(h)}:${two(m)}`, at(h, m, 1)];
    },
    () => {
      const h = draw(1, 12);
      return [`half past ${words[h - 1]}`, last(60 * (h % 12) + 30, 12 * 60)];
    },
    () => {
      const [h, m] = [draw(1, 12), 5 * draw(1, 5)];
      const said = { 5: "five", 10: "ten", 15: "a quarter", 20: "twenty", 25: "twenty-five" }[m];
      return [`${said} past ${words[h - 1]}`, last(60 * (h % 12) + m, 12 * 60)];
    },
    () => {
      const h = draw(1, 12);
      return [`a quarter to ${words[h - 1]}`, last(60 * (h % 12) - 15, 12 * 60)];
    },
    () => {
      const back = draw(2, 6); // the 28th is a Saturday
      const day = ["Sunday", "Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday"];
      const [h, m] = [draw(13, 23), draw(0, 59)];
      return [`${day[(6 - back + 7) % 7]} ${h}:${two(m)}`, at(h, m, back)];
    },
  ];
  for (const make of makers)
    for (let k = 0; k < 12; k++) {
      const [text, wanted] = make();
      assert.equal(parseWhen(text, now)?.getTime(), wanted, `${text}: ${parseWhen(text, now)}`);
    }
});
