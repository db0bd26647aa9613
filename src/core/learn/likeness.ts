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

/** Share of letter pairs that two texts have in common (Dice), 0 to 1. */
export function lettersAlike(a: string, b: string): number {
  if (a === b) return 1;
  const [left, right] = [pairsOfLetters(a), pairsOfLetters(b)];
  let common = 0;
  for (const [pair, n] of left) common += Math.min(n, right.get(pair) ?? 0);
  const total = Math.max(0, a.length - 1) + Math.max(0, b.length - 1);
  return total === 0 ? 0 : (2 * common) / total;
}

/** How alike two setting names are, 0 to 1: by their parts in any order, and by their letters. */
export function namesAlike(a: string, b: string): number {
  const [left, right] = [new Set(partsOfName(a)), new Set(partsOfName(b))];
  const common = [...left].filter((part) => right.has(part)).length;
  const byParts = common === 0 ? 0 : (2 * common) / (left.size + right.size);
  return 0.6 * byParts + 0.4 * lettersAlike(a.toLowerCase(), b.toLowerCase());
}
