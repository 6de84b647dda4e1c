import type { Plan } from "@/shared/api/client";

/** A copy of a document with one place replaced; texts typed under that place go with it. */
export function putAt(doc: Plan, pointer: string, value: unknown): Plan {
  const path = pointer.split("/").slice(1);
  const copy = structuredClone(doc) as Plan;
  let holder = copy as unknown as Record<string, unknown>;
  for (const part of path.slice(0, -1)) holder = holder[part] as Record<string, unknown>;
  holder[path.at(-1) as string] = value;
  const typed = Object.entries(copy.typed ?? {}).filter(
    ([p]) => p !== pointer && !p.startsWith(`${pointer}/`),
  );
  copy.typed = Object.fromEntries(typed);
  return copy;
}
