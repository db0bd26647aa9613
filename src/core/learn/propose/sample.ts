import { withoutColours } from "@/core/idiom";

/** A line of a sample as proposals look at it: prompts, colours, checks and closing marks taken off as they are found. */
export interface SampleLine {
  readonly no: number;
  /** As it stands in the sample. */
  readonly raw: string;
  text: string;
  /** What it was found to mean; absent while nobody knows. */
  means?: string;
}

/** One thing that was found, how sure that is, and the lines that speak for it and against it. */
export interface Found {
  readonly what: string;
  /** 0 to 1. */
  readonly sure: number;
  readonly for: readonly number[];
  readonly against: readonly number[];
}

export interface WrittenForm {
  means: string;
  pattern: string;
  with?: Record<string, string>;
  active?: boolean;
  inComment?: boolean;
  before?: string[];
  list?: { mark: string; join: string } | { mark: string; over: "profiles" } | { mark: string; pairs: string };
}

/** A definition while it is made; what is written as a document in the end. */
export interface Draft {
  lines: SampleLine[];
  readonly found: Found[];
  readonly text: Record<string, unknown>;
  readonly spelling: Record<string, unknown>;
  readonly forms: WrittenForm[];
  /** A form that fits nearly everything: it stands behind all others. */
  last?: WrittenForm;
  readonly recital: Record<string, unknown>;
  readonly rows: Record<string, unknown>;
  readonly facts: Record<string, string>;
  readonly given: Record<string, string>;
  readonly top: Record<string, unknown>;
}

export function draftOf(sample: string): Draft {
  const lines = sample
    .replace(/^\ufeff/, "")
    .split(/\r?\n/)
    .map((raw, i): SampleLine => ({ no: i + 1, raw, text: withoutColours(raw).trim() }));
  const draft: Draft = {
    lines,
    found: [],
    text: {},
    spelling: {},
    forms: [],
    recital: {},
    rows: {},
    facts: {},
    given: {},
    top: {},
  };
  if (sample.startsWith("\ufeff")) draft.text.byteOrderMark = true;
  if (sample.includes("\r\n")) draft.text.lineEnds = "crlf";
  return draft;
}

export const SHOWN = 6;

export function note(
  draft: Draft,
  what: string,
  sure: number,
  fits: readonly SampleLine[],
  against: readonly SampleLine[] = [],
): void {
  const some = (lines: readonly SampleLine[]) => lines.slice(0, SHOWN).map(({ no }) => no);
  draft.found.push({ what, sure: Math.round(sure * 100) / 100, for: some(fits), against: some(against) });
}

/** Lines that nobody has explained yet and that say something. */
export const openLines = ({ lines }: Draft): SampleLine[] =>
  lines.filter(({ text, means }) => means === undefined && text !== "");

/** How often each word comes up, the most frequent first. */
export function countOf<T>(all: Iterable<T>): [T, number][] {
  const counts = new Map<T, number>();
  for (const one of all) counts.set(one, (counts.get(one) ?? 0) + 1);
  return [...counts].toSorted((a, b) => b[1] - a[1]);
}

/** Plain text as it stands in a pattern. */
export const literal = (text: string): string => text.replaceAll("{", "{{").replaceAll("}", "}}");

/** Words that consoles use for what they are, by what they name; those of the trade. */
const NAMES: Readonly<Record<string, RegExp>> = {
  family: /^(family|firmware|maker|system|software|product|kind)$/i,
  release: /^(release|version|build|edition|revision)$/i,
  target: /^(target|pads|made for|for|hardware)$/i,
  board: /^(board|model)$/i,
  chipId: /^(chip|chip id|serial|unit)$/i,
  builtOn: /^(built|built on|made|date)$/i,
  extent: /^(holds|extent|contents|holding)$/i,
  kept: /^(settings|memory|storage)$/i,
};

/** The fact that a word names, where nothing names it yet. */
export const fieldOf = (draft: Draft, name: string): string | undefined =>
  Object.keys(NAMES).find((each) => draft.facts[each] === undefined && NAMES[each]?.test(name) === true);
