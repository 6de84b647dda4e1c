import type { FigureOut, RunOut } from "@/shared/api/client";
import { Num, windowText } from "@/shared/ui/Num";
import { word } from "@/shared/words";

/**
 * The dose each twentieth of the surface has had against what it needs: yellow is had, rust is
 * what is still wanting, the tide line is the need.
 */
export function Dose({ run }: { run: RunOut }) {
  const { low, mid: need, high } = run.need_ah_dm2;
  const top = Math.max(need * 1.35, ...run.slices.map((s) => Math.min(s, need * 1.8)));
  const y = (v: number) => 96 - (Math.min(v, top) / top) * 90;
  const f = run.figures;
  const least = run.slices.length ? Math.min(...run.slices) : 0;
  return (
    <section aria-label="Dose" className="sheet space-y-2">
      <h2 className="text-xl">Dose so far</h2>
      <svg
        viewBox="0 0 400 100"
        className="block w-full"
        role="img"
        aria-label={`Cleaning charge over the surface: the slowest spots have had ${least.toFixed(2)}, the need is about ${need.toFixed(2)} ampere-hours per square decimetre`}
      >
        <defs>
          <pattern
            id="wanting"
            width="6"
            height="6"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <path d="M0 0V6" stroke="var(--rust)" strokeWidth="2.5" />
          </pattern>
        </defs>
        {run.slices.map((s, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: slices are known by their rank
          <g key={k}>
            {s < need && (
              <rect
                x={k * 20 + 1}
                y={y(need)}
                width={18}
                height={y(s) - y(need)}
                fill="url(#wanting)"
              />
            )}
            <rect
              x={k * 20 + 1}
              y={y(s)}
              width={18}
              height={96 - y(s)}
              fill="var(--liquid)"
              stroke="var(--line)"
              strokeWidth="0.8"
            />
          </g>
        ))}
        <path d={`M0 ${y(need)}H400`} stroke="var(--ink)" strokeWidth="2" strokeDasharray="9 4" />
        <path d="M0 96H400" stroke="var(--line)" strokeWidth="2" />
      </svg>
      <p className="flex justify-between gap-4 text-xs text-ink-2">
        <span>slowest spots</span>
        <span>fastest spots</span>
      </p>
      <p className="text-xs text-ink-2">
        Each bar is a twentieth of the surface; yellow has been had, hatched is wanting, dashed is
        the need.
      </p>
      <dl className="grid grid-cols-[1fr_auto] gap-x-4 text-sm">
        {[
          ["run.effective", "Cleaning charge so far, mean"],
          ["run.charge", "Ampere-hours"],
          ["run.powered", "Time under power"],
        ].map(([key, name]) => {
          const fig = f[key as string] as FigureOut | undefined;
          return fig ? (
            <div key={key} className="contents">
              <dt>{name}</dt>
              <dd className="text-right">
                <Num f={fig} className="text-lg" />
              </dd>
            </div>
          ) : null;
        })}
        <dt>Thought to want</dt>
        <dd className="text-right">
          {f["run.need"] && (
            <Num f={f["run.need"]} className="text-lg" text={windowText(f["run.need"])} />
          )}
        </dd>
      </dl>
      {!run.amps_read && <p className="text-sm">{word("run.amps_as_planned")}</p>}
      <p className="sr-only">
        Need from {low.toFixed(2)} to {high.toFixed(2)}.
      </p>
    </section>
  );
}
