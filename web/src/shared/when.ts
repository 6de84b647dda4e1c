/** A time as a person says it: "20 min ago", "ten past two", "14:10", "yesterday 18:00". */

export const NUMBERS: Readonly<Record<string, number>> = {
  a: 1, an: 1, one: 1, two: 2, three: 3, four: 4, five: 5, six: 6, seven: 7, eight: 8, nine: 9,
  ten: 10, eleven: 11, twelve: 12, fifteen: 15, quarter: 15, twenty: 20, "twenty-five": 25,
  thirty: 30, half: 30, forty: 40, fifty: 50,
}; // biome-ignore format: a list
const MIN = 60_000;
const HOUR = 60 * MIN;
const DAY = 24 * HOUR;
/** A little ahead is this moment: clocks differ. */
const AHEAD = 2 * MIN;

function number(text: string): number {
  const [, whole = "0", top, bottom] = text.match(/^(?:(\d+) )?(\d+)\/(\d+)$/) ?? [];
  if (top && bottom) return Number(whole) + Number(top) / Number(bottom);
  return NUMBERS[text] ?? Number(text.replace(",", "."));
}

/** A time that was named; ``loose`` where only a part of a day was, and an hour was taken for it. */
export interface When {
  at: Date;
  loose: boolean;
}

/** The time that a text names, none where it names none; always the last such one before now. */
export function parseWhen(text: string, now: Date, since?: Date | null): Date | null {
  return readWhen(text, now, since)?.at ?? null;
}

/** The same, and whether the hour was taken for a part of the day; ``since``: when it was switched on. */
export function readWhen(text: string, now: Date, since?: Date | null): When | null {
  const t = plain(text);
  if (t === "" || t === "now" || t === "just now") return { at: now, loose: false };
  const sure =
    ago(t, now) ?? clock(t, now) ?? spoken(t, now) ?? dated(t) ?? onADay(t, now) ?? after(t, since);
  const vague = sure ? null : partOfADay(t, now);
  const at = sure ?? vague;
  return at && Number.isFinite(at.getTime()) && at.getTime() <= now.getTime() + AHEAD
    ? { at, loose: !sure }
    : null;
}

/** Both times that “half ten” means to people, the later first; none for what means one. */
export function whichOf(text: string, now: Date): [Date, Date] | null {
  const m = plain(text).match(/^half ([a-z]+|\d{1,2})$/);
  const hour = m ? number(m[1] ?? "") : Number.NaN;
  if (!Number.isInteger(hour) || hour < 1 || hour > 12) return null;
  const later = lastAt(hour, 30, undefined, now, false);
  const sooner = lastAt(hour === 1 ? 12 : hour - 1, 30, undefined, now, false);
  return later && sooner ? [later, sooner] : null;
}

function plain(text: string): string {
  return text
    .trim()
    .toLowerCase()
    .replace(/\s+/g, " ")
    .replace(/^(it was |at )?(about|around|roughly|approx\.?|some|ca\.?|maybe|~) ?/, "")
    .replace(/^at /, "")
    .replace(/( or so|,? roughly|-?ish)$/, "")
    .replace(/\b([ap])\.m\.?/g, "$1m");
}

/** So long after it was switched on. */
function after(t: string, since?: Date | null): Date | null {
  const m = t.match(
    /^(.+?) (?:after|since|from) (?:i |we )?(?:switch(?:ing|ed)(?: it)? on|the start|starting)$/,
  );
  const span = m && since ? spanOf(m[1] ?? "") : null;
  return span !== null && since ? new Date(since.getTime() + span) : null;
}

const PARTS: Readonly<Record<string, number>> = {
  morning: 8, afternoon: 15, evening: 19, night: 22,
}; // biome-ignore format: a list
const WEEK = ["sunday", "monday", "tuesday", "wednesday", "thursday", "friday", "saturday"];

/** A day that was named, as so many days back; none where none was. */
function daysBack(day: string, now: Date): number | null {
  if (/^(this|today|earlier today)?$/.test(day)) return 0;
  if (day === "last" || day === "yesterday") return 1;
  if (day === "the day before yesterday") return 2;
  const name = day.replace(/^(last |on )/, "");
  const at = WEEK.findIndex((d) => d === name || d.slice(0, 3) === name);
  return at < 0 ? null : (now.getDay() - at + 7) % 7 || 7;
}

