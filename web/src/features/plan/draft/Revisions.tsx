import { useMutation, useQuery } from "@tanstack/react-query";
import { History } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import { api, ask, type Plan } from "@/shared/api/client";
import { usePlan } from "@/shared/form/context";
import { clockTime, dateOf } from "@/shared/time";

/** Earlier revisions of a saved plan; one taken up is a change like any other. */
export function Revisions({ planId, base }: { planId: string; base: number }) {
  const { replace } = usePlan();
  const [open, setOpen] = useState(false);
  const list = useQuery({
    queryKey: ["revisions", planId, base],
    enabled: open,
    queryFn: () =>
      ask(api.GET("/api/plans/{plan_id}/revisions", { params: { path: { plan_id: planId } } })),
  });
  const take = useMutation({
    mutationFn: (revision: number) =>
      ask(
        api.GET("/api/plans/{plan_id}", {
          params: { path: { plan_id: planId }, query: { revision } },
        }),
      ),
    onSuccess: (found) => {
      replace({ ...(found.read.document as Plan), typed: {} });
      setOpen(false);
    },
  });
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="btn btn-small" aria-label="Earlier revisions">
        <History size={18} aria-hidden="true" />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={4}
          collisionPadding={12}
          className="z-50 max-h-[60vh] w-72 overflow-auto border-2 border-line bg-sheet p-3"
        >
          <h2 className="text-xl">Revisions</h2>
          {take.error && <p className="text-sm">{take.error.message}</p>}
          {list.error && <p className="text-sm">{list.error.message}</p>}
          {!list.data && !list.error && <p className="text-sm">Fetching …</p>}
          <ol>
            {list.data?.map((r) => (
              <li
                key={r.number}
                className="flex items-center gap-2 border-t border-hair py-1 text-sm"
              >
                <span className="flex-1">
                  {r.number}, {dateOf(new Date(r.created_at))}{" "}
                  {clockTime(new Date(r.created_at), new Date(r.created_at))}
                </span>
                <button
                  type="button"
                  className="btn btn-small"
                  disabled={take.isPending}
                  onClick={() => take.mutate(r.number)}
                >
                  Take up
                </button>
              </li>
            ))}
          </ol>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
