import { CAUSES, SYMPTOMS, type Cause, type Symptom } from "@/core/diagnose/causes";

/** What was seen: symptom → which of its answers. */
export type Seen = Readonly<Record<string, string>>;

export interface RankedCause {
  readonly cause: Cause;
  /** 0 to 1. */
  readonly certainty: number;
  /** What speaks for it, and what against it, as titles of symptoms with what was seen. */
  readonly speaksFor: readonly string[];
  readonly against: readonly string[];
}

export interface Diagnosis {
  /** All causes, the likeliest first. */
  readonly causes: readonly RankedCause[];
  /** What to look at or to try next; absent when it would tell nothing more. */
  readonly next?: Symptom;
}

/** Less than this is not worth a try. */
const LEAST_BITS = 0.05;
/** From here on the cause counts as found. */
const FOUND = 0.9;

/** Chance that a cause shows this answer. */
function likelihood(cause: Cause, symptom: Symptom, answer: string): number {
  const count = Object.keys(symptom.answers).length;
  const shown = cause.shows[symptom.id];
  if (symptom.certain?.includes(answer)) return shown === answer ? 1 : 0;
  if (shown === undefined) return 1 / count;
  return shown === answer ? 1 - symptom.error : symptom.error / (count - 1);
}

function weigh(seen: Seen): number[] {
  const weights = CAUSES.map((cause) =>
    SYMPTOMS.reduce((w, symptom) => {
      const answer = seen[symptom.id];
      return answer === undefined ? w : w * likelihood(cause, symptom, answer);
    }, cause.common),
  );
  const total = weights.reduce((a, b) => a + b, 0);
  return weights.map((w) => w / total);
}

const entropy = (shares: readonly number[]) => shares.reduce((h, p) => (p > 0 ? h - p * Math.log2(p) : h), 0);

/** What a try would tell, in bits: how much less uncertain the cause would be on average. */
function worth(symptom: Symptom, seen: Seen, now: readonly number[]): number {
  let left = 0;
  for (const answer of Object.keys(symptom.answers)) {
    const chance = CAUSES.reduce((sum, cause, i) => sum + (now[i] ?? 0) * likelihood(cause, symptom, answer), 0);
    left += chance * entropy(weigh({ ...seen, [symptom.id]: answer }));
  }
  return entropy(now) - left;
}

/**
 * Causes by how likely they are after what was seen, and the try that tells most for each second. Answers that no symptom
 * has are passed over. `cannot`: symptoms that this board, or whoever stands before it, cannot try.
 */
export function diagnose(seen: Seen, cannot: readonly string[] = []): Diagnosis {
  const known = Object.fromEntries(
    Object.entries(seen).filter(([id, answer]) => {
      const symptom = SYMPTOMS.find((each) => each.id === id);
      return symptom !== undefined && Object.hasOwn(symptom.answers, answer);
    }),
  );
  const now = weigh(known);
  const titles = (fits: (shown: string | undefined, answer: string) => boolean, { shows }: Cause) =>
    SYMPTOMS.flatMap(({ id, title, answers }) => {
      const answer = known[id];
      return answer !== undefined && fits(shows[id], answer) ? [`${title}: ${answers[answer] ?? answer}`] : [];
    });
  const causes = CAUSES.map((cause, i): RankedCause => ({
    cause,
    certainty: now[i] ?? 0,
    speaksFor: titles((shown, answer) => shown === answer, cause),
    against: titles((shown, answer) => shown !== undefined && shown !== answer, cause),
  })).toSorted((a, b) => b.certainty - a.certainty || (a.cause.id < b.cause.id ? -1 : 1));
  if ((causes[0]?.certainty ?? 0) >= FOUND) return { causes };
  const tries = SYMPTOMS.filter(({ id, ask }) => ask !== undefined && known[id] === undefined && !cannot.includes(id))
    .map((symptom) => ({ symptom, bits: worth(symptom, known, now) }))
    .filter(({ bits }) => bits >= LEAST_BITS)
    // a try takes a moment even where it is only a look
    .toSorted((a, b) => b.bits / (b.symptom.effortS + 5) - a.bits / (a.symptom.effortS + 5));
  const next = tries[0]?.symptom;
  return { causes, ...(next ? { next } : {}) };
}
