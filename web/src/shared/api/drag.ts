import { Away, Refused } from "./client";

const TAB = Math.random().toString(36).slice(2);
let turn = 0;

/** Marks a request as one of this tab's row of that name, of which the server solves the newest. */
export function drag(row: string) {
  return { by: `${row} ${TAB}`, turn: turn++ };
}

/** Whether to ask again: one whose place a newer took may yet be wanted, as after an undo. */
export function askAgain(count: number, error: Error): boolean {
  const superseded = error instanceof Refused && error.problem.type.endsWith("superseded");
  return count < 2 && (superseded || error instanceof Away);
}
