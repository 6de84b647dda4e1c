/** What is typed off a meter: text until it is sent, so that nothing typed is lost. */

import { hear } from "@/shared/hear";
import { word } from "@/shared/words";

/** What a clamp meter, or one for volts, may show at a bath. */
export const MOST = { A: 200, V: 60 } as const;
export type MeterUnit = keyof typeof MOST;

/** The number typed or said, null where nothing was, undefined where it cannot be used. */
export function meter(text: string, unit: MeterUnit): number | null | undefined {
  if (!text.trim()) return null;
  const value = hear(text, unit)?.value;
  return value !== undefined && value >= 0 && value <= MOST[unit] ? value : undefined;
}

/** A figure that is refused because it is dangerous is told as danger, not as a slip. */
export function meterFault(text: string, unit: MeterUnit): string {
  if (meter(text, unit) !== undefined) return "";
  const value = hear(text, unit)?.value ?? Number(text.trim().replace(",", "."));
  if (value > MOST[unit]) return word("refused.high", { value: `${text.trim()} ${unit}` });
  if (value < 0) return word("refused.minus");
  return `A number from 0 to ${MOST[unit]} ${unit}, as on the meter.`;
}

/** Whether a text is a temperature as a person writes one, or nothing. */
export function temperature(text: string): boolean {
  return /^\s*(-?\d+([.,]\d+)?\s*°?\s*[CcFf]?)?\s*$/.test(text);
}

/** A bare number gets the shop's unit, in plain sight; one that was written stays. */
export function withUnit(text: string, unit: string): string {
  const bare = text.trim();
  return bare === "" || /[CcFf]$/.test(bare) ? bare : `${bare} ${unit}`;
}

/** A warmth that no bath has and that is typed all the same is a danger before it is a slip. */
function tooWarm(text: string, unit: string): boolean {
  const value = Number(
    text
      .trim()
      .replace(",", ".")
      .replace(/[°\sCcFf]/g, ""),
  );
  return value > (/[Ff]$/.test(withUnit(text, unit)) ? 212 : 100);
}

/** What is wrong with the bath's warmth as it was typed; empty where nothing is. */
export function warmthFault(text: string, unit: string): string {
  if (!temperature(text)) return `A number in ${unit}, or with its unit: 24 °C, 75 °F.`;
  return tooWarm(text, unit) ? word("refused.high", { value: text.trim() }) : "";
}