const DAY_NAME =
  "today|yesterday|the day before yesterday|(?:last |on )?(?:sun|mon|tues?|wed(?:nes)?|thurs?|fri|satur|sat)(?:day)?";

function onDay(now: Date, back: number, hour: number, minute = 0): Date {
  const at = new Date(now);
  at.setDate(at.getDate() - back);
  at.setHours(hour, minute, 0, 0);
  return at;
}

/** “last night”, “this morning”, “Monday evening”: an hour is taken for it. */
function partOfADay(t: string, now: Date): Date | null {
  const m = t.match(
    new RegExp(`^(?:(${DAY_NAME}|this|last) ?)?(morning|afternoon|evening|night)$`),
  );
  const day = m?.[1] ?? (m ? "this" : "");
  if (!m) {
    const only = t.match(new RegExp(`^(${DAY_NAME})$`));
    const back = only ? daysBack(only[1] ?? "", now) : null;
    return back ? onDay(now, back, 12) : null;
  }
  const part = m[2] ?? "";
  const back = day === "last" && part !== "night" ? null : daysBack(day, now);
  return back === null ? null : onDay(now, back, PARTS[part] ?? 12);
}

/** “Monday 14:10”, “ten past two yesterday”, “8 last night”, “6 this morning”. */
function onADay(t: string, now: Date): Date | null {
  const after = new RegExp(
    `^(.+?) (?:on )?(${DAY_NAME}|this|last)(?: (morning|afternoon|evening|night))?$`,
  );
  const before = new RegExp(
    `^(${DAY_NAME}|this|last)(?: (morning|afternoon|evening|night))?,? (?:at )?(.+)$`,
  );
  const a = t.match(after);
  const b = a ? null : t.match(before);
  const [day, part, time] = a ? [a[2], a[3], a[1]] : b ? [b[1], b[2], b[3]] : [];
  if (!day || !time || ((day === "this" || day === "last") && !part)) return null;
  const back = daysBack(day, now);
  if (back === null) return null;
  // the clock alone says hour and minute; which half of the day is said by its part
  const end = onDay(now, 0, 23, 59);
  const bare = /^\d{1,2}$/.test(time) ? `${time}:00` : NUMBERS[time] ? `${time} o'clock` : time;
  const at = clock(bare, end) ?? spoken(bare, end);
  if (!at) return null;
  const half =
    part === "morning" ? 0 : part ? 12 : /^0|am$|noon|midnight/.test(bare) ? null : undefined;
  let hour = at.getHours();
  const meant = /[ap]m$/.test(bare) || Number(bare.match(/^\d+/)?.[0] ?? 0) > 12;
  if (!meant && half !== undefined && half !== null) hour = (hour % 12) + half;
  if (!meant && half === undefined && !part) {
    // nearer the middle of the day where nothing says which
    hour = hour % 12 < 6 ? (hour % 12) + 12 : hour % 12;
  }
  const shift = part === "night" && hour % 12 < 5 && !meant ? 1 : 0;
  return onDay(now, back - shift, shift ? hour % 12 : hour, at.getMinutes());
}

function ago(t: string, now: Date): Date | null {
  const span = spanOf(t.replace(/ ago$/, ""));
  return span === null ? null : new Date(now.getTime() - span);
}

const SPAN =
  /(\d+ \d+\/\d+ ?|\d+\/\d+ ?|\d+(?:[.,]\d+)? ?|\b[a-z-]+ )(?:and (?:a )?(half|quarter) )?(minutes?|mins?|m|hours?|hrs?|h|days?|d)\b(?: and (?:a )?(half|quarter))?(?: (\d{1,2})\b(?! ?[a-z]))?/g;

