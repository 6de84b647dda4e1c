/** Figures off a meter as a person writes or says them: "2.6", "about 3 amps", "2-4 A", "800 mA".
 *  The same phrases as core/ear.py reads (tests/core/heard.json is read by both). */

import { NUMBERS } from "./when";

const UNITS: Readonly<Record<string, Readonly<Record<string, number>>>> = {
  A: { a: 1, amp: 1, amps: 1, ampere: 1, amperes: 1, ma: 1e-3, milliamp: 1e-3, milliamps: 1e-3 },
  V: { v: 1, volt: 1, volts: 1, vdc: 1, mv: 1e-3 },
};

export interface Heard {
  value: number;
  /** From where to where, where a range was said. */
  range: readonly [number, number] | null;
}

const NUMBER = String.raw`(\d+(?:[.,]\d+)?|[.,]\d+|[a-z]+)( and a half)?`;

function one(text: string, half: string | undefined): number {
  const value =
    NUMBERS[text] ?? (/^[a-z]/.test(text) ? Number.NaN : Number(text.replace(",", ".")));
  return text === "half" ? 0.5 : value + (half ? 0.5 : 0);
}

/** What a text says in amps or volts; null where it says nothing of the kind. */
export function hear(text: string, unit: string): Heard | null {
  const t = text
    .trim()
    .toLowerCase()
    .replace(/[–—−]/g, "-")
    .replace(
      /^(?:(?:about|around|roughly|approx(?:imately)?|ca|some|maybe|nearly|just (?:over|under))\b\.?|~) ?/,
      "",
    )
    .replace(/( or so|,? roughly|-?ish)$/, "")
    .replace(/^an? half\b/, "half")
    .replace(/^half an? /, "half ");
  const m = t.match(
    new RegExp(`^(?:between )?${NUMBER} ?([a-z]+)?(?: ?(?:-|to|or|and) ?${NUMBER} ?([a-z]+)?)?$`),
  );
  if (!m || /\d,\d{3}$/.test(m[1] ?? "")) return null;
  const [, first = "", half, own, second, other, last] = m;
  const name = last ?? own;
  const factor = name === undefined ? 1 : UNITS[unit]?.[name];
  const firstFactor = own === undefined ? factor : UNITS[unit]?.[own];
  if (factor === undefined || firstFactor === undefined) return null;
  const low = one(first, half) * firstFactor;
  if (!Number.isFinite(low)) return null;
  if (second === undefined) return { value: low, range: null };
  const high = one(second, other) * factor;
  if (!Number.isFinite(high) || high <= low) return null;
  return { value: (low + high) / 2, range: [low, high] };
}
