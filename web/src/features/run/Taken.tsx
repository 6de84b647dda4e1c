import { useCallback, useEffect, useState } from "react";
import type { Detail, RunOut } from "@/shared/api/client";
import { lineWords } from "@/shared/lineWords";
import { word } from "@/shared/words";
import type { Enter } from "./useRun";

interface Down {
  words: string;
  /** Its id in the log, where the server has it. */
  id?: string | undefined;
  at: number;
}

const STAYS = 7_000; // ms

/** Entering with an answer at the thumb: what was written down, and the way to take it back. */
export function useTaken(run: RunOut | undefined, enter: Enter) {
  const [down, setDown] = useState<Down | null>(null);
  useEffect(() => {
    if (!down) return;
    const timer = setTimeout(() => setDown(null), STAYS);
    return () => clearTimeout(timer);
  }, [down]);
  const known = run?.log;
  const take: Enter = useCallback(
    async (detail: Detail, at?: Date) => {
      const made = await enter(detail, at);
      const before = new Set(known?.map((l) => l.client_id));
      const line = made?.log.find((l) => !before.has(l.client_id) && l.kind === detail.kind);
      const words = line
        ? lineWords(line, made ?? undefined)
        : lineWords({ kind: detail.kind, detail: { ...detail } }, run);
      if (detail.kind === "void") setDown(null);
      else setDown({ words, id: line?.client_id, at: Date.now() });
      return made;
    },
    [enter, known, run],
  );
  return { take, down, over: () => setDown(null) };
}

export function Taken({ down, enter }: { down: Down | null; enter: Enter }) {
  return (
    <div
      role="status"
      className="no-print pointer-events-none fixed inset-x-2 bottom-[calc(var(--foot)+78px)] z-50 flex justify-center sm:bottom-[76px]"
      data-taken
    >
      {down && (
        <p
          key={down.at}
          className="pointer-events-auto flex items-center gap-3 border-2 border-line bg-liquid px-3 py-1 text-on-liquid"
        >
          <span className="font-semibold">
            {word(down.id ? "taken.down" : "taken.kept", { what: down.words })}
          </span>
          {down.id && (
            <button
              type="button"
              className="min-h-11 shrink-0 underline"
              onClick={() => void enter({ kind: "void", target: down.id ?? "", reason: "" })}
            >
              {word("taken.back")}
            </button>
          )}
        </p>
      )}
    </div>
  );
}
