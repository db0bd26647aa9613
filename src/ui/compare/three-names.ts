import type { Take } from "@/core/compare/takes";

/** What the three sides are called: what an aircraft came with, and what became of it in two places. */
export const SIDE_NAME: Readonly<Record<Take, string>> = { base: "As delivered", mine: "Here", theirs: "There" };
