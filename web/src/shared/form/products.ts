import type { Option } from "./fields";

/** What a box may hold, as its label says. */
export const PRODUCTS: readonly Option[] = [
  ["soda_anhydrous", "Washing soda, dry grains"],
  ["soda_monohydrate", "Monohydrate"],
  ["soda_decahydrate", "Clear crystals (decahydrate)"],
  ["soda_light_ash", "Light soda ash"],
  ["soda_baked", "Baked from baking soda"],
  ["baking_soda", "Baking soda"],
  ["table_salt", "Table salt"],
];
