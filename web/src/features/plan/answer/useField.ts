import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { api, ask, type Plan, type Schemas } from "@/shared/api/client";
import { askAgain, drag } from "@/shared/api/drag";
import { decode, type Facets } from "@/shared/scene/facets";
import { useRested } from "@/shared/useRested";

export type FieldOut = Schemas["FieldOut"];

export interface Field {
  data: FieldOut | undefined;
  /** The document that the data were solved for. */
  doc: Plan | undefined;
  facets: Facets | null;
  seen: Facets | null;
  busy: boolean;
  error: Error | null;
  again: () => void;
  finer: (() => void) | null;
}

/** The bath solved on two meshes once the plan has rested; ``sight`` asks for what facets see,
 *  ``saved`` is the plan whose newest revision it is, if any. */
export function useField(doc: Plan, ready: boolean, sight: boolean, saved: string): Field {
  const [quality, setQuality] = useState<"preview" | "fine">("preview");
  // everything but what it is called, so that a part added later is not forgotten
  const { name: _, notes: _n, said: _s, typed: _t, kit: _k, ...bath } = doc;
  const shape = JSON.stringify(bath);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another bath is previewed first
  useEffect(() => setQuality("preview"), [shape]);
  const sent = useRested(shape, 500);
  const field = useQuery({
    queryKey: ["field", sent, quality, sight],
    enabled: ready && sent === shape,
    queryFn: async ({ signal }) => ({
      doc,
      out: await ask(
        api.POST("/api/plans/field", {
          body: { document: { ...doc }, quality, sight, drag: drag("map"), plan_id: saved },
          signal,
        }),
      ),
    }),
    retry: askAgain,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 20_000, // undo finds the last few again; a long evening of dragging fills no memory
    placeholderData: keepPreviousData,
  });
  const out = field.data?.out;
  const facets = useMemo(() => (out ? decode(out.shown) : null), [out]);
  const seen = useMemo(() => (out?.seen ? decode(out.seen) : null), [out]);
  const busy = field.isFetching || field.isPlaceholderData || sent !== shape;
  const doubted = out?.read.answer?.findings.some((f) => f.id === "field_doubted") ?? false;
  // what the solver is not sure of it solves finer by itself
  useEffect(() => {
    if (doubted && !busy) setQuality("fine");
  }, [doubted, busy]);
  const solvedFor = field.data?.doc;
  const { error, refetch } = field;
  return useMemo(
    () => ({
      data: out,
      doc: solvedFor,
      facets,
      seen,
      busy,
      error,
      again: () => void refetch(),
      finer: quality === "preview" ? () => setQuality("fine") : null,
    }),
    [out, solvedFor, facets, seen, busy, error, refetch, quality],
  );
}
