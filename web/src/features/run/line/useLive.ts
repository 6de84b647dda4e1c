import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, ask, keys, type Schemas } from "@/shared/api/client";

export type LinkOut = Schemas["LinkOut"];
export type LinkDocument = Schemas["LinkDocument"];
export type SeriesOut = Schemas["SeriesOut"];

export interface Sample {
  at_ms: number;
  amps: number | null;
  volts: number | null;
  bath_c: number | null;
  why: string;
}

export interface LineState {
  state: LinkOut["state"];
  why: string;
  output_on: boolean | null;
  shout: string;
  entry: number;
  step: string;
}

const KEPT = 4000; // samples of the last hour, and some

/** What hangs on a run's line; null for nothing. */
export function useLink(runId: string) {
  return useQuery({
    queryKey: keys.link(runId),
    queryFn: () => ask(api.GET("/api/runs/{run_id}/link", { params: { path: { run_id: runId } } })),
    refetchInterval: 15_000,
  });
}

/** A run's samples as they come; after a cut the stream goes on with the one that is next. */
export function useLive(runId: string, on: boolean) {
  const [samples, setSamples] = useState<Sample[]>([]);
  const [line, setLine] = useState<LineState | null>(null);
  const [away, setAway] = useState(false);
  const queries = useQueryClient();
  const told = useRef("");
  useEffect(() => {
    if (!on) return;
    const source = new EventSource(`/api/runs/${runId}/live`);
    source.addEventListener("open", () => setAway(false));
    source.addEventListener("error", () => setAway(true));
    source.addEventListener("samples", (event) => {
      const came = JSON.parse(event.data) as Sample[];
      setSamples((had) => [...had, ...came].slice(-KEPT));
    });
    source.addEventListener("link", (event) => {
      const state = JSON.parse(event.data) as LineState;
      setLine(state);
      // switched off by an interlock, lost or taken up again: the run stands otherwise now
      const stands = `${state.state} ${state.shout} ${state.entry} ${state.step}`;
      if (told.current && told.current !== stands) {
        void queries.invalidateQueries({ queryKey: keys.run(runId) });
        void queries.invalidateQueries({ queryKey: keys.rack });
        void queries.invalidateQueries({ queryKey: keys.link(runId) });
      }
      told.current = stands;
    });
    return () => source.close();
  }, [runId, on, queries]);
  return { samples, line, away };
}

/** The samples of the last so many seconds, or all, thinned by the server. */
export function useSamples(runId: string, seconds: number | null, points: number) {
  return useQuery({
    queryKey: [...keys.link(runId), "samples", seconds],
    queryFn: () => {
      const first =
        seconds === null ? undefined : new Date(Date.now() - seconds * 1000).toISOString();
      return ask(
        api.GET("/api/runs/{run_id}/samples", {
          params: { path: { run_id: runId }, query: { points, ...(first && { first }) } },
        }),
      );
    },
    refetchInterval: Math.max((seconds ?? 86_400) * 25, 20_000),
  });
}
