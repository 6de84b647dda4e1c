import { createContext, useContext } from "react";
import type { Plan, ReadOut } from "@/shared/api/client";

export interface PlanEdit {
  doc: Plan;
  read?: ReadOut;
  /** Another document; with the same ``join`` shortly after one another they are one step back. */
  replace: (doc: Plan, join?: string) => void;
  put: (pointer: string, value: unknown) => void;
  type: (pointer: string, text: string) => void;
}

export const PlanContext = createContext<PlanEdit | null>(null);

export function usePlan(): PlanEdit {
  const edit = useContext(PlanContext);
  if (!edit) throw new Error("outside a plan");
  return edit;
}

export function valueAt(doc: unknown, pointer: string): unknown {
  return pointer
    .split("/")
    .slice(1)
    .reduce<unknown>((node, part) => (node as Record<string, unknown> | undefined)?.[part], doc);
}
