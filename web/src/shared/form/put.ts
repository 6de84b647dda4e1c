import type { Plan } from "@/shared/api/client";
import { places } from "./context";

/** A copy of a document with one place replaced, or every one that a pointer with ``*`` names;
 *  texts typed under them go with it. */
export function putAt(doc: Plan, pointer: string, value: unknown): Plan {
  return putAll(
    doc,
    places(doc, pointer).map((p) => ({ pointer: p, value })),
  );
}

/** The same for several places at once, as a mend sets them. */
export function putAll(doc: Plan, sets: readonly { pointer: string; value?: unknown }[]): Plan {
  const copy = structuredClone(doc) as Plan;
  for (const { pointer, value } of sets) {
    const path = pointer.split("/").slice(1);
    let holder = copy as unknown as Record<string, unknown>;
    for (const part of path.slice(0, -1)) {
      holder[part] ??= {};
      holder = holder[part] as Record<string, unknown>;
    }
    holder[path.at(-1) as string] = structuredClone(value);
  }
  const gone = (p: string) =>
    sets.some(({ pointer }) => p === pointer || p.startsWith(`${pointer}/`));
  copy.typed = Object.fromEntries(Object.entries(copy.typed ?? {}).filter(([p]) => !gone(p)));
  return copy;
}

/** A copy with a text typed into every place that a pointer names. */
export function typeAt(doc: Plan, pointer: string, text: string): Plan {
  const typed = Object.fromEntries(places(doc, pointer).map((p) => [p, text]));
  return { ...doc, typed: { ...doc.typed, ...typed } };
}

/** Texts typed into a list's members once one of them is gone: its own go with it, those of the
 *  members after it move up. */
export function typedWithout(typed: Plan["typed"], list: string, gone: number): Plan["typed"] {
  return Object.fromEntries(
    Object.entries(typed ?? {}).flatMap(([at, text]) => {
      const [index, ...rest] = at.startsWith(`${list}/`)
        ? at.slice(list.length + 1).split("/")
        : [];
      const k = Number(index);
      if (index === undefined || k < gone) return [[at, text]];
      return k === gone ? [] : [[`${list}/${k - 1}/${rest.join("/")}`, text]];
    }),
  );
}
