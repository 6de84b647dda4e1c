import type { ActionOut } from "@/shared/api/client";
import { clockTime } from "@/shared/time";

/**
 * The day as one line: thin while the bath works alone, a tab wherever hands are wanted, the window
 * in which it is likely clean as a broad stretch.
 */
export function DayStrip({
  now,
  actions,
  window,
  label,
}: {
  now: Date;
  actions: ActionOut[];
  window?: [Date, Date, Date] | null;
  label?: string;
}) {
  const tabs = actions.flatMap((a) => (a.at ? [{ ...a, time: new Date(a.at) }] : []));
  const last = Math.max(
    now.getTime() + 6 * 3600e3,
    ...tabs.map((t) => t.time.getTime()),
    window ? window[2].getTime() : 0,
  );
  const end = Math.min(last + 1800e3, now.getTime() + 15 * 24 * 3600e3);
  const span = end - now.getTime();
  const x = (at: Date) => 8 + Math.min(Math.max((at.getTime() - now.getTime()) / span, 0), 1) * 384;
  const hours = hourMarks(now, end);
  const words = [
    label ?? "The coming hours",
    ...tabs.map((t) => `${clockTime(t.time, now)} ${t.title}`),
    ...(window
      ? [`likely clean ${clockTime(window[0], now)} to ${clockTime(window[2], now)}`]
      : []),
  ].join("; ");
  return (
    <svg viewBox="0 0 400 54" className="block w-full" role="img" aria-label={words}>
      {window && (
        <>
          <rect
            x={x(window[0])}
            y={20}
            width={Math.max(x(window[2]) - x(window[0]), 2)}
            height={10}
            fill="var(--liquid)"
          />
          <path d={`M${x(window[1])} 17V33`} stroke="var(--ink)" strokeWidth="2" />
        </>
      )}
      <path d="M8 25H392" stroke="var(--line)" strokeWidth="1.5" />
      {hours.map((h) => (
        <g key={h.at.getTime()}>
          <path d={`M${x(h.at)} 25v7`} stroke="var(--line)" strokeWidth="1" />
          <text
            x={x(h.at)}
            y={47}
            textAnchor="middle"
            className="sign"
            fontSize="13"
            fill="var(--ink-2)"
          >
            {h.text}
          </text>
        </g>
      ))}
      {tabs.map((t) => (
        <path key={t.kind + t.at} d={`M${x(t.time) - 5} 6h10v12l-5 6l-5-6z`} fill="var(--ink)" />
      ))}
    </svg>
  );
}

const hour = new Intl.DateTimeFormat(undefined, { hour: "numeric" });
const day = new Intl.DateTimeFormat(undefined, { weekday: "short" });

function hourMarks(now: Date, end: number) {
  const hours = (end - now.getTime()) / 3600e3;
  const every =
    hours <= 8 ? 1 : hours <= 16 ? 2 : hours <= 30 ? 4 : hours <= 80 ? 12 : hours <= 200 ? 24 : 48;
  const first = new Date(now);
  first.setMinutes(0, 0, 0);
  first.setHours(Math.ceil((first.getHours() + 1) / every) * every);
  const out: { at: Date; text: string }[] = [];
  for (let t = first.getTime(); t < end - (end - now.getTime()) * 0.02; t += every * 3600e3) {
    const at = new Date(t);
    const midnight = at.getHours() === 0;
    out.push({
      at,
      text: midnight ? day.format(at) : hour.format(at),
    });
  }
  return out;
}
