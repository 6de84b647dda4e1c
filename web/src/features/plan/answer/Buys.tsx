import type { Schemas } from "@/shared/api/client";
import { word } from "@/shared/words";

/** The window as it stands, and as one reading or look would leave it, on one scale of hours. */
export function Buys({ buys }: { buys: readonly Schemas["BuysOut"][] }) {
  if (buys.length < 2) return null;
  const top = Math.max(...buys.map((b) => b.high_h)) * 1.02;
  const x = (hours: number) => `${(100 * hours) / top}%`;
  return (
    <section aria-label={word("buys.title")} className="border-t border-line pt-1.5" data-buys>
      <h3 className="text-sm font-medium text-ink-2">{word("buys.title")}</h3>
      <ul className="text-sm">
        {buys.map((b) => (
          <li key={b.what} className="mt-1">
            <span className="flex justify-between gap-3">
              {b.what}
              <span className="sign text-base">{b.window}</span>
            </span>
            <span className="relative block h-2 border-b border-hair" aria-hidden="true">
              <span
                className="absolute inset-y-0 bg-liquid"
                style={{ left: x(b.low_h), width: x(b.high_h - b.low_h) }}
              />
              <span className="absolute inset-y-0 w-0.5 bg-ink" style={{ left: x(b.mid_h) }} />
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
