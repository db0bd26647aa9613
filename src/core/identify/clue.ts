import type { BoardPlace } from "@/core/catalog";
import type { Candidate } from "@/core/identify/candidate";

/** One thing that was seen of a board: of which kind, and what it says. */
export interface Clue {
  readonly kind: string;
  readonly seen: string;
}

/** How a person is asked for a clue. */
export interface Asking {
  readonly question: string;
  /** Seconds that looking takes, with the board in hand. */
  readonly effortS: number;
  /** How often one who looks can't tell: worn, covered, too small. */
  readonly cantTell: number;
  /** Where on the board to look: a place in the model's drawing. */
  readonly place?: BoardPlace;
  /** It may be typed as it stands there: what comes near counts by how near it is. */
  readonly typed?: boolean;
}

/**
 * A kind of evidence: what each board would show, and how often what is seen is wrong all the same. The likelihood of
 * seeing something follows from these two. Without an asking it comes from the cable, a text or the register.
 */
export interface ClueKind {
  readonly kind: string;
  /** “Printed name”, “USB identity”. */
  readonly title: string;
  /** What the candidate would show; nothing where its documents do not say. */
  readonly shows: (candidate: Candidate) => readonly string[];
  /** How often it is misread, mistaken, or says another board's. 0: it can't be: what it contradicts is excluded. */
  readonly error: number;
  readonly asking?: Asking;
}
