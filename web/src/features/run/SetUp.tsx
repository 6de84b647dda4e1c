import { Check } from "lucide-react";
import { useState } from "react";
import type { RunOut } from "@/shared/api/client";
import { Drawing } from "@/shared/ui/Drawing";
import { word } from "@/shared/words";

/** Setting up with wet hands: every step big, one after another, ticked by thumb. What was ticked
 *  stays on this device, should the phone fall asleep. */
export function SetUp({ run }: { run: RunOut }) {
  const steps = run.planned.set_up;
  const [done, setDone] = useDone(run.id);
  const next = steps.find((s) => !done.includes(s.id));
  const tick = (id: string) =>
    setDone(done.includes(id) ? done.filter((d) => d !== id) : [...done, id]);
  return (
    <section aria-label={word("setup.title")} className="space-y-2" data-setup>
      <h2 className="text-2xl">{word("setup.title")}</h2>
      <p className="text-sm text-ink-2">{word("setup.lead")}</p>
      <Drawing scene={run.scene} />
      <ol className="border-t-2 border-line">
        {steps.map((s, k) => {
          const ticked = done.includes(s.id);
          return (
            <li key={s.id} className="border-b border-hair bg-sheet" data-step={s.id}>
              <button
                type="button"
                aria-pressed={ticked}
                className="flex min-h-16 w-full items-start gap-3 px-3 py-2 text-left"
                onClick={() => tick(s.id)}
              >
                <span
                  className={`sign mt-0.5 flex size-9 shrink-0 items-center justify-center border-2 border-line text-xl ${
                    ticked ? "bg-ink text-paper" : s === next ? "bg-liquid text-on-liquid" : ""
                  }`}
                >
                  {ticked ? <Check size={24} aria-hidden="true" /> : k + 1}
                </span>
                <span className={ticked ? "text-ink-2" : ""}>
                  <span className={`sign block ${s === next ? "text-2xl" : "text-xl"}`}>
                    {s.title}
                  </span>
                  {(!ticked || s === next) &&
                    s.lines.map((l) => (
                      <span key={l} className="block text-sm">
                        {l}
                      </span>
                    ))}
                </span>
              </button>
            </li>
          );
        })}
      </ol>
    </section>
  );
}

function useDone(runId: string) {
  const key = `yb.setup.${runId}`;
  const [done, set] = useState<string[]>(() => {
    try {
      return JSON.parse(localStorage.getItem(key) ?? "[]") as string[];
    } catch {
      return [];
    }
  });
  const setDone = (next: string[]) => {
    set(next);
    localStorage.setItem(key, JSON.stringify(next));
  };
  return [done, setDone] as const;
}
