import type { Schemas } from "@/shared/api/client";
import { type Facets, regionOfFacet } from "./facets";

type Coming = Schemas["ComingOut"];

/** Where a value stands in a rising row: the place before it, and how far on to the next. */
function between(row: readonly number[], value: number): [number, number] {
  const last = row.length - 1;
  const after = row.findIndex((v) => v >= value);
  if (after === 0) return [0, 0];
  if (after < 0) return [Math.max(last - 1, 0), 1];
  const [a, b] = [row[after - 1] as number, row[after] as number];
  return [after - 1, b > a ? (value - a) / (b - a) : 0];
}

/** The chance that a spot at a density is clean after so many hours, straight between the rows. */
export function chanceAt(c: Coming, density: number, hours: number): number {
  const [d, right] = between(c.densities, density);
  const at = (row: readonly number[]) =>
    (row[d] ?? 0) + right * ((row[d + 1] ?? row[d] ?? 0) - (row[d] ?? 0));
  if (hours <= (c.hours[0] ?? 0)) {
    const first = c.hours[0] ?? 1;
    return (at(c.chance[0] ?? []) * Math.max(hours, 0)) / first;
  }
  const [h, on] = between(c.hours, hours);
  const now = at(c.chance[h] ?? []);
  return now + on * (at(c.chance[h + 1] ?? c.chance[h] ?? []) - now);
}

/** The same surface in per cent of chance; a region that wants more stands where less time is. */
export function comingClean(f: Facets, c: Coming, hours: number): Facets {
  return {
    ...f,
    values: f.values.map((density, k) => {
      const wants = c.needs[regionOfFacet(f, k) ?? ""] ?? 1;
      return 100 * chanceAt(c, density, hours / wants);
    }),
  };
}
