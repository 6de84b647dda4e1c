import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import { api, ask } from "@/shared/api/client";
import { usePlan } from "@/shared/form/context";
import { Trouble } from "@/shared/ui/States";
import { word } from "@/shared/words";

/** A reading of the bath as planned: one factor on its resistance, shown, until it is forgotten. */
export function Meter({ says }: { says: string | null }) {
  const { doc, put } = usePlan();
  const [text, setText] = useState("");
  const id = useId();
  const read = useMutation({
    mutationFn: () => ask(api.POST("/api/plans/meter", { body: { document: { ...doc }, text } })),
    onSuccess: (meter) => {
      setText("");
      put("/meter", meter);
    },
  });
  if (says)
    return (
      <p className="border-t border-line pt-1.5 text-sm" data-meter>
        {says}{" "}
        <button
          type="button"
          className="underline"
          onClick={() => put("/meter", { read_a: null, factor: 1 })}
        >
          {word("meter.forget")}
        </button>
      </p>
    );
  return (
    <form
      className="border-t border-line pt-1.5"
      onSubmit={(e) => {
        e.preventDefault();
        read.mutate();
      }}
    >
      <label htmlFor={id} className="block text-sm font-medium text-ink-2">
        {word("meter.ask")}
      </label>
      <div className="flex gap-2">
        <input
          id={id}
          className="field w-28"
          inputMode="decimal"
          placeholder="2.4 A"
          aria-describedby={`${id}-hint`}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <button type="submit" className="btn btn-small" disabled={!text.trim() || read.isPending}>
          {word("meter.go")}
        </button>
      </div>
      <p id={`${id}-hint`} className="mt-1 text-xs text-ink-2">
        {word("meter.hint")}
      </p>
      {read.error && <Trouble error={read.error} />}
    </form>
  );
}
