/** What to measure of each shape, in the order of the letters in its picture. */
export const SIZES: Record<string, readonly string[]> = {
  plate: ["length_m", "width_m", "thickness_m"],
  bar: ["length_m", "diameter_m"],
  tube: ["length_m", "outer_diameter_m", "inner_diameter_m"],
  box: ["length_m", "width_m", "height_m"],
  angle: ["leg_m", "other_leg_m", "width_m", "thickness_m"],
  ring: ["outer_diameter_m", "bar_diameter_m"],
  wheel: [
    "diameter_m",
    "rim_width_m",
    "rim_thickness_m",
    "spokes",
    "spoke_diameter_m",
    "hub_diameter_m",
    "hub_length_m",
  ],
  wrench: ["length_m", "width_m", "thickness_m", "head_diameter_m", "eye_diameter_m"],
  stepped: ["length_m", "width_m", "height_m", "top_length_m", "top_width_m", "top_height_m"],
  mesh: ["length_m"],
  pile: ["count", "item_length_m", "item_diameter_m", "length_m", "width_m", "height_m"],
  shell: ["length_m", "width_m", "height_m", "wall_m"],
  pan: ["diameter_m", "height_m", "wall_m"],
  lattice: ["length_m", "width_m", "bar_m", "thickness_m", "between"],
  tines: ["width_m", "tine_length_m", "tine_diameter_m", "count", "bar_m"],
  anvil: ["length_m", "width_m", "height_m"],
  weighed: ["mass_kg", "length_m", "width_m", "height_m", "section_m"],
};

/** The letters of sizes in the order in which they are asked, each with its rule in the picture. */
export function lettered(shape: string, sizes: readonly string[]): [string, number][] {
  return sizes.map((size, k) => [String.fromCharCode(65 + k), (SIZES[shape] ?? []).indexOf(size)]);
}
