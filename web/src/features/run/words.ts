import type { RunOut } from "@/shared/api/client";

export const STATE_WORDS: Record<string, string> = {
  planned: "Set up, not checked yet",
  ready: "Checked, off",
  running: "Under power",
  paused: "Power off, piece in",
  lifted: "Power off, piece out",
  clean: "Clean, still wet",
  finishing: "Finishing",
  closed: "In the book",
  abandoned: "Abandoned",
};

export const CHANGES: readonly (readonly [string, string])[] = [
  ["turned", "Turned the piece"],
  ["flipped", "Put it end for end"],
  ["scraped", "Scraped the scrap"],
  ["swapped_anodes", "Swapped the scrap"],
  ["topped_up", "Topped up with water"],
  ["clip_moved", "Moved the clip"],
  ["soda_added", "Added soda"],
  ["limit_changed", "Changed the limit or range"],
  ["other", "Something else"],
];

export const SIGNS: readonly (readonly [string, string])[] = [
  ["touch", "Scrap and piece touch"],
  ["smoke", "Smoke"],
  ["smell", "A bad smell"],
  ["sparks", "Sparks"],
  ["hot", "Something too hot to touch"],
];

const BUBBLES: Record<string, string> = {
  whole: "Gas from the whole piece",
  one_side: "Gas from one side only",
  clip_only: "Gas only at the clip",
  none: "No gas",
};

/** A log line in words. */
export function lineWords(line: RunOut["log"][number], run: RunOut): string {
  const d = line.detail as Record<string, unknown>;
  switch (line.kind) {
    case "checklist":
      return "Switch-on list gone through";
    case "switch_on":
      return "Switched on";
    case "switch_off":
      return "Switched off";
    case "found_stopped":
      return `Had stopped by itself${d.cause ? `: ${d.cause}` : ""}`;
    case "reading":
      return readingWords(d);
    case "look":
      return lookWords(d);
    case "change":
      return changeWords(d);
    case "lift":
      return "Lifted the piece";
    case "back_in":
      return "Back in the bath";
    case "inspection":
      return inspectionWords(d, run);
    case "clean":
      return "Called clean";
    case "finish_start":
      return "Began the finish";
    case "finish_step":
      return `${run.steps.find((s) => s.id === d.step)?.title ?? d.step}: ${d.mark}`;
    case "close":
      return "Written into the book";
    case "abandon":
      return `Abandoned${d.reason ? `: ${d.reason}` : ""}`;
    default:
      return String(d.text ?? line.kind);
  }
}

function lookWords(d: Record<string, unknown>): string {
  const signs = ((d.signs as string[] | undefined) ?? []).map(
    (s) => SIGNS.find(([k]) => k === s)?.[1] ?? s,
  );
  const gas = BUBBLES[String(d.bubbles)];
  return [...(gas ? [gas] : []), ...signs].join("; ") || "Looked";
}

function readingWords(d: Record<string, unknown>): string {
  const parts = [
    d.current_a === null ? "no amps reading" : `${d.current_a} A`,
    ...(d.tank_v === null ? [] : [`${d.tank_v} V at the tank`]),
    ...(d.supply_v === null ? [] : [`${d.supply_v} V at the supply`]),
    ...(d.bath ? [`bath ${d.bath}`] : d.bath_c === null ? [] : [`bath ${d.bath_c} °C`]),
  ];
  return `Read ${parts.join(", ")}`;
}

function changeWords(d: Record<string, unknown>): string {
  const what = CHANGES.find(([k]) => k === d.what)?.[1] ?? "Change";
  const amps =
    d.before_a !== null || d.after_a !== null
      ? ` (${d.before_a ?? "?"} → ${d.after_a ?? "?"} A)`
      : "";
  return `${what}${amps}${d.note ? `: ${d.note}` : ""}`;
}

function inspectionWords(d: Record<string, unknown>, run: RunOut): string {
  if (d.verdict === "equal") return "Brushed: equal to last time";
  if (d.verdict === "not_yet") return "Brushed: not yet";
  const shares = Object.entries(d.shares as Record<string, number>).map(
    ([id, s]) => `${run.regions.find((r) => r.id === id)?.name ?? id} ${Math.round(s * 100)} %`,
  );
  return `Brushed: ${shares.join(", ")} clean`;
}
