import { Keyboard, Plus } from "lucide-react";
import { type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { AnswerOut, Plan, ReadOut, Schemas } from "@/shared/api/client";
import { usePlan } from "@/shared/form/context";
import { windowText } from "@/shared/ui/Num";
import { useMedia } from "@/shared/useMedia";
import { counted, word } from "@/shared/words";
import { SolvingField } from "../answer/Solving";
import type { Field } from "../answer/useField";
import { HandContext, useMakeHand } from "./hand";
import { Inspector } from "./Inspector";
import { KeyMap } from "./KeyMap";
import { Legend } from "./Legend";
import { sameBath, useLive, useLiveStore } from "./live";
import { MAPS, type MapKind, useMap } from "./map";
import { inHand } from "./model";
import { type Grip, withOneMore } from "./moves";
import { Ortho } from "./Ortho";
import { PictureTable } from "./PictureTable";
import { Solid } from "./Solid";

/** The bath under the hand: three views of it, what it comes to, and what is held. */
export function Stage({
  read,
  field,
  kind,
  setKind,
  trouble,
}: {
  trouble: string;
  read: ReadOut;
  field: Field;
  kind: MapKind;
  setKind: (kind: MapKind) => void;
}) {
  const { doc, replace } = usePlan();
  const live = useLive();
  const store = useLiveStore();
  const [selected, select] = useState<Grip | null>(null);
  const [upright, setUpright] = useState<"front" | "end">("front");
  const [pane, setPane] = useState<"solid" | "above" | "upright">("above");
  const [keysShown, setKeysShown] = useState(false);
  const wide = useMedia("(min-width: 768px)");
  const shown = useShown(read, field);
  const bath = live.held ?? doc;
  const scene = useMemo(() => inHand(shown.answer.scene, bath), [shown.answer.scene, bath]);
  const hand = useMakeHand(doc, read.document, scene, replace);
  const coming = field.data?.coming ?? null;
  const [hours, setHours] = useState<number | null>(null);
  const at = hours ?? coming?.window_h[0] ?? 0;
  const map = useMap(kind, shown.facets, shown.dose, field.seen, shown.answer, coming, at);
  const shift = useShift(bath, shown.solvedFor, scene);
  const ask = useCallback((d: Plan) => store.ask(d), [store]);
  const dark = live.held && live.read && !live.read.answer ? live.read.trouble : "";
  const said = trouble || dark || live.problem;
  useReady();
  useQuestionMark(() => setKeysShown((k) => !k));
  const views = { scene, facets: map.facets, shift, top: map.top, selected, select };
  const rods = scene.rods.some((r) => r.kind === "rod" || r.kind === "plate");
  return (
    <HandContext.Provider value={hand}>
      <section
        id="stage"
        aria-label="The bath"
        className="flex flex-col border-t-2 border-line bg-sheet p-3"
        data-live={shown.how}
      >
        <div className="flex flex-wrap items-center gap-x-4 gap-y-2 pb-2 max-md:order-3 max-md:pt-2">
          <fieldset className="flex flex-wrap gap-1">
            <legend className="sr-only">What the colours show</legend>
            {MAPS.map((id) => (
              <button
                key={id}
                type="button"
                className="choice min-h-8 !py-0"
                aria-pressed={kind === id}
                data-state={kind === id ? "checked" : "unchecked"}
                onClick={() => setKind(id)}
              >
                {word(`map.${id}`)}
              </button>
            ))}
          </fieldset>
          <div className="min-w-56 flex-1">
            <Legend {...map.legend} top={map.top} />
          </div>
          {rods && (
            <button
              type="button"
              className="btn btn-small"
              onClick={() => hand.once({ kind: "anode", id: "new" }, (d) => withOneMore(d, scene))}
            >
              <Plus size={16} aria-hidden="true" /> Scrap
            </button>
          )}
          <button
            type="button"
            className="btn btn-small max-md:hidden"
            aria-expanded={keysShown}
            onClick={() => setKeysShown(!keysShown)}
          >
            <Keyboard size={16} aria-hidden="true" /> Keys
          </button>
        </div>
        {keysShown && <KeyMap />}
        {kind === "clean" && coming && <Hours coming={coming} at={at} set={setHours} />}
        <Readout
          answer={shown.answer}
          how={shown.words}
          lost={live.lost}
          trouble={said}
          field={field}
        />
        {!wide && (
          <fieldset className="flex gap-1 pb-2">
            <legend className="sr-only">View</legend>
            {(
              [
                ["above", "Above"],
                ["upright", "Side"],
                ["solid", "3-D"],
              ] as const
            ).map(([id, name]) => (
              <button
                key={id}
                type="button"
                className="choice flex-1 min-h-11 text-center"
                aria-pressed={pane === id}
                data-state={pane === id ? "checked" : "unchecked"}
                onClick={() => setPane(id)}
              >
                {name}
              </button>
            ))}
          </fieldset>
        )}
        <div
          // what is drawn is of before the last change, and looks it
          className={`grid gap-2 md:h-[23.5rem] md:grid-cols-[minmax(0,1.15fr)_minmax(0,1fr)_minmax(0,1fr)] ${said ? "opacity-40 grayscale" : ""}`}
          data-old={said ? true : undefined}
        >
          {(wide || pane === "solid") && (
            <Pane>
              <Solid {...views} map={map.map} unit={map.legend.unit} words={map.words} />
            </Pane>
          )}
          {(wide || pane === "above") && (
            <Pane>
              <Ortho {...views} side="above" system={doc.system} alarm={shown.alarm} />
            </Pane>
          )}
          {(wide || pane === "upright") && (
            <Pane>
              <Ortho {...views} side={upright} system={doc.system} alarm={shown.alarm} />
              <button
                type="button"
                className="btn btn-small absolute right-1 bottom-1 min-h-7 !px-2"
                onClick={() => setUpright(upright === "front" ? "end" : "front")}
              >
                {word(`view.${upright === "front" ? "end" : "front"}`)}
              </button>
            </Pane>
          )}
        </div>
        <div className="max-md:order-1">
          <Inspector
            selected={selected}
            select={select}
            scene={scene}
            tidied={read.document}
            shares={shown.shares}
            ask={ask}
          />
        </div>
        <div className="max-md:order-4">
          <PictureTable scene={scene} field={field} shares={shown.shares} system={doc.system} />
        </div>
      </section>
    </HandContext.Provider>
  );
}

/** The hours that the colours stand for: drag it, and watch the piece come clean. */
function Hours({
  coming,
  at,
  set,
}: {
  coming: Schemas["ComingOut"];
  at: number;
  set: (hours: number) => void;
}) {
  const end = coming.hours.at(-1) ?? 1;
  const [low, mid, high] = coming.window_h;
  const spots = [
    [low, "come.low"],
    [mid, "come.mid"],
    [high, "come.high"],
  ] as const;
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1 pb-2 max-md:order-3" data-hours>
      <label className="flex min-w-60 flex-1 items-center gap-3">
        <span className="sign w-28 shrink-0 text-lg">
          {word("come.after", { hours: at < 10 ? at.toFixed(1) : Math.round(at) })}
        </span>
        <input
          type="range"
          className="h-11 w-full accent-[var(--liquid-deep)]"
          min={0}
          max={end}
          step={end / 200}
          value={at}
          aria-label={word("map.clean")}
          onChange={(e) => set(Number(e.target.value))}
        />
      </label>
      {spots.map(([hours, key]) =>
        hours === undefined ? null : (
          <button
            key={key}
            type="button"
            className="btn btn-small"
            onClick={() => set(Math.min(hours, end))}
          >
            {word(key)}
          </button>
        ),
      )}
    </div>
  );
}

