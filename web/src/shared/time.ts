import { timeNow } from "./clock";

/** Clock times in the person's own zone. Nothing here decides; it only writes. */

const clock = new Intl.DateTimeFormat(undefined, { hour: "2-digit", minute: "2-digit" });
const day = new Intl.DateTimeFormat(undefined, { weekday: "short" });
const weekdate = new Intl.DateTimeFormat(undefined, {
  weekday: "short",
  day: "numeric",
  month: "short",
});
const date = new Intl.DateTimeFormat(undefined, {
  day: "numeric",
  month: "short",
  year: "numeric",
});

/** "14:20", with the weekday where it is not today. */
export function clockTime(at: Date, now: Date = timeNow()): string {
  const same = at.toDateString() === now.toDateString();
  if (Math.abs(at.getTime() - now.getTime()) > 6 * 86400e3)
    return `${weekdate.format(at)} ${clock.format(at)}`;
  return same ? clock.format(at) : `${day.format(at)} ${clock.format(at)}`;
}

export function dateOf(at: Date): string {
  return date.format(at);
}

/** "in 3 h 20 min", "now", "12 min ago". */
export function untilText(at: Date, now: Date): string {
  const minutes = Math.round((at.getTime() - now.getTime()) / 60000);
  if (Math.abs(minutes) < 1) return "now";
  return minutes > 0 ? `in ${spanText(minutes * 60)}` : `${spanText(-minutes * 60)} ago`;
}

/** "3 h 20 min", "2 d 4 h". */
export function spanText(seconds: number): string {
  const minutes = Math.round(seconds / 60);
  if (minutes < 60) return `${minutes} min`;
  const hours = Math.floor(minutes / 60);
  if (hours < 48) return minutes % 60 ? `${hours} h ${minutes % 60} min` : `${hours} h`;
  return `${Math.floor(hours / 24)} d ${hours % 24} h`;
}

/** Value for <input type="datetime-local"> in local time. */
export function localInput(at: Date): string {
  const shifted = new Date(at.getTime() - at.getTimezoneOffset() * 60000);
  return shifted.toISOString().slice(0, 16);
}
