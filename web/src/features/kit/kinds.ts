import { under } from "@/shared/words";

export const KINDS = ["tank", "supply", "anode", "lead", "pump", "mix", "chemical"] as const;
export type Kind = (typeof KINDS)[number];

/** What can be done to a thing, in words; nothing to one that has no history. */
export const doneTo = (kind: Kind) => under(`kit.done.${kind}.`);
