import { useState } from "react";
import type { RunOut } from "@/shared/api/client";
import { word } from "@/shared/words";
import { nextKind } from "./Next";
import { InspectionPanel } from "./Panels";
import { Big, Do } from "./Presses";
import type { Enter } from "./useRun";

/** What lies out of the bath is looked at, and then goes back or is called clean. */
export function Lifted({ run, enter }: { run: RunOut; enter: Enter }) {
  const [again, setAgain] = useState(false);
  const inspect = nextKind(run) === "inspect" || again;
  if (inspect) return <InspectionPanel run={run} enter={enter} done={() => setAgain(false)} />;
  return (
    <section className="space-y-2" aria-label="Decide">
      {run.nothing_gained && (
        <p className="border-l-4 border-line bg-sheet p-3">{word("run.equal")}</p>
      )}
      <p className="text-sm">
        {word(run.beyond_percent ? "run.clean_of_reached" : "run.clean_of", {
          percent: Math.round(run.share_clean * 100),
          beyond: run.beyond_percent,
        })}
      </p>
      <Big onClick={() => void enter({ kind: "clean" })}>It is clean enough</Big>
      <Do onClick={() => void enter({ kind: "back_in" })}>Back in the bath, power off</Do>
      <button type="button" className="btn btn-bare" onClick={() => setAgain(true)}>
        Look again
      </button>
    </section>
  );
}
