import type { Detail, RunOut } from "@/shared/api/client";
import { timeNow } from "@/shared/clock";
import { word } from "@/shared/words";
import type { Enter } from "./useRun";

const STALE = 60_000; // ms that the run's own time may be old

/** What became of the newest look; one that is far from what was thought is asked about once. */
export function Looked({ run, enter, busy }: { run: RunOut; enter: Enter; busy: boolean }) {
  if (!run.looked || run.closed) return null;
  const line = run.log.find((l) => l.client_id === run.far_look);
  const strike = (target: string) => enter({ kind: "void", target, reason: "" });
  const again = async (target: string, detail: object, at: string) => {
    // the log tells times by the shop's clock, an entry by this device's
    const ahead = timeNow().getTime() - Date.parse(run.now);
    const apart = Math.abs(ahead) > STALE ? ahead : 0;
    await strike(target);
    const sure = { ...detail, kind: "inspection", sure: true } as Detail;
    await enter(sure, new Date(Date.parse(at) + apart));
  };
  return (
    <div className="space-y-2 border-l-4 border-hair bg-sheet p-3" data-looked>
      <p>{run.looked}</p>
      {line && (
        <>
          <p className="font-semibold">{word("told.far")}</p>
          <div className="flex flex-wrap gap-2">
            <button
              type="button"
              className="btn min-h-11"
              disabled={busy}
              onClick={() => void again(line.client_id, line.detail, line.at)}
            >
              {word("told.sure")}
            </button>
            <button
              type="button"
              className="btn min-h-11"
              disabled={busy}
              onClick={() => void strike(line.client_id)}
            >
              {word("told.slip")}
            </button>
          </div>
        </>
      )}
    </div>
  );
}
