import { usePlan } from "@/shared/form/context";
import { options } from "@/shared/words";

/** Faces of a piece: rust graded by itself, or painted or taped over so that no current gets in.
 *
 * With one picked in the picture only that one is shown. */
export function Faces({ k, picked }: { k: number; picked?: string }) {
  const { doc, read, put } = usePlan();
  const regions = read?.document?.pieces?.[k]?.regions ?? [];
  const masked = doc.pieces?.[k]?.masked ?? [];
  const own = new Map((doc.pieces?.[k]?.regions ?? []).map((r) => [r.id, r.grade ?? ""]));
  const shown = regions.filter((r) => !picked || r.id === picked);
  if (!shown.length) return null;
  const grade = (id: string, to: string) =>
    put(
      `/pieces/${k}/regions`,
      regions.map((r) => ({ ...r, grade: (r.id === id ? to : own.get(r.id)) || null })),
    );
  const cover = (id: string, on: boolean) =>
    put(`/pieces/${k}/masked`, on ? [...masked, id] : masked.filter((m) => m !== id));
  return (
    <table className="text-sm" data-faces>
      <caption className="pb-1 text-left text-xs text-ink-2">
        {picked
          ? "The face you pressed"
          : "Faces that differ; press one in the 3-D view to pick it"}
      </caption>
      <thead className="text-left text-xs text-ink-2">
        <tr>
          <th scope="col">Face</th>
          <th scope="col">How rusty there?</th>
          <th scope="col">Covered</th>
        </tr>
      </thead>
      <tbody>
        {shown.map((r) => (
          <tr key={r.id} className="border-t border-hair">
            <th scope="row" className="pr-3 text-left font-semibold">
              {r.name}
            </th>
            <td className="py-1 pr-3">
              <select
                className="field !w-44"
                aria-label={`How rusty: ${r.name}`}
                value={own.get(r.id) ?? ""}
                onChange={(e) => grade(r.id, e.target.value)}
              >
                <option value="">As the whole piece</option>
                {options("piece.grade").map(([v, words]) => (
                  <option key={v} value={v}>
                    {words}
                  </option>
                ))}
              </select>
            </td>
            <td>
              <label className="flex min-h-11 items-center gap-2">
                <input
                  type="checkbox"
                  className="h-5 w-5"
                  checked={masked.includes(r.id)}
                  onChange={(e) => cover(r.id, e.target.checked)}
                />
                paint or tape
              </label>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
