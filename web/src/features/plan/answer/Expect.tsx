import { useEffect, useRef, useState } from "react";
import type { ReadOut } from "@/shared/api/client";
import { Trouble } from "@/shared/ui/States";
import { word } from "@/shared/words";
import { useShown } from "../stage/Stage";
import { AnswerPanel } from "./AnswerPanel";
import type { Field } from "./useField";

/** What to expect of the bath on the screen, be it the hand's or the plan's. */
export function Expect({
  read,
  field,
  answer,
  faults,
}: {
  read: ReadOut | undefined;
  field: Field;
  answer: { error: Error | null; isPlaceholderData: boolean; refetch: () => unknown };
  faults: number;
}) {
  return (
    <aside
      aria-label="What to expect"
      id="expect"
      className="border-t-2 border-line bg-sheet p-4 lg:sticky lg:top-[136px] lg:max-h-[calc(100dvh-148px)] lg:self-start lg:overflow-auto"
    >
      <h2 className="mb-2 text-2xl">What to expect</h2>
      {answer.error && <Trouble error={answer.error} again={() => void answer.refetch()} />}
      {faults > 0 && (
        <p className="mb-2 text-sm font-semibold">
          {faults === 1 ? "One field cannot" : `${faults} fields cannot`} be read; its last good
          value is used here.
        </p>
      )}
      {read?.answer ? (
        <Figures read={read} field={field} stale={answer.isPlaceholderData} />
      ) : (
        <p>{read?.trouble ?? word("stage.working")}</p>
      )}
    </aside>
  );
}

function Figures({ read, field, stale }: { read: ReadOut; field: Field; stale: boolean }) {
  const shown = useShown(read, field);
  const answer = useNowAndThen(shown.answer, 300);
  return (
    <>
      <p
        className="-mt-2 mb-2 text-sm text-ink-2"
        role="status"
        data-solving={shown.how !== "fine"}
      >
        {shown.words}
      </p>
      <AnswerPanel answer={answer} stale={stale && shown.how === "quick"} field={field} />
    </>
  );
}

/** A value that follows at once when it rests and at most so often [ms] while it keeps changing. */
function useNowAndThen<T>(value: T, ms: number): T {
  const [shown, setShown] = useState(value);
  const last = useRef(0);
  useEffect(() => {
    const due = Math.max(last.current + ms - performance.now(), 0);
    const timer = setTimeout(() => {
      last.current = performance.now();
      setShown(value);
    }, due);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return shown;
}
