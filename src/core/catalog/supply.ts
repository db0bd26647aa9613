/** Batteries that an aircraft can carry, the first one first. Each is in or out by itself. */
export const BATTERIES = ["battery", "second battery"] as const;
export type Battery = (typeof BATTERIES)[number];

/** What feeds a part: its board, or one battery alone. */
export type Supply = "board" | Battery;
export const SUPPLIES = ["board", ...BATTERIES] as const satisfies readonly Supply[];

export const isBattery = (name: string): name is Battery => (BATTERIES as readonly string[]).includes(name);

/** The batteries that feed some parts alone. */
export const batteriesFeeding = (parts: readonly { readonly supply: Supply }[]): Battery[] =>
  BATTERIES.filter((each) => parts.some(({ supply }) => supply === each));

/** The same with the first one, which every aircraft has. */
export const batteriesWith = (parts: readonly { readonly supply: Supply }[]): Battery[] => [
  ...new Set<Battery>([BATTERIES[0], ...batteriesFeeding(parts)]),
];

/** “the battery”, “both batteries”: as they are asked for. */
export const batteriesSaid = (which: readonly Battery[]): string =>
  which.length > 1 ? "both batteries" : `the ${which[0] ?? BATTERIES[0]}`;
