import { Away, api, Refused } from "./client";

const TAB = Math.random().toString(36).slice(2);
let turn = 0;

/** This tab's row of a name, by which the server knows it. */
export function rowOf(name: string): string {
  return `${name} ${TAB}`;
}

/** Marks a request as one of this tab's row of that name, of which the server solves the newest. */
export function drag(row: string) {
  return { by: rowOf(row), turn: turn++ };
}

/** Nobody waits any more for what this tab's row asked for. */
export function stopSolving(row: string) {
  return api.POST("/api/plans/stop", { body: { by: rowOf(row) } });
}

/** Whether it was not solved since a newer took its place, or a hand ended it. */
export function superseded(error: unknown): boolean {
  return error instanceof Refused && error.problem.type.endsWith("superseded");
}

/** Whether to ask again: one whose place a newer took may yet be wanted, as after an undo. */
export function askAgain(count: number, error: Error): boolean {
  return count < 2 && (superseded(error) || error instanceof Away);
}
