/** The order of work, as it stands on the dipstick. */
export const MARKS = ["piece", "tank", "mix", "scrap", "power", "air", "check"] as const;
