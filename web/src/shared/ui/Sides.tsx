import type { SurfaceHoursOut } from "@/shared/api/client";

/** The slow places, one line each: how much of the surface, when it is clean, or what helps. */
export function Sides({
  sides,
  left = false,
}: {
  sides: readonly SurfaceHoursOut[];
  left?: boolean;
}) {
  const slow = sides.filter((s) => s.kind !== "main");
  if (!slow.length) return null;
  return (
    <ul className="mt-1 space-y-0.5 text-sm" data-sides>
      {slow.map((s) => (
        <li key={s.kind} className="flex flex-wrap items-baseline gap-x-2">
          <span>
            {s.name} <span className="text-ink-2">({s.percent} %)</span>
          </span>
          {s.hours ? (
            <span>
              <b className="sign font-semibold">{s.hours}</b>
              {left && " left"}
              {s.turned && (
                <>
                  , or <b className="sign font-semibold">{s.turned}</b> if turned round half-way
                </>
              )}
            </span>
          ) : (
            <span>
              not in this bath: <span className="text-ink-2">{s.remedy}</span>
            </span>
          )}
        </li>
      ))}
    </ul>
  );
}
