import type { Asking, ClueKind } from "@/core/identify/clue";
import { CLUE_KINDS } from "@/core/identify/kinds";
import { isCertain, likelihoodOf, shownBy, type Ranking } from "@/core/identify/rank";

/** The observation that tells the remaining candidates apart soonest. */
export interface Question extends Asking {
  readonly kind: string;
  readonly title: string;
  /** What can be answered: what candidates that are still in question would show, the likeliest first. */
  readonly answers: readonly { readonly seen: string; readonly chance: number }[];
  /** What it is expected to tell, in bits of the target. */
  readonly bits: number;
}

/** Less than this is not worth the look. */
const LEAST_BITS = 0.02;
/** What tells less than this share of the most telling question waits until that one was put. */
const TELLING = 0.6;
/** A candidate less likely than this is no longer in question. */
const IN_QUESTION = 0.002;

/** Entropy of a distribution that need not add up to 1, in bits. */
function entropy(weights: Iterable<number>): number {
  const all = [...weights];
  const total = all.reduce((a, b) => a + b, 0);
  if (total === 0) return 0;
  return all.reduce((h, w) => (w > 0 ? h - (w / total) * Math.log2(w / total) : h), 0);
}

const add = (map: Map<string, number>, key: string, weight: number) => map.set(key, (map.get(key) ?? 0) + weight);

/** What a kind would tell of the target, and what might be seen with which chance. */
function expect(kind: ClueKind, ranking: Ranking) {
  const candidates = ranking.candidates.map(({ candidate }) => candidate);
  const values = shownBy(kind, candidates);
  const places = values.length + 1;
  const before = new Map<string, number>([["", ranking.stranger]]);
  for (const { candidate, certainty } of ranking.candidates) add(before, candidate.target, certainty);
  let left = 0;
  const answers: { seen: string; chance: number }[] = [];
  // a letter-by-letter likeness has no place here: whoever answers the question gives one of these, or something else
  const strict: ClueKind = { ...kind, ...(kind.asking ? { asking: { ...kind.asking, typed: false } } : {}) };
  for (const seen of [...values, ""]) {
    const joint = new Map<string, number>([["", ranking.stranger / places]]);
    for (const { candidate, certainty } of ranking.candidates)
      add(joint, candidate.target, certainty * likelihoodOf(strict, seen, candidate, places));
    const chance = [...joint.values()].reduce((a, b) => a + b, 0);
    left += chance * entropy(joint.values());
    const shown = ranking.candidates.some(
      ({ candidate, certainty }) => certainty >= IN_QUESTION && kind.shows(candidate).includes(seen),
    );
    if (shown) answers.push({ seen, chance });
  }
  return { bits: entropy(before.values()) - left, answers: answers.toSorted((a, b) => b.chance - a.chance) };
}

/**
 * All questions worth asking, the best first: expected information about the target for each
 * second of looking, among those that tell much. Empty once
 * the target is certain enough. `cantTell`: kinds that were asked in vain.
 */
export function questionsFor(ranking: Ranking, cantTell: readonly string[] = []): Question[] {
  if (isCertain(ranking)) return [];
  const known = new Set([...ranking.clues.map(({ kind }) => kind), ...cantTell]);
  const worth = CLUE_KINDS.flatMap((kind): Question[] => {
    if (!kind.asking || known.has(kind.kind)) return [];
    const { bits, answers } = expect(kind, ranking);
    const expected = bits * (1 - kind.asking.cantTell);
    return expected < LEAST_BITS || answers.length === 0
      ? []
      : [{ ...kind.asking, kind: kind.kind, title: kind.title, answers, bits: expected }];
  });
  // quick looks that hardly tell anything would win by the second, one after the other
  const least = TELLING * Math.max(...worth.map(({ bits }) => bits));
  const value = ({ bits, effortS }: Question) => bits / effortS;
  return worth.toSorted((a, b) => Number(b.bits >= least) - Number(a.bits >= least) || value(b) - value(a));
}
