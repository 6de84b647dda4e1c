/** Words for things that have a name; their one owner is the server, which gives them once. */
export type Option = readonly [value: string, label: string];

let held: Readonly<Record<string, string>> = {};
const lists = new Map<string, readonly Option[]>();

/** What the server gave; before it there is no page. */
export function takeWords(given: Readonly<Record<string, string>>) {
  held = given;
  lists.clear();
}

/** The word of a key, its slots filled. */
export function word(key: string, slots: Readonly<Record<string, string | number>> = {}): string {
  const text = held[key] ?? key;
  return text.replace(/\{(\w+)\}/g, (whole, slot: string) => String(slots[slot] ?? whole));
}

/** Whether there is a word. */
export function known(key: string): boolean {
  return key in held;
}

/** The values of a choice and their words, in the order in which they are offered. */
export function options(choice: string): readonly Option[] {
  const start = `choice.${choice}.`;
  return under(start);
}

/** The same where the page's own types know the values; the table is the server's, as they are. */
export function choices<V extends string>(choice: string): readonly (readonly [V, string])[] {
  return options(choice) as readonly (readonly [V, string])[];
}

/** Everything one level below a key; found once, since every field asks with every drawing. */
export function under(start: string): readonly Option[] {
  const known = lists.get(start);
  if (known) return known;
  const found = Object.entries(held)
    .filter(([key]) => key.startsWith(start))
    .map(([key, text]) => [key.slice(start.length), text] as const);
  lists.set(start, found);
  return found;
}

/** What was chosen, as it stands inside a sentence. */
export function said(choice: string, value: string): string {
  return held[`said.${choice}.${value}`] ?? small(word(`choice.${choice}.${value}`));
}

/** A number of things, in the singular or the plural. */
export function counted(count: number, key: string): string {
  return `${count} ${word(`${key}.${count === 1 ? "one" : "many"}`)}`;
}

/** With a small letter at its head, but for what is written in capitals. */
export function small(text: string): string {
  return /^[A-Z]{2}/.test(text) ? text : text.charAt(0).toLowerCase() + text.slice(1);
}

/** With a capital at its head. */
export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

const PARTS: Readonly<Record<string, string>> = {
  pieces: "piece",
  anodes: "anode",
  anode: "anode",
  tank: "tank",
  mix: "mix",
  layout: "layout",
  supply: "supply",
  place: "place",
};

/** The part of a document that a pointer's field stands in, its kind, and the field's name. */
export function fieldOf(doc: unknown, pointer: string): [part: string, kind: string, name: string] {
  const steps = pointer.split("/").slice(1);
  const name = steps.at(-1) ?? "";
  const shape = steps.at(-2) === "shape";
  const part = PARTS[steps[0] ?? ""];
  const kind = kindAt(doc, steps.slice(0, -1));
  if (steps.length < 2 || !part) return ["thing", kind, name];
  if (steps.includes("marks")) return ["mark", "", name];
  return [shape && part === "piece" ? "shape" : part, kind, name];
}

/** The kind that the holder of a field says it is; of the first member where it means each. */
function kindAt(doc: unknown, steps: readonly string[]): string {
  const holder = steps.reduce<unknown>(
    (node, step) => (node as Record<string, unknown> | undefined)?.[step === "*" ? "0" : step],
    doc,
  );
  return String((holder as { kind?: unknown } | undefined)?.kind ?? "");
}

/** What a field is called, its hint, or what stands in it while it is empty. */
export function fieldWord(what: "field" | "hint" | "empty", doc: unknown, pointer: string) {
  const [part, kind, name] = fieldOf(doc, pointer);
  return (
    held[`${what}.${part}.${kind}.${name}`] ??
    held[`${what}.${part}.${name}`] ??
    held[`${what}.any.${name}`]
  );
}

/** The choices of a field. */
export function choicesOf(doc: unknown, pointer: string): readonly Option[] {
  const [part, , name] = fieldOf(doc, pointer);
  return options(`${part}.${name}`);
}
