import { FEEL_AREAS } from "@/core/config";

export const SCOPE_KINDS = ["everything", "without-feel", "wiring", "own", "chosen"] as const;
export type ScopeKind = (typeof SCOPE_KINDS)[number];

/** The part of a configuration that somebody wants to come along. */
export interface Scope {
  readonly kind: ScopeKind;
  /** Starter set of the release that fills what is left behind; without it the release's defaults do. */
  readonly starter?: string;
  /** Of `chosen`: areas, profiles (“tune 3”), settings by their name, and single places (“tune 3/roll.push”) that stay behind. */
  readonly leave?: readonly string[];
}

export const EVERYTHING: Scope = { kind: "everything" };

/** What each kind leaves behind, in a sentence. */
export const SCOPE_SAYS: Readonly<Record<ScopeKind, string>> = {
  everything: "Everything comes along",
  "without-feel": "Tune and stick feel stay behind; all else comes along",
  wiring: "Only wiring, airframe and calibration come along",
  own: "Only what was set by hand comes along",
  chosen: "Parts that were chosen stay behind",
};

/** Whether what makes the handling stays behind, and nothing else comes in its place: nobody has tuned it then. */
export function leavesUntuned({ kind, starter, leave = [] }: Scope): boolean {
  if (starter !== undefined) return false;
  return (
    kind === "without-feel" ||
    kind === "wiring" ||
    (kind === "chosen" && [...FEEL_AREAS].some((a) => leave.includes(a)))
  );
}

/** What to leave behind, and why: by what became of the values that make the handling. */
export interface Advice {
  readonly scope: ScopeKind;
  readonly because: string;
}
