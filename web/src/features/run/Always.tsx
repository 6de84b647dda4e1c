import { OctagonX, Power } from "lucide-react";
import { useState } from "react";
import type { Detail, RunOut } from "@/shared/api/client";
import { choices, word } from "@/shared/words";
import type { Enter } from "./useRun";

type Sign = NonNullable<Extract<Detail, { kind: "look" }>["signs"]>[number];

/** What has to be in reach at every moment of a run, whatever form is open. */
export function Always({ run, enter }: { run: RunOut; enter: Enter }) {
  const [open, setOpen] = useState(false);
  return (
    <div
      className="no-print fixed inset-x-0 bottom-[var(--foot)] z-40 border-t-2 border-line bg-paper sm:bottom-0"
      data-always
    >
      <div className="mx-auto max-w-[1280px] p-2 sm:px-5">
        {open && (
          <section aria-label={word("always.what")} className="pb-2" data-danger-signs>
            <h2 className="text-lg">{word("always.what")}</h2>
            <div className="grid grid-cols-2 gap-2 sm:grid-cols-5">
              {choices<Sign>("run.sign").map(([key, name]) => (
                <button
                  key={key}
                  type="button"
                  className="btn min-h-14"
                  onClick={() => {
                    void enter({ kind: "look", bubbles: null, signs: [key] });
                    setOpen(false);
                  }}
                >
                  {name}
                </button>
              ))}
            </div>
          </section>
        )}
        {run.buffered && run.state === "running" && (
          <p className="pb-1 text-xs">{word("action.buffered")}</p>
        )}
        <div className="grid grid-cols-2 gap-2">
          <button
            type="button"
            className="btn min-h-12 gap-2 text-lg"
            disabled={run.state !== "running"}
            onClick={() => void enter({ kind: "switch_off" })}
          >
            <Power size={22} aria-hidden="true" />
            {word(run.state === "running" ? "always.off" : "always.is_off")}
          </button>
          <button
            type="button"
            className={`btn min-h-12 gap-2 border-stop text-lg ${open ? "!bg-stop !text-on-stop" : "text-stop"}`}
            aria-expanded={open}
            onClick={() => setOpen(!open)}
          >
            <OctagonX size={22} aria-hidden="true" />
            {word("always.danger")}
          </button>
        </div>
      </div>
    </div>
  );
}
