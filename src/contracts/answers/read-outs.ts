import type { Candidate, Finding } from "@/core/idiom";
import type { Problem } from "@/core/problem";

/** How complete a read-out was judged to be; `raw`: bytes that no idiom read. */
export type Verdict = "complete" | "moved-only" | "incomplete" | "raw";

/** What a file is taken for, before anybody files it. */
export interface ReadoutProposal {
  readonly release: string;
  readonly target: string | null;
  readonly chipId: string | null;
  readonly verdict: Verdict;
  readonly findings: readonly Finding[];
  /** Why it is taken for that, in sentences. */
  readonly evidence: readonly string[];
  /** The aircraft that it seems to belong to, and by which sign. */
  readonly tag: string | null;
  readonly tagBy: string;
  /** The same bytes are on file already. */
  readonly duplicate: { readonly id: number; readonly name: string } | null;
}

export interface InspectedEntry {
  /** Name inside the archive, or of the file itself. */
  readonly name: string;
  readonly sizeBytes: number;
  readonly proposal?: ReadoutProposal;
  readonly problem?: Problem;
  /** Every release that it may be read as, with what speaks for each; of many files of one archive only the first ones. */
  readonly candidates: readonly Candidate[];
}

/** What would read differently with a document that somebody looks at. */
export interface Rereading {
  /** How many were read again, and of how many. */
  readonly looked: number;
  readonly total: number;
  readonly changed: readonly { readonly id: number; readonly name: string; readonly says: string }[];
  /** What a language that comes in can be read in and not written, in words. */
  readonly unwritable: readonly string[];
}
