import { OctagonX, TriangleAlert } from "lucide-react";
import { usePlan } from "@/shared/form/context";
import { assumed } from "@/shared/form/said";
import { counted, word } from "@/shared/words";
import { MARKS } from "./marks";

/** The order of work as a graduated stick: wet where calculated, notched where a check speaks. */
export function Dipstick() {
  const { read } = usePlan();
  const verdicts = useVerdicts();
  const stops = read?.answer?.findings.filter((f) => f.severity === "stop").length ?? 0;
  return (
    <nav aria-label="Dipstick: the order of work" className="no-print">
      <ol className="flex overflow-x-auto lg:block">
        {MARKS.map((id, k) => {
          const name = word(`part.${id}`);
          const v = verdicts[id] ?? OPEN;
          return (
            <li key={id} className="flex-1">
              <a
                href={`#${id}`}
                className="group flex h-full items-stretch gap-2 lg:h-16"
                data-mark={id}
                data-verdict={v.kind}
              >
                <span
                  className={`hidden w-5 border-x-2 border-line lg:block ${k === 0 ? "border-t-2" : ""} ${k === MARKS.length - 1 ? "border-b-2" : ""} ${v.wet ? "bg-liquid" : "bg-sheet"}`}
                >
                  <span className="block h-full bg-[repeating-linear-gradient(to_bottom,var(--line)_0_1.5px,transparent_1.5px_8px)] bg-[length:60%_100%] bg-no-repeat" />
                </span>
                <span
                  className={`flex min-w-0 flex-1 flex-col items-center border-b-4 px-1 py-1 lg:items-start lg:border-b-0 lg:border-t-2 lg:border-t-line lg:px-0 lg:py-0.5 ${v.wet ? "border-b-liquid" : "border-b-hair"}`}
                >
                  <span className="sign text-base group-hover:underline sm:text-lg">{name}</span>
                  <span className="flex items-center gap-1 text-xs text-ink-2">
                    {v.kind === "stop" && (
                      <OctagonX size={15} className="text-stop" aria-hidden="true" />
                    )}
                    {v.kind === "caution" && (
                      <TriangleAlert size={15} className="text-ink" aria-hidden="true" />
                    )}
                    <span className="sr-only lg:not-sr-only">{v.words}</span>
                  </span>
                </span>
              </a>
            </li>
          );
        })}
      </ol>
      <p className="sr-only" role="status">
        {stops} stops
      </p>
    </nav>
  );
}

type Verdict = { kind: "stop" | "caution" | "clear" | "open"; wet: boolean; words: string };

const OPEN: Verdict = { kind: "open", wet: false, words: "not yet" };

/** Where what a mark is about stands in a plan. */
const ABOUT: Record<string, readonly string[]> = {
  piece: ["/pieces"],
  tank: ["/tank"],
  mix: ["/mix"],
  scrap: ["/anodes", "/layout"],
  power: ["/supply"],
  air: ["/place"],
};

function useVerdicts(): Record<string, Verdict> {
  const { doc, read } = usePlan();
  const out: Record<string, Verdict> = {};
  for (const id of MARKS) {
    const here = read?.answer?.findings.filter((f) => f.mark === id || id === "check") ?? [];
    const stops = here.filter((f) => f.severity === "stop").length;
    const cautions = here.filter((f) => f.severity === "caution").length;
    const faulty = Object.keys(read?.faults ?? {}).some((p) => markOf(p) === id);
    if (!read?.answer) out[id] = OPEN;
    else if (faulty) out[id] = { kind: "caution", wet: false, words: "cannot be read" };
    else if (stops) out[id] = { kind: "stop", wet: false, words: counted(stops, "count.stop") };
    else if (cautions)
      out[id] = {
        kind: "caution",
        wet: true,
        words: counted(cautions, "count.caution"),
      };
    else if (here.some((f) => f.id.endsWith("_asked")))
      out[id] = { kind: "open", wet: false, words: "not answered yet" };
    else out[id] = { kind: "clear", wet: true, words: "calculated" };
    const v = out[id] as Verdict;
    const about = ABOUT[id];
    if (about?.every((at) => assumed(doc.said, at))) {
      // dry where nobody has said anything yet
      out[id] = { ...v, wet: false, words: v.kind === "clear" ? word("begin.mark") : v.words };
    }
  }
  return out;
}

function markOf(pointer: string): string {
  const first = pointer.split("/")[1] ?? "";
  return (
    { pieces: "piece", anodes: "scrap", layout: "scrap", supply: "power", place: "air" }[first] ??
    first
  );
}
