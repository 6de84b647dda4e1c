import { useCallback, useMemo, useRef } from "react";
import type { AnswerOut, Schemas } from "@/shared/api/client";
import { comingClean } from "@/shared/scene/coming";
import { along, type Facets, mapped } from "@/shared/scene/facets";
import { niceTop } from "@/shared/ui/Scale";
import { word } from "@/shared/words";
import { useLive } from "./live";

export const MAPS = ["density", "band", "dose", "clean", "sight"] as const;
export type MapKind = (typeof MAPS)[number];

/** What the body is coloured by, with its scale; the scale rests while something is held. */
export function useMap(
  kind: MapKind,
  facets: Facets | null,
  dose: { density: number; share: number }[],
  seen: Facets | null,
  answer: AnswerOut,
  coming: Schemas["ComingOut"] | null,
  hours: number,
) {
  const p95 = answer.figures["density.p95"]?.number ?? 1;
  const { low, high } = answer.band;
  const held = useLive().held !== null;
  const last = useRef(1);
  // the scale stays while something moves, or the colours would jump
  if (!held) last.current = niceTop(Math.max(p95 * 1.15, low * 1.2));
  const top = last.current;
  const map = useCallback(
    (f: Facets): Facets | null => {
      if (kind === "density") return f;
      if (kind === "band") return mapped(f, (v) => (v < low ? 0 : v > high ? 100 : 50));
      if (kind === "sight") return seen && mapped(seen, (v) => 100 * v);
      if (kind === "clean") return coming && comingClean(f, coming, hours);
      const share = along(dose);
      return mapped(f, (v) => 100 * share(v));
    },
    [kind, seen, dose, coming, hours, low, high],
  );
  const drawn = useMemo(
    () => (facets || kind === "sight" ? map(facets ?? NOTHING) : null),
    [map, facets, kind],
  );
  return { facets: drawn, map, ...scaleOf(kind, top, low, high) };
}

const NOTHING: Facets = {
  mesh: "",
  place: [0, 0],
  corners: new Float32Array(),
  owner: null,
  values: new Float32Array(),
  regions: [],
  region: null,
};

function scaleOf(kind: MapKind, top: number, low: number, high: number) {
  if (kind === "sight")
    return {
      top: 100,
      words: "Coloured by how much of the scrap each spot sees.",
      legend: {
        unit: "% of the scrap in sight",
        marks: [],
        words: "Colour scale: share of the scrap that a spot sees, nought to 100 %",
      },
    };
  if (kind === "band")
    return {
      top: 100,
      words: "Coloured by the working band: dark is under it, grey in it, yellow over it.",
      legend: {
        unit: "",
        marks: [],
        names: [word("band.under"), word("band.in"), word("band.over")],
        words: "Colour scale: under, in and over the working band",
      },
    };
  if (kind === "clean")
    return {
      top: 100,
      words: "Coloured by each spot's chance of being clean by then.",
      legend: {
        unit: "% chance",
        marks: [50],
        words: "Colour scale: chance that a spot is clean by then, nought to 100 %",
      },
    };
  if (kind === "dose")
    return {
      top: 200,
      words: "Coloured by the dose each spot has had at the end, against its need.",
      legend: {
        unit: "% of its need",
        marks: [100],
        words: "Colour scale: dose at the end of the middle time over need, nought to 200 %",
      },
    };
  return {
    top,
    words: "Coloured by current density.",
    legend: {
      unit: "A/dm²",
      marks: [low, high],
      words: `Colour scale from 0 to ${top} A/dm², working band ${low} to ${high}`,
    },
  };
}
