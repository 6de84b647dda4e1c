import { useQuery } from "@tanstack/react-query";
import { Navigate, useParams } from "react-router";
import { api, ask, keys } from "@/shared/api/client";
import { Loading, Trouble } from "@/shared/ui/States";

/** Where a bench card's code leads: to the plan's run, or to the plan while there is none. */
export function RunOfPlan() {
  const { planId = "" } = useParams();
  const rack = useQuery({ queryKey: keys.rack, queryFn: () => ask(api.GET("/api/runs")) });
  if (rack.error) return <Trouble error={rack.error} again={() => void rack.refetch()} />;
  if (!rack.data) return <Loading what="the run" />;
  const run = rack.data.find((r) => r.plan_id === planId);
  return <Navigate replace to={run ? `/runs/${run.run_id}` : `/plans/${planId}`} />;
}
