/** A time as a person says it: "20 min ago", "ten past two", "14:10", "yesterday 18:00". */

const NUMBERS: Readonly<Record<string, number>> = {
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
  return NUMBERS[text] ?? Number(text.replace(",", "."));
}

/** The time that a text names, none where it names none; always the last such one before now. */
export function parseWhen(text: string, now: Date): Date | null {
  const t = text.trim().toLowerCase().replace(/\s+/g, " ");
  if (t === "" || t === "now" || t === "just now") return now;
  const found = ago(t, now) ?? clock(t, now) ?? spoken(t, now) ?? dated(t);
  return found && Number.isFinite(found.getTime()) && found.getTime() <= now.getTime() + AHEAD
    ? found
    : null;
}

function ago(t: string, now: Date): Date | null {
  const plain = t.replace(/ ago$/, "");
  if (plain === "half an hour" || plain === "half hour") return new Date(now.getTime() - HOUR / 2);
  if (/^(a )?quarter of an hour$/.test(plain)) return new Date(now.getTime() - HOUR / 4);
  const parts = [
    ...plain.matchAll(/(\d+(?:[.,]\d+)?|[a-z-]+) ?(minutes?|mins?|m|hours?|hrs?|h|days?|d)\b/g),
  ];
  if (!parts.length || parts.map((p) => p[0]).join(" ") !== plain.replaceAll(" and ", " "))
    return null;
  let span = 0;
  for (const [, count = "", unit = ""] of parts) {
    const size = unit.startsWith("d") ? DAY : unit.startsWith("h") ? HOUR : MIN;
    span += number(count) * size;
  }
  return new Date(now.getTime() - span);
}

/** The last time before now that a clock showed this; without am or pm the nearer of both. */
function clock(t: string, now: Date): Date | null {
  const m = t.match(/^(yesterday )?(?:at )?(\d{1,2})(?:[:.h](\d{2}))? ?(am|pm|o'clock)?$/);
  if (!m || (m[3] === undefined && m[4] === undefined)) return null;
  const [, yesterday, h = "", min = "0", half] = m;
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
  if (t === "noon") return lastAt(12, 0, "pm", now, false);
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
