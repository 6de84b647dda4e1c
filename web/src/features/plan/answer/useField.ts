import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { api, ask, type Plan, type Schemas } from "@/shared/api/client";
import { askAgain, drag, stopSolving } from "@/shared/api/drag";
import { decode, type Facets } from "@/shared/scene/facets";
import { useRested } from "@/shared/useRested";
import { type Halting, MAP } from "./Solving";

export type FieldOut = Schemas["FieldOut"];

export interface Field extends Halting {
  data: FieldOut | undefined;
  /** The document that the data were solved for. */
  doc: Plan | undefined;
  facets: Facets | null;
  seen: Facets | null;
  error: Error | null;
  again: () => void;
  finer: (() => void) | null;
}

/** The bath solved on two meshes once the plan has rested; ``sight`` asks for what facets see,
 *  ``saved`` is the plan whose newest revision it is, if any. */
export function useField(doc: Plan, ready: boolean, sight: boolean, saved: string): Field {
  const [quality, setQuality] = useState<"preview" | "fine">("preview");
  const [stopped, setStopped] = useState(""); // the bath that is not to be solved
  // everything but what it is called, so that a part added later is not forgotten
  const { name: _, notes: _n, said: _s, typed: _t, kit: _k, ...bath } = doc;
  const shape = JSON.stringify(bath);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another bath is previewed first
  useEffect(() => setQuality("preview"), [shape]);
  const sent = useRested(shape, 500);
  const halted = stopped === shape;
  const queries = useQueryClient();
  const field = useQuery({
    queryKey: ["field", sent, quality, sight],
    enabled: ready && sent === shape && !halted,
    queryFn: async ({ signal }) => ({
      doc,
      out: await ask(
        api.POST("/api/plans/field", {
          body: { document: { ...doc }, quality, sight, drag: drag(MAP), plan_id: saved },
          signal,
        }),
      ),
    }),
    retry: askAgain,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 20_000, // undo finds the last few again; a long evening of dragging fills no memory
    placeholderData: keepPreviousData,
  });
  const none = halted && field.isPlaceholderData; // of another bath
  const out = none ? undefined : field.data?.out;
  const facets = useMemo(() => (out ? decode(out.shown) : null), [out]);
  const seen = useMemo(() => (out?.seen ? decode(out.seen) : null), [out]);
  const busy = !halted && (field.isFetching || field.isPlaceholderData || sent !== shape);
  const doubted = out?.read.answer?.findings.some((f) => f.id === "field_doubted") ?? false;
  // what the solver is not sure of it solves finer by itself
  useEffect(() => {
    if (doubted && !busy && !halted) setQuality("fine");
  }, [doubted, busy, halted]);
  const halt = useCallback(() => {
    setStopped(shape);
    setQuality("preview"); // what was solved stands
    void queries.cancelQueries({ queryKey: ["field"] });
    void stopSolving(MAP);
  }, [shape, queries]);
  const resume = useCallback(() => setStopped(""), []);
  const finer = useCallback(() => {
    setStopped("");
    setQuality("fine");
  }, []);
  const solvedFor = none ? undefined : field.data?.doc;
  const { error, refetch } = field;
  return useMemo(
    () => ({
      data: out,
      doc: solvedFor,
      facets,
      seen,
      busy,
      halted: halted && !out,
      halt,
      resume,
      error,
      again: () => void refetch(),
      finer: quality === "preview" ? finer : null,
    }),
    [out, solvedFor, facets, seen, busy, halted, halt, resume, finer, error, refetch, quality],
  );
}
