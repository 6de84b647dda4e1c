import { FlipHorizontal2, Trash2 } from "lucide-react";
import { useMemo } from "react";
import type { Plan, SceneOut } from "@/shared/api/client";
import { PlanContext, usePlan } from "@/shared/form/context";
import { Amount, Choice } from "@/shared/form/fields";
import { putAt } from "@/shared/form/put";
import { ruled } from "@/shared/scene/shape";
import { Faces } from "../sections/Faces";
import { useHand } from "./hand";
import { fromEdges } from "./model";
import { byHand, type Grip, indexOf, movedTo, without } from "./moves";

/** The thing that is picked, in numbers that can be typed. */
export function Inspector({
  selected,
  select,
  scene,
  tidied,
  shares,
  ask,
}: {
  selected: Grip | null;
  select: (grip: Grip | null) => void;
  scene: SceneOut;
  tidied: Plan;
  shares: Record<string, number>;
  ask: (doc: Plan) => void;
}) {
  const edit = usePlan();
  const { doc, replace } = edit;
  // what is typed about one anode sets all of them out by hand first
  const typing = useMemo(
    () => ({
      ...edit,
      type: (pointer: string, text: string) => {
        const next = byHand(doc, tidied);
        const typed = { ...next, typed: { ...next.typed, [pointer]: text } };
        replace(typed, pointer);
        ask(typed);
      },
      put: (pointer: string, value: unknown) => {
        const next = putAt(doc, pointer, value);
        replace(next);
        ask(next);
      },
    }),
    [edit, doc, tidied, replace, ask],
  );
  if (!selected)
    return (
      <p className="pt-2 text-xs text-ink-2">
        Pick something in the drawings to see and type its figures.
      </p>
    );
  const where = selected.kind === "tide" ? null : placeOf(scene, selected);
  const k = selected.kind === "anode" ? indexOf(tidied, selected) : indexOf(doc, selected);
  return (
    <PlanContext.Provider value={typing}>
      <div className="flex flex-wrap items-end gap-3 pt-2" data-inspector={selected.kind}>
        <p className="w-44">
          <span className="sign block text-lg">{title(scene, selected)}</span>
          <span className="block text-xs text-ink-2">
            {where &&
              `${ruled(where.left, doc.system)} from the left edge, ${ruled(where.front, doc.system)} from the front edge`}
            {selected.kind === "anode" &&
              shares[selected.id] !== undefined &&
              `; ${Math.round(100 * (shares[selected.id] ?? 0))} % of the current`}
            {selected.kind === "tide" && "Drag it, or type where the liquid shall stand, piece in."}
          </span>
        </p>
        {selected.kind === "anode" && (
          <AnodeFields k={k} grip={selected} scene={scene} select={select} />
        )}
        {selected.kind === "piece" && <PieceFields k={k} grip={selected} scene={scene} />}
        {selected.kind === "tide" && (
          <div className="w-44">
            <Amount at="/tank/level_m" />
          </div>
        )}
      </div>
    </PlanContext.Provider>
  );
}

function title(scene: SceneOut, grip: Grip): string {
  if (grip.kind === "tide") return "Water level";
  if (grip.kind === "anode") return `Scrap ${scene.rods.findIndex((r) => r.id === grip.id) + 1}`;
  const k = scene.pieces.findIndex((p) => p.id === grip.id);
  return scene.pieces.length > 1 ? `Piece ${k + 1}` : "Piece";
}

function placeOf(scene: SceneOut, grip: Grip) {
  const it = [...scene.rods, ...scene.pieces].find((x) => "id" in grip && x.id === grip.id);
  return it ? fromEdges(scene, it.x_m, it.y_m) : null;
}

function AnodeFields({
  k,
  grip,
  scene,
  select,
}: {
  k: number;
  grip: Grip & { kind: "anode" };
  scene: SceneOut;
  select: (grip: Grip | null) => void;
}) {
  const hand = useHand();
  const r = scene.rods.find((x) => x.id === grip.id);
  if (!r || k < 0) return null;
  const placed = r.kind === "rod" || r.kind === "plate";
  return (
    <>
      {placed && (
        <div className="grid w-64 grid-cols-2 gap-2">
          <Amount at={`/anodes/${k}/x_m`} />
          <Amount at={`/anodes/${k}/y_m`} />
        </div>
      )}
      <div className="w-32">
        <Amount at={`/anodes/${k}/floor_gap_m`} />
      </div>
      {placed && (
        <>
          <button
            type="button"
            className="btn btn-small"
            onClick={() => hand.once(grip, (d) => movedTo(d, scene, grip, [-r.x_m, -r.y_m]))}
          >
            <FlipHorizontal2 size={16} aria-hidden="true" /> Across
          </button>
          <button
            type="button"
            className="btn btn-small"
            disabled={scene.rods.length < 2}
            onClick={() => {
              hand.once(grip, (d) => without(d, grip.id));
              select(null);
            }}
          >
            <Trash2 size={16} aria-hidden="true" /> Remove
          </button>
        </>
      )}
    </>
  );
}

function PieceFields({
  k,
  grip,
  scene,
}: {
  k: number;
  grip: Grip & { kind: "piece" };
  scene: SceneOut;
}) {
  const hand = useHand();
  if (k < 0) return null;
  return (
    <>
      <div className="grid w-[24rem] max-w-full grid-cols-2 items-end gap-2 sm:grid-cols-4">
        <Amount at={`/pieces/${k}/x_m`} />
        <Amount at={`/pieces/${k}/y_m`} />
        <Amount at={`/pieces/${k}/bottom_m`} />
        <Amount at={`/pieces/${k}/turn_deg`} />
      </div>
      <Choice at={`/pieces/${k}/hang`} />
      <button
        type="button"
        className="btn btn-small"
        onClick={() => hand.once(grip, (d) => movedTo(d, scene, grip, [0, 0]))}
      >
        To the middle
      </button>
      <Faces k={k} picked={grip.face} />
    </>
  );
}
