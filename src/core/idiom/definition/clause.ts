/** One line of a text: number from 1, without its line end, which is kept beside it. */
export interface SourceLine {
  readonly number: number;
  readonly text: string;
  readonly end: "\n" | "\r\n" | "";
}

/** One statement's text, as it reads when prompts, comments and breaks are taken out. */
export interface Clause {
  /** Line that it begins on. */
  readonly line: number;
  readonly text: string;
  /** What is wrong with the form of it: its check does not fit, a quote or comment was never closed. */
  readonly fault?: string;
  /** It carries no check, though statements of this language do. */
  readonly unchecked?: true;
  /** It is the text of a comment. */
  readonly comment?: true;
}

/** A text in its layers: lines hold every byte; clauses are what the lines say. */
export interface ScannedText {
  readonly lines: readonly SourceLine[];
  /** The lines without prompts; noise is absent. What counts and checks are made over. */
  readonly clean: readonly { readonly number: number; readonly text: string }[];
  readonly clauses: readonly Clause[];
}
