import type { Option } from "@/shared/form/fields";

/** Rust grades as a person would say them. */
export const GRADES: readonly Option[] = [
  ["light", "Light: rubs off"],
  ["moderate", "Orange all over"],
  ["heavy", "Crust and pits"],
  ["scaled", "Flaking layers"],
];
