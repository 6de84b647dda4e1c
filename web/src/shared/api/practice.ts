import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, ask, type Schemas } from "@/shared/api/client";
import { setPractice } from "@/shared/clock";

type Practice = Schemas["PracticeOut"];

/** A practice as it stands; the page's clock goes by it. */
export function usePractice(id: string) {
  const queries = useQueryClient();
  const key = ["practice", id];
  const practice = useQuery({
    queryKey: key,
    queryFn: () =>
      ask(api.GET("/api/practice/{practice_id}", { params: { path: { practice_id: id } } })),
    refetchInterval: 20_000,
    retry: false,
    enabled: id !== "",
  });
  const now = practice.data?.now;
  useEffect(() => {
    if (now) setPractice(id, new Date(now));
  }, [id, now]);
  const params = { params: { path: { practice_id: id } } };
  const done = (made: Practice) => {
    setPractice(id, new Date(made.now));
    queries.setQueryData(key, made);
    void queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "practice" });
  };
  const doing = useMutation({
    mutationFn: (what: { observe: string } | { mend: string } | { minutes: number }) => {
      if ("observe" in what)
        return ask(
          api.POST("/api/practice/{practice_id}/observe", {
            ...params,
            body: { ask: what.observe },
          }),
        );
      if ("mend" in what)
        return ask(
          api.POST("/api/practice/{practice_id}/mend", { ...params, body: { cause: what.mend } }),
        );
      return ask(api.POST("/api/practice/{practice_id}/pass", { ...params, body: what }));
    },
    onSuccess: done,
  });
  return { practice, doing };
}
