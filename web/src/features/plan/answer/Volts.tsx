import type { Schemas } from "@/shared/api/client";
import { word } from "@/shared/words";

/** One bar from the supply's volts to the piece: what takes how much, and what would mend it. */
export function Volts({ volts }: { volts: Schemas["VoltsOut"] }) {
  const most = volts.drops.reduce((a, b) => (b.percent > a.percent ? b : a));
  return (
    <section aria-label={word("volts.title")} className="border-t border-line pt-1.5" data-volts>
      <h3 className="flex justify-between text-sm font-medium text-ink-2">
        {word("volts.title")}
        <span>{word("volts.whole", { whole: volts.whole })}</span>
      </h3>
      <div className="mt-1 flex h-6 border-[1.5px] border-line" aria-hidden="true">
        {volts.drops.map((d) => (
          <span
            key={d.part}
            style={{ width: `${d.percent}%`, background: TONE[d.part] }}
            className="border-r border-line last:border-r-0"
          />
        ))}
      </div>
      <dl className="mt-1 grid grid-cols-[auto_1fr_auto] gap-x-2 text-sm">
        {volts.drops.map((d) => (
          <div key={d.part} className="contents" data-drop={d.part}>
            <dt
              className="mt-1 size-3.5 border border-line"
              style={{ background: TONE[d.part] }}
              aria-hidden="true"
            />
            <dd>{d.name}</dd>
            <dd className="sign text-right text-base">{d.text}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-1 text-sm text-ink-2">
        {word("volts.more", {
          part: most.name.toLowerCase(),
          how: word(`volts.how.${most.part}`),
        })}
      </p>
    </section>
  );
}

// metal for what is metal, yellow for what is liquid
const TONE: Record<string, string> = {
  supply: "var(--steel)",
  limit: "var(--sheet)",
  leads: "var(--ink-2)",
  contacts: "var(--ink)",
  threshold: "var(--hair)",
  scrap: "var(--liquid-deep)",
  piece: "var(--liquid)",
};
