import type { Plan } from "@/shared/api/client";

/** What a document keeps of what somebody said; all of it was said where it keeps nothing. */
export type Said = Plan["said"];

/** Whether what stands at a pointer, or all that stands under it, was only assumed. */
export function assumed(said: Said, pointer: string): boolean {
  if (!said) return false;
  return !said.some((s) => `${pointer}/`.startsWith(`${s}/`) || s.startsWith(`${pointer}/`));
}

/** What is said once a person has changed a document: what differs now, and what was picked or
 *  typed though it stood there already. */
export function saidAfter(before: Plan, after: Plan, touched: readonly string[] = []): Said {
  if (!after.said) return after.said;
  const typed = Object.entries(after.typed ?? {})
    .filter(([at, text]) => before.typed?.[at] !== text)
    .map(([at]) => at);
  const parts = Object.keys(after).filter((key) => !ASIDE.has(key)) as (keyof Plan)[];
  const differ = parts.flatMap((key) => differing(before[key], after[key], `/${key}`));
  // of another shape the sizes are only assumed again
  const holders = differ.filter((at) => at.endsWith("/shape/kind")).map((at) => at.slice(0, -5));
  const kept = after.said.filter((s) => !holders.some((h) => `${s}/`.startsWith(`${h}/`)));
  return [...new Set([...kept, ...differ, ...typed, ...touched])];
}

const ASIDE = new Set(["typed", "said", "kit", "schema_version", "system", "meter"]);

/** Pointers of what differs; lists of other lengths differ where their members do. */
function differing(before: unknown, other: unknown, at: string): string[] {
  const one = before === undefined && isBranch(other) && !Array.isArray(other) ? {} : before;
  if (Object.is(one, other)) return [];
  if (isBranch(one) && isBranch(other))
    return Object.keys(other).flatMap((key) =>
      key in one ? differing(one[key], other[key], `${at}/${key}`) : leaves(other[key], at, key),
    );
  return [at];
}

/** A member that was not there before was said by whoever put it there, save in the pieces. */
function leaves(_: unknown, at: string, key: string): string[] {
  return at === "/pieces" ? [] : [`${at}/${key}`];
}

function isBranch(node: unknown): node is Record<string, unknown> {
  return typeof node === "object" && node !== null;
}

/** What is said of a list once one of its members is gone. */
export function saidWithout(said: Said, list: string, gone: number): Said {
  return said?.flatMap((s) => {
    const [index, rest] = member(s, list);
    if (index === null || index < gone) return [s];
    return index === gone ? [] : [`${list}/${index - 1}${rest}`];
  });
}

/** The same once its last member stands there again. */
export function saidAgain(said: Said, list: string, last: number): Said {
  return said?.flatMap((s) => {
    const [index, rest] = member(s, list);
    return index === last ? [s, `${list}/${last + 1}${rest}`] : [s];
  });
}

function member(pointer: string, list: string): [number | null, string] {
  const found = pointer.startsWith(`${list}/`) && /^\/(\d+)(.*)$/.exec(pointer.slice(list.length));
  return found ? [Number(found[1]), found[2] ?? ""] : [null, ""];
}