/** A length of time [ms] as it is said: “1 h 20 min”, “an hour and a half”, “half an hour”. */
function spanOf(t: string): number | null {
  if (t === "half an hour" || t === "half hour") return HOUR / 2;
  const quarters = t.match(/^(?:(a|three) )?quarters? of an hour$/);
  if (quarters) return (HOUR / 4) * (quarters[1] === "three" ? 3 : 1);
  if (t === "a couple of hours" || t === "couple of hours") return 2 * HOUR;
  const plainly = t.replace(/ and (?!(?:a )?(?:half|quarter)\b)/g, " ");
  const parts = [...plainly.matchAll(SPAN)];
  if (!parts.length || parts.map((p) => p[0]).join(" ") !== plainly) return null;
  let span = 0;
  for (const [, count = "", inside, unit = "", more, rest] of parts) {
    const size = unit.startsWith("d") ? DAY : unit.startsWith("h") ? HOUR : MIN;
    const part = (inside ?? more) === "half" ? 0.5 : (inside ?? more) ? 0.25 : 0;
    span += (number(count.trim()) + part) * size + (rest ? Number(rest) * MIN : 0);
  }
  return Number.isFinite(span) ? span : null;
}

/** The last time before now that a clock showed this; without am or pm the nearer of both. */
function clock(t: string, now: Date): Date | null {
  const four = t.match(/^([01]\d|2[0-3])([0-5]\d)(?: ?h(?:ours|rs)?)?$/); // 1430
  if (four) return lastAt(Number(four[1]), Number(four[2]), undefined, now, false, true);
  const m = t.match(/^(yesterday )?(?:at )?(\d{1,2})(?:[:.h](\d{2}))? ?(am|pm|o'clock)?$/);
  if (!m || (m[3] === undefined && m[4] === undefined)) return null;
  const [, yesterday, h = "", min = "0", half] = m;
  // which half of yesterday is told as of any day that is named
  if (yesterday && !half && !h.startsWith("0") && Number(h) <= 12) return null;
  return lastAt(Number(h), Number(min), half, now, Boolean(yesterday), h.startsWith("0"));
}

function lastAt(
  hour: number,
  minute: number,
  half: string | undefined,
  now: Date,
  yesterday: boolean,
  whole = false,
): Date | null {
  if (hour > 23 || minute > 59) return null;
  const twelve = half === "am" || half === "pm";
  if (twelve && (hour < 1 || hour > 12)) return null;
  const hours = twelve
    ? [(hour % 12) + (half === "pm" ? 12 : 0)]
    : hour <= 12 && hour > 0 && !whole
      ? [hour % 24, (hour + 12) % 24]
      : [hour];
  const day = (back: number) =>
    hours.map((h) => {
      const at = new Date(now);
      at.setDate(at.getDate() - back);
      at.setHours(h, minute, 0, 0);
      return at;
    });
  if (yesterday) return day(1).at(-1) ?? null;
  const past = [...day(0), ...day(1)].filter((at) => at.getTime() <= now.getTime() + AHEAD);
  return past.sort((a, b) => b.getTime() - a.getTime()).at(0) ?? null;
}

function spoken(t: string, now: Date): Date | null {
  if (t === "noon" || t === "midday" || t === "lunchtime") return lastAt(12, 0, "pm", now, false);
  if (t === "midnight") return lastAt(0, 0, undefined, now, false);
  const m = t.match(/^(?:a )?([a-z-]+|\d{1,2})(?: minutes)? (past|to) ([a-z]+|\d{1,2})$/);
  if (m) {
    const [, minutes = "", which, hour = ""] = m;
    const h = number(hour) + (which === "to" ? -1 : 0);
    const min = which === "to" ? 60 - number(minutes) : number(minutes);
    if (!Number.isInteger(h) || !Number.isInteger(min) || number(hour) > 12) return null;
    return lastAt(h === 0 ? 12 : h, min, undefined, now, false);
  }
  const hour = t.match(/^([a-z]+) o'clock$/)?.[1];
  return hour && NUMBERS[hour] ? lastAt(number(hour), 0, undefined, now, false) : null;
}

function dated(t: string): Date | null {
  return /^\d{4}-\d{2}-\d{2}[t ]\d{2}:\d{2}/.test(t) ? new Date(t.replace(" ", "T")) : null;
}
