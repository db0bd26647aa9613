import type { LaterPlace, Passing, PassingContext } from "@/core/catalog/rules/kind";

/** A rule about a value, and the one part of a split that it speaks of, where it speaks of one. */
interface OfPart {
  readonly key: string;
  readonly to?: string;
  readonly part?: string;
}

/** Whether a rule touches this value: all that its setting became, or the part named. */
export const speaksOf = ({ part }: OfPart, { key }: Passing): boolean => part === undefined || part === key;

/** The key of a value after a rule that may name it anew: what a rule about names said before it stays. */
export const keyAfter = ({ to }: OfPart, { key }: Passing, { named }: PassingContext): string =>
  named ? key : (to ?? key);

/** How a rule turned round speaks of one place that its setting has on the release after. */
export const backAt = ({ key, to }: OfPart, { key: now, part }: LaterPlace) => ({
  key: now,
  ...(to === undefined ? {} : { to: key }),
  ...(part === undefined ? {} : { part }),
});
