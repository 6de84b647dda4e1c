// Perceptually even and safe for colour-blind eyes: dark blue is little current, yellow is much.
export const STOPS = [
  "#00224e",
  "#1d3a6d",
  "#434e6c",
  "#636573",
  "#7f7c78",
  "#9d9576",
  "#bdaf6e",
  "#dfca5a",
  "#fee838",
];

const STEPS = 256;
const TABLE = Array.from({ length: STEPS }, (_, k) => between(k / (STEPS - 1)));
const CSS = TABLE.map(([r, g, b]) => `rgb(${r} ${g} ${b})`);

function between(share: number): [number, number, number] {
  const at = share * (STOPS.length - 1);
  const k = Math.min(Math.floor(at), STOPS.length - 2);
  const [a, b] = [STOPS[k] as string, STOPS[k + 1] as string].map((c) =>
    [1, 3, 5].map((i) => Number.parseInt(c.slice(i, i + 2), 16)),
  ) as [number[], number[]];
  return [0, 1, 2].map((i) => {
    const low = a[i] as number;
    return Math.round(low + ((b[i] as number) - low) * (at - k));
  }) as [number, number, number];
}

function step(value: number, top: number): number {
  return Math.round(Math.min(Math.max(value / top, 0), 1) * (STEPS - 1));
}

/** The colour of a value on a scale from nought to ``top``, for a canvas. */
export const shade = (value: number, top: number): string => CSS[step(value, top)] as string;

/** The same as red, green and blue, 0 to 255. */
export const rgb = (value: number, top: number) =>
  TABLE[step(value, top)] as [number, number, number];
