export type Kind = "tank" | "supply" | "lead" | "anode" | "mix" | "chemical";

export const KINDS: readonly (readonly [Kind, string, string])[] = [
  ["tank", "Tanks", "Inside sizes or jug marks, typed once."],
  ["supply", "Supplies", "Chargers, laboratory supplies, batteries."],
  ["anode", "Scrap", "Weighed new and now; ampere-hours count themselves."],
  ["lead", "Leads", "Length and size of copper."],
  ["mix", "Mixes", "Kept liquid: water goes, soda stays."],
  ["chemical", "Shelf", "Boxes of soda, what is left in them."],
];

/** What can be done to a thing, in words, and the amount that goes with it. */
export const DONE: Partial<Record<Kind, readonly (readonly [string, string, string])[]>> = {
  anode: [
    ["scraped", "Scraped clean", ""],
    ["weighed", "Weighed, all of them", "Weight"],
  ],
  mix: [
    ["topped_up", "Topped up with water", "Water"],
    ["added", "Soda put in", "Weight, dry"],
    ["decanted", "Settled and decanted", ""],
    ["strip", "pH read off a strip", "pH"],
    ["poured_out", "Some poured out", "Liquid"],
    ["poured_in", "Another mix poured in", ""],
  ],
  chemical: [
    ["restocked", "Bought", "Weight"],
    ["weighed", "Weighed", "Weight"],
  ],
};