function Pane({ children }: { children: ReactNode }) {
  return (
    <div className="relative grid h-80 min-h-0 min-w-0 border border-hair md:h-auto">
      {children}
    </div>
  );
}

/** The best answer there is to what is on the screen: the hand's, the fine one, or the quick. */
export function useShown(read: ReadOut, field: Field) {
  const live = useLive();
  const { doc } = usePlan();
  const fits = live.held !== null || sameBath(live.doc, doc) || sameBath(live.read?.document, doc);
  const rested = !live.held && !field.busy && !field.error && field.facets !== null;
  const use = fits && !rested && live.read?.answer ? live.read : read;
  const answer = use.answer as AnswerOut;
  const mine = !rested && fits && live.facets;
  const stops = answer.findings.filter((f) => f.severity === "stop" && PLACED.has(f.id));
  return {
    read: use,
    answer,
    facets: mine ? live.facets : field.facets,
    solvedFor: mine ? live.doc : (field.doc ?? null),
    dose: (mine ? live.field?.dose : field.data?.dose) ?? [],
    shares: (mine ? live.field?.rods : field.data?.rods) ?? {},
    alarm: stops.length > 0,
    how: rested ? "fine" : mine ? "live" : "quick",
    words: rested
      ? `calculated on two meshes, ± ${field.data?.error_percent.toFixed(1)} %`
      : mine && live.field
        ? `quick result, ± ${live.field.error_percent.toFixed(0)} %`
        : word("solving.quick"),
  };
}

