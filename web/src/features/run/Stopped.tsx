import type { RunOut } from "@/shared/api/client";
import { timeNow } from "@/shared/clock";
import { useHalf } from "@/shared/form/useHalf";
import { clockTime } from "@/shared/time";
import { WhenField } from "@/shared/ui/WhenField";
import { parseWhen } from "@/shared/when";
import { word } from "@/shared/words";
import { type Enter, switchedOn } from "./useRun";

/** From when on the hours of a bath that fell silent do not count, and the way to say it better. */
export function Stopped({ run, now, enter }: { run: RunOut; now: Date; enter: Enter }) {
  const [text, setText, clear] = useHalf(`${run.id}.stopped.other`, "");
  if (!run.stopped) return null;
  const [first, likely, last] = [run.stopped.low, run.stopped.mid, run.stopped.high].map((t) =>
    clockTime(new Date(t), now),
  ) as [string, string, string];
  const since = switchedOn(run);
  const at = text.trim() ? parseWhen(text, timeNow(), since) : null;
  return (
    <div className="mt-2 text-sm" data-stopped>
      <p>{word(first === last ? "stopped.then" : "stopped.likely", { first, likely, last })}</p>
      <details>
        <summary className="min-h-11 cursor-pointer py-2 font-semibold">
          {word("stopped.other")}
        </summary>
        <div className="space-y-2 bg-sheet p-3 text-ink">
          <WhenField text={text} setText={setText} since={since} />
          <button
            type="button"
            className="btn btn-main min-h-11 w-full"
            disabled={!at}
            onClick={() => {
              if (!at) return;
              void enter({ kind: "found_stopped", cause: "" }, at);
              clear();
            }}
          >
            {word("stopped.send")}
          </button>
        </div>
      </details>
    </div>
  );
}
