import type { RunOut } from "@/shared/api/client";
import { capital, said, small, word } from "@/shared/words";

/** A log line in words. */
type Line = Pick<RunOut["log"][number], "kind" | "detail"> & { text?: string };

export function lineWords(line: Line, run?: RunOut): string {
  const d = line.detail as Record<string, unknown>;
  const piece = d.piece ? run?.pieces.find((p) => p.id === d.piece) : undefined;
  if (!d.piece) return ofAll(line, run);
  const own = ["lift", "back_in", "clean", "finish_start", "close"].includes(line.kind);
  const said = own
    ? noted(small(word(`alone.log.${line.kind}`)), d.remarks)
    : small(ofAll(line, run && piece ? { ...run, ...piece, id: run.id, state: run.state } : run));
  return `${piece?.name ?? d.piece}: ${said}`;
}

function ofAll(line: Line, run?: RunOut): string {
  const d = line.detail as Record<string, unknown>;
  const title = word(`run.log.${line.kind}`);
  switch (line.kind) {
    case "reading":
      return readingWords(d);
    case "one_lead": {
      const lead = run?.leads.find((l) => l.id === d.lead)?.name ?? String(d.lead);
      return `${title}: ${lead}, ${plain(d.current_a)} A`;
    }
    case "look":
      return lookWords(d);
    case "change":
      return changeWords(d);
    case "inspection":
      return inspectionWords(d, run);
    case "finish_step":
      return noted(
        `${run?.steps.find((s) => s.id === d.step)?.title ?? d.step}: ${d.mark}`,
        String(d.choice ?? "").replaceAll("_", " "),
      );
    case "close":
      return noted(title, d.remarks);
    case "switch_on":
      return d.already ? word("already.log") : title;
    case "remark":
      return String(d.text);
    case "in_bath":
      return `${title}: ${small(word(`in_bath.${d.so}`))}`;
    case "asked":
    case "mended":
      // told by the bath's own figures; until the server has it, by what was asked
      return line.text || noted(title, d.note);
    default:
      return noted(title, d.cause || d.reason || d.note);
  }
}

/** What was written beside it stands behind it. */
const noted = (what: string, note: unknown) => (note ? `${what}: ${note}` : what);

function lookWords(d: Record<string, unknown>): string {
  const signs = ((d.signs as string[] | undefined) ?? []).map((v) => word(`choice.run.sign.${v}`));
  const gas = d.bubbles ? [said("run.bubbles", String(d.bubbles))] : [];
  const [first, ...rest] = [...gas, ...signs];
  return first ? [capital(first), ...rest].join("; ") : word("run.log.look");
}

function readingWords(d: Record<string, unknown>): string {
  const parts = [
    known(d.current_a) ? `${plain(d.current_a)} A` : "no amps reading",
    ...(known(d.tank_v) ? [`${plain(d.tank_v)} V at the tank`] : []),
    ...(known(d.supply_v) ? [`${plain(d.supply_v)} V at the supply`] : []),
    ...(d.bath ? [`bath ${d.bath}`] : known(d.bath_c) ? [`bath ${plain(d.bath_c)} °C`] : []),
  ];
  return `${d.method === "line" ? "Off the line:" : "Read"} ${parts.join(", ")}`;
}

function changeWords(d: Record<string, unknown>): string {
  const what = word(`choice.run.change.${d.what}`);
  const amps =
    known(d.before_a) || known(d.after_a) ? ` (${plain(d.before_a)} → ${plain(d.after_a)} A)` : "";
  const scrap = d.goes_in as { material: string; size: string; count: number } | null | undefined;
  const went = scrap
    ? `: ${scrap.count} × ${[said("anode.material", scrap.material), scrap.size].filter(Boolean).join(", ")}`
    : "";
  return noted(`${what}${went}${amps}`, d.note);
}

const regionName = (id: string, run?: RunOut) =>
  [...(run?.regions ?? []), ...(run?.pieces ?? []).flatMap((p) => p.regions)].find(
    (r) => r.id === id,
  )?.name ?? id.split(".").at(-1);

function inspectionWords(d: Record<string, unknown>, run?: RunOut): string {
  if (d.verdict === "equal") return noted("Brushed: equal to last time", d.note);
  if (d.verdict === "not_yet") return noted("Brushed: not yet", d.note);
  const shares = Object.entries((d.shares ?? {}) as Record<string, number>).map(
    ([id, s]) => `${regionName(id, run)} ${Math.round(s * 100)} %`,
  );
  return noted(`Brushed: ${shares.join(", ")} clean`, d.note);
}

/** Whether it was read: what the server has not is null, what was not typed yet is left out. */
const known = (value: unknown) => value !== null && value !== undefined;

/** A reading to three figures, as a meter has them; "?" where it was not read. */
export function plain(value: unknown): string {
  return typeof value === "number" ? String(Number(value.toPrecision(3))) : "?";
}
