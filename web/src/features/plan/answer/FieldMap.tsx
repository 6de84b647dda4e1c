import { Num } from "@/shared/ui/Num";
import { Trouble } from "@/shared/ui/States";
import { word } from "@/shared/words";
import { SolvingField } from "./Solving";
import type { Field, FieldOut } from "./useField";

/** Where the current goes on the piece, solved in three dimensions: the table beside the picture. */
export function FieldMap({ field }: { field: Field }) {
  const { data: f, busy } = field;
  return (
    <section
      className="border-t border-line pt-1.5"
      aria-label="Where the current goes"
      aria-busy={busy}
    >
      <h3 className="text-sm font-medium text-ink-2">Where the current goes</h3>
      {field.error && <Trouble error={field.error} again={field.again} />}
      {!field.error && <SolvingField field={field} />}
      {f && (
        <div className={busy ? "opacity-60" : ""}>
          <table className="mt-2 w-full text-sm">
            <caption className="sr-only">Mean current density by region of the piece</caption>
            <thead>
              <tr className="text-left text-xs text-ink-2">
                <th scope="col">Region</th>
                <th scope="col" className="text-right">
                  A/dm²
                </th>
                <th scope="col" className="text-right">
                  of the mean
                </th>
              </tr>
            </thead>
            <tbody>
              {f.regions.map((r) => (
                <tr
                  key={r.id}
                  className="border-t border-hair"
                  data-region={r.id}
                  data-ratio={r.ratio}
                >
                  <th scope="row" className="text-left font-normal">
                    {r.name}
                  </th>
                  <td className="sign text-right text-base">
                    <Num f={r.density} text={r.density.number.toPrecision(2)} />
                  </td>
                  <td className="sign text-right text-base">{Math.round(r.ratio * 100)} %</td>
                </tr>
              ))}
              <tr className="border-t border-hair">
                <th scope="row" className="text-left font-normal">
                  Worst patch, 2 % of it
                </th>
                <td className="sign text-right text-base">
                  <Num f={f.worst} text={f.worst.number.toPrecision(2)} />
                </td>
                <td className="sign text-right text-base">{Math.round(f.worst_percent)} %</td>
              </tr>
            </tbody>
          </table>
          {f.pieces.length > 0 && (
            <ul className="mt-2 text-sm" aria-label="Amps by piece">
              {f.pieces.map((p, k) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: two may have one name
                <li key={k} className="flex justify-between gap-3 border-t border-hair">
                  {p.name}
                  <span className="sign text-base">{p.amps.toPrecision(2)} A</span>
                </li>
              ))}
            </ul>
          )}
          <Kinds field={f} />
          <p className="mt-1 text-xs text-ink-2">
            Solved on {f.facets} facets, resistance within {f.error_percent.toFixed(1)} % of the
            model's own; films and mix are what you typed, and the first reading tells.{" "}
            {field.finer && (
              <button type="button" className="underline" onClick={field.finer}>
                Solve it finer
              </button>
            )}
          </p>
        </div>
      )}
    </section>
  );
}

/** Outer surface, recesses and bores apart; and what no scrap looks at, which is geometry only. */
function Kinds({ field: f }: { field: FieldOut }) {
  return (
    <div className="mt-2 space-y-1 text-sm">
      {f.kinds.length > 1 && (
        <ul>
          <li className="flex justify-between gap-3 text-xs text-ink-2">
            <span>By how open it lies</span>
            <span>nine tenths between</span>
          </li>
          {f.kinds.map((k) => (
            <li key={k.kind} className="flex justify-between gap-3 border-t border-hair">
              <span>
                {word(`region.kind.${k.kind}`)}, {k.area_percent.toFixed(0)} % of it
              </span>
              <span className="sign whitespace-nowrap text-base">
                {Math.max(k.p5, 0).toPrecision(2)} to {k.p95.toPrecision(2)} A/dm²
              </span>
            </li>
          ))}
        </ul>
      )}
      <p className="text-xs text-ink-2">
        Line of sight:{" "}
        {f.blind_percent < 0.5 ? "every part" : `${(100 - f.blind_percent).toFixed(0)} %`} of the
        surface sees some scrap. That is geometry, not current: current bends round, and a blind
        side still gets some.
      </p>
    </div>
  );
}
