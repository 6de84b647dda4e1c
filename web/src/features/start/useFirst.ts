import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { api, ask, type Schemas } from "@/shared/api/client";
import { practiceId } from "@/shared/clock";
import { useRested } from "@/shared/useRested";

/** What was said so far, as it was typed; without the units, which are the shop's until changed. */
export type First = Schemas["First"];
/** What the server made of it. */
export type Begun = Schemas["BegunOut"];

const KEY = `yb.begin${practiceId()}`;

function stored(): First {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? "{}") as First;
  } catch {
    return {} as First;
  }
}

/** The first words, kept on this device until they are a plan, and what the server makes of them. */
export function useFirst(system: First["system"] | undefined) {
  const [first, setFirst] = useState<First>(stored);
  useEffect(() => {
    localStorage.setItem(KEY, JSON.stringify(first));
  }, [first]);
  const said = { ...first, system: first.system ?? system ?? "metric" };
  const rested = useRested(JSON.stringify(said), 150);
  const begun = useQuery({
    queryKey: ["begin", rested],
    enabled: system !== undefined,
    queryFn: () => ask(api.POST("/api/plans/begin", { body: JSON.parse(rested) as First })),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 20_000,
  });
  const say = useCallback((more: Partial<First>) => setFirst((f) => ({ ...f, ...more })), []);
  const forget = useCallback(() => {
    localStorage.removeItem(KEY);
    setFirst({} as First);
  }, []);
  const behind = rested !== JSON.stringify(said) || begun.isPlaceholderData;
  return { first: said, say, forget, begun, behind };
}
