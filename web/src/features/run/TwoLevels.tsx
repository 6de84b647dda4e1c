import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, keys, type RunOut } from "@/shared/api/client";
import { word } from "@/shared/words";
import { meter } from "./figures";
import { useLink } from "./line/useLive";
import { MeterInput } from "./MeterFields";

const NOTHING = { high_v: "", high_a: "", low_v: "", low_a: "" };

/**
 * Threshold and resistance at two levels of the supply: by a step of its line, which somebody who stands by
 * asks for each time, or by two settings that were read by hand.
 */
export function TwoLevels({ run, busy }: { run: RunOut; busy: boolean }) {
  const queries = useQueryClient();
  const link = useLink(run.id);
  const [typed, setTyped] = useState(NOTHING);
  const step = link.data?.step;
  const told = () => void queries.invalidateQueries({ queryKey: keys.run(run.id) });
  const going = step?.state === "asked";
  const params = { params: { path: { run_id: run.id } } };
  const down = useMutation({
    mutationFn: () => ask(api.POST("/api/runs/{run_id}/link/step", params)),
    onSuccess: () => void link.refetch(),
  });
  const figures = [typed.high_v, typed.high_a, typed.low_v, typed.low_a].map((text, k) =>
    meter(text, k % 2 ? "A" : "V"),
  );
  const [high_v, high_a, low_v, low_a] = figures;
  const read = useMutation({
    mutationFn: () =>
      ask(
        api.POST("/api/runs/{run_id}/two-levels", {
          ...params,
          body: {
            high_v: high_v ?? 0,
            high_a: high_a ?? 0,
            low_v: low_v ?? 0,
            low_a: low_a ?? 0,
          },
        }),
      ),
    onSuccess: told,
  });
  const all = figures.every((f) => typeof f === "number");
  const error = down.error ?? read.error;
  const field = (key: keyof typeof NOTHING, unit: "V" | "A") => (
    <MeterInput
      label={word(unit === "V" ? "levels.volts" : "levels.amps", {
        which: word(key.startsWith("high") ? "levels.high" : "levels.low"),
      })}
      unit={unit}
      value={typed[key]}
      onChange={(text) => setTyped({ ...typed, [key]: text })}
    />
  );
  return (
    <div className="mt-2 space-y-2 bg-sheet p-3 text-ink" data-two-levels>
      {link.data?.state === "linked" ? (
        <>
          <p className="text-sm">{word("levels.by_line_why")}</p>
          <button
            type="button"
            className="btn btn-main w-full text-lg"
            disabled={busy || going || down.isPending}
            onClick={() => down.mutate()}
          >
            {word(going ? "levels.busy" : "levels.by_line")}
          </button>
          {step?.why && (
            <p role="alert" className="border-l-4 border-stop pl-2 font-semibold">
              {step.why}
            </p>
          )}
        </>
      ) : (
        <>
          <div className="grid grid-cols-2 gap-3">
            {field("high_v", "V")}
            {field("high_a", "A")}
            {field("low_v", "V")}
            {field("low_a", "A")}
          </div>
          <button
            type="button"
            className="btn btn-main w-full text-lg"
            disabled={busy || !all || read.isPending}
            onClick={() => read.mutate()}
          >
            {word("levels.send")}
          </button>
        </>
      )}
      {error && (
        <p role="alert" className="font-semibold">
          {error.message}
        </p>
      )}
    </div>
  );
}
