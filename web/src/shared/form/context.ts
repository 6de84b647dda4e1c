import { createContext, useContext } from "react";
import type { Plan, ReadOut } from "@/shared/api/client";

/** What a field shows of a document as it was read: a plan's, or a thing's of the kit. */
export type FieldsRead = Pick<ReadOut, "shown" | "faults" | "heard"> & Partial<ReadOut>;

export interface PlanEdit {
  doc: Plan;
  read?: FieldsRead;
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

/** The places that a pointer names: ``*`` stands for every member of a list. */
export function places(doc: unknown, pointer: string): string[] {
  const star = pointer.indexOf("/*");
  if (star < 0) return [pointer];
  const list = plainAt(doc, pointer.slice(0, star));
  const count = Array.isArray(list) ? list.length : 0;
  return [...Array(count).keys()].flatMap((k) =>
    places(doc, `${pointer.slice(0, star)}/${k}${pointer.slice(star + 2)}`),
  );
}

/** What stands at a pointer; for every member of a list, undefined where they differ. */
export function valueAt(doc: unknown, pointer: string): unknown {
  const found = places(doc, pointer).map((p) => plainAt(doc, p));
  return found.every((v) => v === found.at(0)) ? found.at(0) : undefined;
}

/** Whether members of a list differ at a pointer. */
export function differs(doc: unknown, pointer: string): boolean {
  return new Set(places(doc, pointer).map((p) => plainAt(doc, p))).size > 1;
}

function plainAt(doc: unknown, pointer: string): unknown {
  return pointer
    .split("/")
    .slice(1)
    .reduce<unknown>((node, part) => (node as Record<string, unknown> | undefined)?.[part], doc);
}

/** What a person would call a bath: by its pieces, else by the plan's own name. */
export function titleOf(doc: Plan): string {
  const pieces = doc.pieces ?? [];
  const names = pieces.map((p) => p.name).filter(Boolean);
  if (names.length > 2) return `${names[0]}, ${names[1]} and ${pieces.length - 2} more`;
  return names.join(" and ") || doc.name || "";
}