const PLACED = new Set(["short", "no_fit", "pieces_meet", "scrap_outside", "scrap_meets"]);

/** What the bath in the hand comes to, in one row. */
function Readout({
  answer,
  how,
  lost,
  trouble,
  field,
}: {
  answer: AnswerOut;
  how: string;
  lost: boolean;
  trouble: string;
  field: Field;
}) {
  const f = answer.figures;
  const clean = f["time.clean"];
  const load = f["power.load"];
  const gap = f["scrap.gap"];
  const stop = answer.findings.find((x) => x.severity === "stop" && PLACED.has(x.id));
  const cells: [string, string, string?][] = [
    ["Amps", `${f["amps.gives"]?.text} A`, "gives"],
    ["Supply", `${load?.text} ${load?.unit}`, "load"],
    ["On the piece", `${f["density.mean"]?.text} ${f["density.mean"]?.unit}`, "mean"],
    ["Slowest spots", `${f["density.p5"]?.text} ${f["density.p5"]?.unit}`, "p5"],
    [word("side.after"), clean ? windowText(clean) : "no current", "clean"],
    ["Least gap", `${gap?.text} ${gap?.unit}`, "gap"],
  ];
  return (
    <div className="pb-2 max-md:order-2 max-md:pt-2">
      <dl className="grid grid-cols-3 gap-x-3 gap-y-1 border-y border-hair py-1 md:grid-cols-6">
        {cells.map(([name, text, key]) => (
          <div key={name} className="min-w-0" data-readout={key}>
            <dt className="text-xs text-ink-2">{name}</dt>
            <dd className="sign truncate text-xl">{trouble ? "–" : text}</dd>
          </div>
        ))}
      </dl>
      <p className="flex flex-wrap justify-between gap-x-4 pt-1 text-xs text-ink-2">
        <span
          role={stop || lost || trouble ? "alert" : undefined}
          className={
            stop && !trouble
              ? "font-semibold text-stop"
              : lost || trouble
                ? "font-semibold"
                : "max-md:hidden"
          }
        >
          {trouble
            ? trouble
            : stop
              ? `${stop.title}: ${stop.evidence}`
              : lost
                ? "The shop's computer does not answer. What you moved is kept here and asked again."
                : "Drag scrap, piece or water level, or pick one and use the arrow keys. Hold Alt to stop snapping."}
        </span>
        <span>{trouble ? word("stage.old") : `${checks(answer)}; ${how}`}</span>
        {!trouble && <SolvingField field={field} />}
      </p>
    </div>
  );
}

function checks(answer: AnswerOut): string {
  const of = (s: string) => answer.findings.filter((f) => f.severity === s).length;
  const [stops, cautions] = [of("stop"), of("caution")];
  const words = [
    ...(stops ? [counted(stops, "count.stop")] : []),
    ...(cautions ? [counted(cautions, "count.caution")] : []),
  ];
  return words.join(", ") || word("check.none");
}

/** How far the one piece is from where the map was solved [m]; several stay where they were. */
function useShift(
  bath: { pieces?: { x_m?: number; y_m?: number }[] },
  solvedFor: { pieces?: { x_m?: number; y_m?: number }[] } | null,
  scene: AnswerOut["scene"],
) {
  const [[now], [then]] = [bath.pieces ?? [], solvedFor?.pieces ?? []];
  if (!now || !then || scene.pieces.length > 1) return { x: 0, y: 0, z: 0 };
  return {
    x: (now.x_m ?? 0) - (then.x_m ?? 0),
    y: (now.y_m ?? 0) - (then.y_m ?? 0),
    z: 0,
  };
}

/** Whoever comes near with the pointer will move something: have the finer mesh put together. */
function useReady() {
  const store = useLiveStore();
  const { doc } = usePlan();
  const asked = useRef<unknown>(null);
  useEffect(() => {
    const stage = document.getElementById("stage");
    const come = () => {
      if (asked.current === doc || store.get().held) return;
      asked.current = doc;
      store.ask(doc, { ready: true });
    };
    stage?.addEventListener("pointerenter", come);
    stage?.addEventListener("focusin", come);
    return () => {
      stage?.removeEventListener("pointerenter", come);
      stage?.removeEventListener("focusin", come);
    };
  }, [doc, store]);
  useEffect(() => () => store.stop(), [store]);
}

function useQuestionMark(toggle: () => void) {
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const typing = e.target instanceof Element && e.target.closest("input, select, textarea");
      if (e.key === "?" && !typing) toggle();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  });
}
