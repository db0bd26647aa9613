import { CLUE_KINDS, isCertain, questionsFor, rankBoards, shownBy, type Candidate, type Clue } from "@/core/identify";

/** A generator of numbers from 0 to 1 that gives the same for the same seed (mulberry32). */
export function numbersFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

type Random = () => number;
export const oneOf = <T>(list: readonly T[], random: Random): T => {
  const found = list[Math.floor(random() * list.length)];
  if (found === undefined) throw new Error("there is nothing to draw from");
  return found;
};

/** How often what is seen of a drawn board is wrong, whatever the product's own figures say. */
export const WRONG = 0.05;

/** What someone sees who looks at a board for a clue of a kind. Nothing: the documents do not say what it shows. */
export function look(board: Candidate, kind: string, candidates: readonly Candidate[], random: Random): Clue[] {
  const row = CLUE_KINDS.find((each) => each.kind === kind);
  const shown = row?.shows(board) ?? [];
  if (!row || shown.length === 0) return [];
  const wrong = row.error > 0 && random() < WRONG;
  const seen = oneOf(wrong ? shownBy(row, candidates) : shown, random);
  return [{ kind, seen }];
}

/** Clues of a board as it comes to the bench: each is there with a chance. */
export const firstClues = (
  board: Candidate,
  candidates: readonly Candidate[],
  chance: number,
  random: Random,
): Clue[] =>
  CLUE_KINDS.flatMap(({ kind, asking }) => (!asking && random() < chance ? look(board, kind, candidates, random) : []));

export interface Conversation {
  readonly clues: readonly Clue[];
  readonly asked: number;
  readonly seconds: number;
  readonly certain: boolean;
}

/** Asks until the target is certain enough or nothing is left to ask. `choose`: which of the open questions is put. */
export function converse(
  board: Candidate,
  candidates: readonly Candidate[],
  first: readonly Clue[],
  random: Random,
  choose: "best" | "any",
): Conversation {
  const cantTell: string[] = [];
  let clues = first;
  let [asked, seconds] = [0, 0];
  for (;;) {
    const ranking = rankBoards(candidates, clues);
    const open = questionsFor(ranking, cantTell);
    const question =
      choose === "best" ? open[0] : open.length > 0 ? oneOf(anyQuestion(clues, cantTell), random) : undefined;
    if (!question) return { clues, asked, seconds, certain: isCertain(ranking) };
    asked++;
    seconds += question.effortS;
    const seen = random() < question.cantTell ? [] : look(board, question.kind, candidates, random);
    if (seen.length === 0) cantTell.push(question.kind);
    clues = [...clues, ...seen];
  }
}

/** Every question that was not put yet, whether or not it is worth anything. */
const anyQuestion = (clues: readonly Clue[], cantTell: readonly string[]) =>
  CLUE_KINDS.flatMap(({ kind, asking }) =>
    asking && !clues.some((clue) => clue.kind === kind) && !cantTell.includes(kind) ? [{ ...asking, kind }] : [],
  );
