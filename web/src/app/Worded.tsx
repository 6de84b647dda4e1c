import { queryOptions, useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { api, ask } from "@/shared/api/client";
import { Loading, Trouble } from "@/shared/ui/States";
import { takeWords } from "@/shared/words";

/** The words; the browser keeps them and asks only whether they still stand. */
export const WORDS = queryOptions({
  queryKey: ["words"],
  staleTime: Number.POSITIVE_INFINITY,
  gcTime: Number.POSITIVE_INFINITY,
  queryFn: async () => {
    const given = await ask(api.GET("/api/words"));
    takeWords(given);
    return Object.keys(given).length;
  },
});

/** The page once it has its words. */
export function Worded({ children }: { children: ReactNode }) {
  const words = useQuery(WORDS);
  if (words.error) return <Trouble error={words.error} again={() => void words.refetch()} />;
  return words.data ? children : <Loading what="the words" />;
}
