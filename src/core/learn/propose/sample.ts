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
  list?: { mark: string; join: string };
}

/** A definition while it is made; what is written as a document in the end. */
export interface Draft {
  lines: SampleLine[];
  readonly found: Found[];
  readonly text: Record<string, unknown>;
  readonly spelling: Record<string, unknown>;
  readonly forms: WrittenForm[];
  readonly recital: Record<string, unknown>;
  readonly rows: Record<string, unknown>;
  readonly facts: Record<string, string>;
  readonly given: Record<string, string>;
  readonly top: Record<string, unknown>;
}

const SEQUENCE = /\x1b\[[0-9;?]{0,24}[@-~]/g;

export function draftOf(sample: string): Draft {
  const lines = sample
    .replace(/^\ufeff/, "")
    .split(/\r?\n/)
    .map((raw, i): SampleLine => ({ no: i + 1, raw, text: raw.replace(SEQUENCE, "").trim() }));
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
