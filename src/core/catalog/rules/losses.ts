/** How much of a value can be lost on the way; each is worse than the one before. */
export const LOSSES = ["none", "rounding", "look", "limit", "lost"] as const;
export type Loss = (typeof LOSSES)[number];
export const worse = (a: Loss, b: Loss): Loss => (LOSSES.indexOf(a) < LOSSES.indexOf(b) ? b : a);
