import type { RunOut } from "@/shared/api/client";
import { word } from "@/shared/words";
import { useCauses } from "./useCauses";
import type { Enter } from "./useRun";

const MOST = 3; // causes that are offered

/** A bath that does as it should again since hands did something: what it was, by one press. */
export function Was({ run, enter, busy }: { run: RunOut; enter: Enter; busy: boolean }) {
  const found = useCauses(run, "mend");
  const likely = (found.data?.suspects ?? []).filter((s) => !s.sound).slice(0, MOST);
  if (!likely.length) return null;
  const say = (cause: string) => void enter({ kind: "mended", cause, helped: true, note: "" });
  return (
    <section
      className="space-y-2 border-l-4 border-hair bg-sheet p-3"
      aria-label={word("matter.was")}
      data-was
    >
      <p className="font-semibold">{word("matter.was")}</p>
      <p className="text-sm text-ink-2">{word("matter.was_why")}</p>
      <div className="flex flex-wrap gap-2">
        {likely.map((s) => (
          <button
            key={s.id}
            type="button"
            className="btn min-h-11"
            disabled={busy}
            onClick={() => say(s.id)}
          >
            {s.title}
          </button>
        ))}
        <button
          type="button"
          className="min-h-11 px-3 underline"
          disabled={busy}
          onClick={() => say("unknown")}
        >
          {word("matter.was_not_known")}
        </button>
      </div>
    </section>
  );
}
