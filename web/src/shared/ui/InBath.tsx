import type { Detail, RunOut } from "@/shared/api/client";
import { word } from "@/shared/words";

type Said = Extract<Detail, { kind: "in_bath" }>;

/** Whether what the plan says since is so in the bath; asked once a revision. */
export function InBath({ run, say }: { run: RunOut; say: (detail: Said) => void }) {
  const told = (so: Said["so"]) =>
    say({ kind: "in_bath", so, head: run.head, stops: run.asked.map((f) => f.key) });
  return (
    <div className="space-y-2" data-in-bath>
      {run.asked.map((f) => (
        <p key={f.key} className="border-l-4 border-stop pl-2">
          <strong>{f.title}.</strong> {f.evidence} {f.fix}
        </p>
      ))}
      <div className="grid grid-cols-2 gap-2">
        <button type="button" className="btn min-h-14" onClick={() => told("now")}>
          {word("in_bath.now")}
        </button>
        <button type="button" className="btn min-h-14" onClick={() => told("idea")}>
          {word("in_bath.idea")}
        </button>
      </div>
    </div>
  );
}
