import { distance } from "fastest-levenshtein";
import type { Candidate } from "@/core/identify/candidate";
import type { Clue, ClueKind } from "@/core/identify/clue";
import { clueKind } from "@/core/identify/kinds";

/** How a clue pulls at a candidate. */
export type Pull = "excludes" | "strongly against" | "against" | "neither" | "for" | "strongly for";

/** One clue as it bears on one candidate. */
export interface Weighed {
  readonly clue: Clue;
  readonly title: string;
  /** Chance to see this if it is that board, 0 to 1. */
  readonly likelihood: number;
  /** Bits for (positive) or against it, held against what the board may be otherwise; -Infinity: it can't be. */
  readonly bits: number;
  readonly pull: Pull;
}

export interface Ranked {
  readonly candidate: Candidate;
  /** 0 to 1. */
  readonly certainty: number;
  readonly weighed: readonly Weighed[];
}

export interface RankedTarget {
  readonly target: string;
  readonly certainty: number;
  readonly candidates: readonly Candidate[];
}

/** A clue that speaks against what the others say, and for something else. */
export interface Contradiction {
  readonly clue: Clue;
  readonly title: string;
  /** The boards that it speaks for; none: nothing in the catalogue shows this. */
  readonly speaksFor: readonly Candidate[];
}

export interface Ranking {
  /** All candidates, the likeliest first. */
  readonly candidates: readonly Ranked[];
  readonly targets: readonly RankedTarget[];
  /** That it is a board of which the catalogue knows nothing, 0 to 1. */
  readonly stranger: number;
  readonly contradictions: readonly Contradiction[];
  readonly clues: readonly Clue[];
}

/** From here on a target counts as known, as long as nothing contradicts it. */
export const CERTAIN_ENOUGH = 0.95;
/** How often a board comes to a bench that no document describes. */
const STRANGER = 0.02;
/** Below this share of the best explanation a clue contradicts. */
const CONTRADICTS = 0.15;

const plain = (text: string) => text.toLocaleLowerCase("en").replace(/[^a-z0-9]/g, "");

/** 1: the same but for case and blanks; falls fast with letters that differ. */
function likeness(seen: string, shown: string): number {
  const [a, b] = [plain(seen), plain(shown)];
  if (a === b) return 1;
  const longest = Math.max(a.length, b.length, 1);
  return Math.exp((-8 * distance(a, b)) / longest);
}

/** What the boards of a kind can show, with room for something that none of them does. */
export function shownBy(kind: ClueKind, candidates: readonly Candidate[]): string[] {
  return [...new Set(candidates.flatMap((candidate) => kind.shows(candidate)))].sort();
}

/** Chance to see something on a candidate. `places`: how many different things may be seen at all. */
export function likelihoodOf(kind: ClueKind, seen: string, candidate: Candidate, places: number): number {
  const shown = kind.shows(candidate);
  if (shown.length === 0) return 1 / places;
  const likenesses = shown.map((each) => (kind.asking?.typed ? likeness(seen, each) : each === seen ? 1 : 0));
  return (1 - kind.error) * Math.max(...likenesses) + kind.error / places;
}

function pullOf(bits: number): Pull {
  if (bits === -Infinity) return "excludes";
  if (bits <= -3) return "strongly against";
  if (bits < -0.4) return "against";
  if (bits >= 3) return "strongly for";
  return bits > 0.4 ? "for" : "neither";
}

interface Read {
  readonly clue: Clue;
  readonly kind: ClueKind;
  readonly likelihoods: readonly number[];
  readonly places: number;
}

function readClue(clue: Clue, candidates: readonly Candidate[]): Read[] {
  const kind = clueKind(clue.kind);
  if (!kind) return [];
  const places = shownBy(kind, candidates).length + 1;
  return [{ clue, kind, places, likelihoods: candidates.map((c) => likelihoodOf(kind, clue.seen, c, places)) }];
}

const sum = (numbers: readonly number[]) => numbers.reduce((a, b) => a + b, 0);

/**
 * Weighs clues on candidates (Bayes' theorem, clues taken as independent). `prior`: how common each candidate is, by id; 1
 * where nothing is said. Clues of an unknown kind say nothing. Order of clues does not matter.
 */
export function rankBoards(
  candidates: readonly Candidate[],
  clues: readonly Clue[],
  prior: ReadonlyMap<string, number> = new Map(),
): Ranking {
  const reads = clues.flatMap((clue) => readClue(clue, candidates));
  const commons = candidates.map(({ id }) => prior.get(id) ?? 1);
  const all = sum(commons);
  const weights = candidates.map((_, i) =>
    reads.reduce((w, read) => w * (read.likelihoods[i] ?? 0), ((1 - STRANGER) * (commons[i] ?? 0)) / all),
  );
  const strangeness = reads.reduce((w, { places }) => w / places, STRANGER);
  const total = sum(weights) + strangeness;
  const ranked = candidates
    .map((candidate, i): Ranked => ({
      candidate,
      certainty: (weights[i] ?? 0) / total,
      weighed: reads.map((read) => weigh(read, i, weights)),
    }))
    .toSorted((a, b) => b.certainty - a.certainty || (a.candidate.id < b.candidate.id ? -1 : 1));
  const targets = targetsOf(ranked);
  return {
    candidates: ranked,
    targets,
    stranger: strangeness / total,
    contradictions: contradictionsIn(reads, candidates, targets[0]?.candidates[0]),
    clues: reads.map(({ clue }) => clue),
  };
}

/** How a clue bears on candidate `i`: its likelihood against the mean likelihood on all others. */
function weigh({ clue, kind, likelihoods }: Read, i: number, weights: readonly number[]): Weighed {
  const likelihood = likelihoods[i] ?? 0;
  const others = likelihoods.filter((_, j) => j !== i);
  const mean = others.length === 0 ? likelihood : sum(others) / others.length;
  const bits = likelihood === 0 ? -Infinity : mean === 0 ? 20 : Math.log2(likelihood / mean);
  const said = weights.length > 1 ? bits : 0;
  return { clue, title: kind.title, likelihood, bits: said, pull: pullOf(said) };
}

function targetsOf(ranked: readonly Ranked[]): RankedTarget[] {
  return [...new Set(ranked.map(({ candidate }) => candidate.target))]
    .map((target): RankedTarget => {
      const members = ranked.filter(({ candidate }) => candidate.target === target);
      const certainty = sum(members.map((member) => member.certainty));
      return { target, certainty, candidates: members.map(({ candidate }) => candidate) };
    })
    .toSorted((a, b) => b.certainty - a.certainty || (a.target < b.target ? -1 : 1));
}

function contradictionsIn(
  reads: readonly Read[],
  candidates: readonly Candidate[],
  likeliest: Candidate | undefined,
): Contradiction[] {
  if (!likeliest) return [];
  const at = candidates.indexOf(likeliest);
  return reads.flatMap(({ clue, kind, likelihoods, places }) => {
    const best = Math.max(...likelihoods, 1 / places);
    if ((likelihoods[at] ?? 0) >= CONTRADICTS * best) return [];
    // what shows nothing of this kind is not spoken for: it is only not spoken against
    const speaksFor = candidates.filter((c, i) => likelihoods[i] === best && kind.shows(c).length > 0);
    return [{ clue, title: kind.title, speaksFor: best > 1 / places ? speaksFor : [] }];
  });
}

/** Whether the likeliest target is certain enough to act on. */
export const isCertain = ({ targets, contradictions }: Ranking): boolean =>
  (targets[0]?.certainty ?? 0) >= CERTAIN_ENOUGH && contradictions.length === 0;
