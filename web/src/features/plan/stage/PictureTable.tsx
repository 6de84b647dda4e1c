import { useState } from "react";
import type { SceneOut } from "@/shared/api/client";
import { ruled } from "@/shared/scene/shape";
import { said } from "@/shared/words";
import type { Field } from "../answer/useField";
import { fromEdges } from "./model";

/** What the picture says, in words: every anode and every face. */
interface PictureProps {
  scene: SceneOut;
  field: Field;
  shares: Record<string, number>;
  system: string | undefined;
}

export function PictureTable({ scene, field, shares, system }: PictureProps) {
  const [open, setOpen] = useState(false);
  return (
    <details className="mt-2 text-sm" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer font-semibold">The same as a table</summary>
      {open && <Tables scene={scene} field={field} shares={shares} system={system} />}
    </details>
  );
}

function Tables({ scene, field, shares, system }: PictureProps) {
  return (
    <div className="mt-2 grid gap-6 md:grid-cols-2">
      <table className="self-start">
        <caption className="text-left text-xs text-ink-2">
          Scrap, from the inside edges of the rim to its middle
        </caption>
        <thead>
          <tr className="text-left text-xs text-ink-2">
            <th scope="col">No.</th>
            <th scope="col">Kind</th>
            <th scope="col" className="text-right">
              Off the left
            </th>
            <th scope="col" className="text-right">
              Off the front
            </th>
            <th scope="col" className="text-right">
              Of the current
            </th>
          </tr>
        </thead>
        <tbody>
          {scene.rods.map((r, k) => {
            const d = fromEdges(scene, r.x_m, r.y_m);
            const placed = r.kind === "rod" || r.kind === "plate";
            return (
              <tr key={r.id} className="border-t border-hair">
                <th scope="row" className="text-left">
                  {k + 1}
                </th>
                <td>{said("anode.kind", r.kind)}</td>
                <td className="sign text-right text-base">
                  {placed ? ruled(d.left, system) : "middle"}
                </td>
                <td className="sign text-right text-base">
                  {placed ? ruled(d.front, system) : "middle"}
                </td>
                <td className="sign text-right text-base">
                  {shares[r.id] === undefined ? "" : `${Math.round(100 * (shares[r.id] ?? 0))} %`}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <table className="self-start">
        <caption className="text-left text-xs text-ink-2">Faces of the piece</caption>
        <thead>
          <tr className="text-left text-xs text-ink-2">
            <th scope="col">Face</th>
            <th scope="col" className="text-right">
              A/dm²
            </th>
            <th scope="col" className="text-right">
              Of the mean
            </th>
          </tr>
        </thead>
        <tbody>
          {(field.data?.regions ?? []).map((r) => (
            <tr key={r.id} className="border-t border-hair">
              <th scope="row" className="text-left font-normal">
                {r.name}
              </th>
              <td className="sign text-right text-base">{r.density.text}</td>
              <td className="sign text-right text-base">{Math.round(100 * r.ratio)} %</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
