import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, ask, keys } from "@/shared/api/client";
import { Trouble } from "@/shared/ui/States";
import { word } from "@/shared/words";
import type { Begun, First } from "./useFirst";

/** What follows from what was said so far: a question back, or the one answer and the way on. */
export function Answer({
  first,
  told,
  behind,
  error,
  forget,
}: {
  first: First;
  told: Begun | undefined;
  behind: boolean;
  error: Error | null;
  forget: () => void;
}) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const open = useMutation({
    // what was typed last counts, though its answer may not be here yet
    mutationFn: async () => {
      const fresh = await ask(api.POST("/api/plans/begin", { body: first }));
      if (!fresh.read) throw new Error(fresh.question || Object.values(fresh.faults).join(" "));
      return ask(api.POST("/api/plans", { body: { document: { ...fresh.read.document } } }));
    },
    onSuccess: (plan) => {
      forget();
      void queries.invalidateQueries({ queryKey: keys.plans });
      navigate(`/plans/${plan.id}`);
    },
  });
  const answer = told?.read?.answer;
  const faulty = told ? Object.keys(told.faults).length > 0 : false;
  return (
    <aside
      aria-label="Answer"
      aria-busy={behind}
      data-answer
      className="fixed inset-x-0 bottom-[var(--foot)] z-30 max-h-[45dvh] overflow-y-auto border-t-4 border-liquid bg-sheet px-3 py-2 sm:bottom-0 lg:sticky lg:top-[108px] lg:bottom-auto lg:max-h-none lg:self-start lg:border-t-2 lg:border-t-line lg:p-4"
    >
      {error && !told && <Trouble error={error} />}
      {told?.question && (
        <p role="status" className="sign text-xl lg:text-2xl" data-question>
          {told.question}
        </p>
      )}
      {answer && (
        <dl className={`lg:mt-2 lg:space-y-2 ${behind ? "opacity-60" : ""}`} data-line>
          {answer.line.map((p) => (
            <div
              key={p.part}
              data-part={p.part}
              className={`flex items-baseline gap-2 lg:block ${
                LATER.has(p.part) && !p.stop ? "max-lg:hidden" : ""
              }`}
            >
              <dt className="w-16 shrink-0 text-sm text-ink-2 lg:w-auto">{p.name}</dt>
              <dd
                className={`sign text-lg lg:text-2xl ${p.stop ? "bg-stop px-1.5 text-on-stop" : ""}`}
              >
                {p.text}
              </dd>
            </div>
          ))}
        </dl>
      )}
      {told?.read && !answer && <p className="sign text-xl">{told.read.trouble}</p>}
      {told?.read && (
        <button
          type="button"
          className="btn btn-main mt-2 w-full text-lg lg:mt-4"
          disabled={(faulty && !behind) || open.isPending}
          onClick={() => open.mutate()}
        >
          {word("begin.go")}
        </button>
      )}
      {open.error && <Trouble error={open.error} />}
    </aside>
  );
}

// on a phone the rest is a press away
const LATER = new Set(["scrap", "look"]);
