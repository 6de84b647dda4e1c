import type { Schemas } from "@/shared/api/client";

/** A surface to draw: four corners [mm] a flat piece, and one value a facet of such pieces. */
export interface Facets {
  mesh: string;
  /** Where the corners are counted from, off the tank's centre line [m]. */
  place: readonly [number, number];
  corners: Float32Array;
  owner: Uint16Array | null;
  values: Float32Array;
  /** Region ids, and which of them each facet is of. */
  regions: readonly string[];
  region: Uint8Array | null;
}

function bytes(text: string): ArrayBuffer {
  const raw = atob(text);
  const out = new Uint8Array(raw.length);
  for (let k = 0; k < raw.length; k++) out[k] = raw.charCodeAt(k);
  return out.buffer;
}

/** Values as the server packs them. */
export const unpack = (text: string): Float32Array => new Float32Array(bytes(text));

/** What the server sent, with the corners that the page had already where it left them out. */
export function decode(shown: Schemas["FacetsOut"], known: Facets | null = null): Facets | null {
  const values = new Float32Array(bytes(shown.values));
  const place = [shown.x_m, shown.y_m] as const;
  if (shown.corners)
    return {
      mesh: shown.mesh,
      place,
      corners: new Float32Array(bytes(shown.corners)),
      owner: shown.owner ? new Uint16Array(bytes(shown.owner)) : null,
      values,
      regions: shown.regions,
      region: shown.region ? new Uint8Array(bytes(shown.region)) : null,
    };
  return known?.mesh === shown.mesh ? { ...known, values, place } : null;
}

/** The facet that a flat piece belongs to. */
export const ownerOf = (f: Facets, piece: number): number => f.owner?.[piece] ?? piece;

/** The region that a facet is of. */
export const regionOfFacet = (f: Facets, facet: number): string | undefined =>
  f.regions[f.region?.[facet] ?? -1];

/** The region that a flat piece is of. */
export const regionOf = (f: Facets, piece: number): string | undefined =>
  regionOfFacet(f, ownerOf(f, piece));

/** The same surface with other values, as dose from density. */
export function mapped(f: Facets, to: (value: number) => number): Facets {
  return { ...f, values: f.values.map(to) };
}

/** Straight between points of a curve, level after the last. */
export function along(points: readonly Schemas["DosePoint"][]): (density: number) => number {
  return (density) => {
    const k = points.findIndex((p) => p.density >= density);
    if (k < 0) return points.at(-1)?.share ?? 0;
    const b = points.at(k);
    const a = points[Math.max(k - 1, 0)];
    if (!a || !b) return 0;
    const wide = b.density - a.density;
    return wide > 0 ? a.share + ((b.share - a.share) * (density - a.density)) / wide : b.share;
  };
}
