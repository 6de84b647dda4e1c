/** The order of work, as it stands on the dipstick. */
export const MARKS = [
  ["piece", "Piece"],
  ["tank", "Tank"],
  ["mix", "Mix"],
  ["scrap", "Scrap"],
  ["power", "Power"],
  ["air", "Air"],
  ["check", "Check"],
] as const;
