/** The parts of a name: `roll.hold-strength` and `Hold strength, roll` have the same three. */
export const partsOfName = (name: string): string[] =>
  name
    .replace(/([a-z])([A-Z])/g, "$1 $2")
    .toLowerCase()
    .split(/[^a-z0-9]+/)
    .filter(Boolean);

function pairsOfLetters(text: string): Map<string, number> {
  const pairs = new Map<string, number>();
  for (let i = 0; i + 1 < text.length; i++) {
    const pair = text.slice(i, i + 2);
    pairs.set(pair, (pairs.get(pair) ?? 0) + 1);
  }
  return pairs;
}

type Pairs = ReadonlyMap<string, number>;

function pairsAlike(a: string, left: Pairs, b: string, right: Pairs): number {
  if (a === b) return 1;
  let common = 0;
  for (const [pair, n] of left) common += Math.min(n, right.get(pair) ?? 0);
  const total = Math.max(0, a.length - 1) + Math.max(0, b.length - 1);
  return total === 0 ? 0 : (2 * common) / total;
}

/** Share of letter pairs that two texts have in common (Dice), 0 to 1. */
export const lettersAlike = (a: string, b: string): number => pairsAlike(a, pairsOfLetters(a), b, pairsOfLetters(b));

/** A name taken apart once, to be held against many. */
export interface NameParts {
  readonly small: string;
  readonly parts: ReadonlySet<string>;
  readonly pairs: Pairs;
}

export function takeApart(name: string): NameParts {
  const small = name.toLowerCase();
  return { small, parts: new Set(partsOfName(name)), pairs: pairsOfLetters(small) };
}

/** How alike two setting names are, 0 to 1: by their parts in any order, and by their letters. */
export function partsAlike(a: NameParts, b: NameParts): number {
  let common = 0;
  for (const part of a.parts) if (b.parts.has(part)) common++;
  const byParts = common === 0 ? 0 : (2 * common) / (a.parts.size + b.parts.size);
  return 0.6 * byParts + 0.4 * pairsAlike(a.small, a.pairs, b.small, b.pairs);
}

export const namesAlike = (a: string, b: string): number => partsAlike(takeApart(a), takeApart(b));
