import type { Plan, Problem } from "@/shared/api/client";
import { word } from "@/shared/words";

/** Somebody saved in between, and the two do not go together: both versions offered whole. */
export function Stale({
  mine,
  problem,
  keepMine,
  takeTheirs,
}: {
  mine: Plan;
  problem: Problem;
  keepMine: (head: number) => void;
  takeTheirs: (doc: Plan, head: number) => void;
}) {
  const head = Number(problem.data?.head_revision ?? 0);
  const theirs = problem.data?.theirs as Plan;
  const rows = differences(mine, theirs);
  return (
    <div role="alert" className="mb-3 border-l-4 border-stop bg-sheet p-4">
      <h2 className="text-xl">{word("both.whole")}</h2>
      <p className="text-sm">
        You started from revision {String(problem.data?.base_revision)}, the newest is {head}.
        Nothing is lost: each version stays.
      </p>
      <table className="mt-2 w-full max-w-2xl text-sm">
        <thead>
          <tr className="text-left">
            <th scope="col">Where</th>
            <th scope="col">Yours</th>
            <th scope="col">Theirs</th>
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, 12).map(([where, a, b]) => (
            <tr key={where} className="border-t border-hair">
              <td className="pr-3">{where}</td>
              <td className="pr-3 font-semibold">{a}</td>
              <td className="font-semibold">{b}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-3 flex flex-wrap gap-2">
        <button type="button" className="btn" onClick={() => keepMine(head)}>
          Keep mine as the newest
        </button>
        <button type="button" className="btn" onClick={() => takeTheirs(theirs, head)}>
          Take theirs (undo brings mine back)
        </button>
      </div>
    </div>
  );
}

function flat(node: unknown, at = ""): [string, string][] {
  if (node !== null && typeof node === "object")
    return Object.entries(node).flatMap(([k, v]) =>
      k === "typed" ? [] : flat(v, at ? `${at} ${k}` : k),
    );
  return [[at, String(node ?? "")]];
}

function differences(a: Plan, b: Plan): [string, string, string][] {
  const theirs = new Map(flat(b));
  const mine = new Map(flat(a));
  const places = new Set([...mine.keys(), ...theirs.keys()]);
  return [...places]
    .filter((p) => mine.get(p) !== theirs.get(p))
    .map((p) => [placeWords(p), mine.get(p) ?? "nothing", theirs.get(p) ?? "nothing"]);
}

function placeWords(place: string): string {
  return place
    .replaceAll("_m3", " (m³)")
    .replaceAll(/_m\b/g, " (m)")
    .replaceAll("_", " ")
    .replaceAll(/\b\d+\b /g, "");
}
