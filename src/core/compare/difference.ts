import type { Area, Value } from "@/core/config";
import type { Belonging } from "@/core/catalog";
import type { Resolved } from "@/core/compare/resolved";

/** One side of a difference, as a person reads it. */
export interface SideValue {
  readonly value: Value;
  readonly shown: string;
  /** False: never written; the default of its release. */
  readonly explicit: boolean;
  /** Line of the read-out; 0 when there is none. */
  readonly line: number;
  /** It is not known what stands there: why. */
  readonly doubt?: string;
}

/** Why a value is not simply another number. */
export type Cause =
  /** Somebody set one side, or both, to something else. */
  | "set"
  /** Neither side was set; the default moved between the releases. */
  | "default-moved"
  /** Only one release has it. */
  | "only-left"
  | "only-right"
  /** The same number means something else. */
  | "behaviour"
  /** A side does not say what it holds, so nobody can tell. */
  | "unsure";

export interface Difference {
  /** Address on the left where it has one: stable, unique, usable in a URL. */
  readonly id: string;
  readonly kind: "setting" | "row" | "active" | "line";
  readonly title: string;
  /** Key and scope, or table and row. */
  readonly place: string;
  /** An area; “profiles” for what is in use, “lines” for what nobody understands. */
  readonly area: Area;
  readonly says: string;
  readonly flies: boolean;
  readonly belongsTo: Belonging;
  readonly cause: Cause;
  readonly left?: SideValue;
  readonly right?: SideValue;
  /** What explains it, in sentences: rules that converted a side, notes on behaviour. */
  readonly why: readonly string[];
}

/** What differs before any value is looked at. */
export interface IdentityDifference {
  readonly what: "release" | "build" | "target" | "board";
  readonly left: string;
  readonly right: string;
}

export interface Comparison {
  readonly identity: readonly IdentityDifference[];
  /** The way that the right side was carried over, when the releases differ: “Family 1 → 2”. */
  readonly carried?: string;
  readonly differences: readonly Difference[];
  /** What cannot be compared, because a side leaves it open. */
  readonly unsure: readonly Difference[];
  /** Differences in what belongs to one board or airframe alone. */
  readonly personal: readonly Difference[];
  /** How many values were compared, rows included. */
  readonly compared: number;
  /** What changed in behaviour between the builds for settings that are equal. */
  readonly behaviour: readonly Difference[];
  /** Both sides as of the left one's release. */
  readonly sides: { readonly left: Resolved; readonly right: Resolved };
  /** Which profile of the right was held against which of the left, where likeness moved them. */
  readonly matched: readonly string[];
}

const count = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`;

/** “9 of 241 values differ; 4 change how it flies.” */
export function comparisonSentence(comparison: Comparison): string {
  const { unsure } = comparison;
  const certain = certainSentence(comparison);
  return unsure.length === 0 ? certain : `${certain} ${count(unsure.length, "value")} cannot be told.`;
}

function certainSentence({ differences, compared, behaviour, identity }: Comparison): string {
  if (differences.length === 0) {
    const builds = identity.filter(({ what }) => what !== "board");
    if (builds.length === 0) return `All ${compared} values are alike.`;
    if (behaviour.length === 0) return `All ${compared} values are alike, on different builds.`;
    return `The values are alike, the aircraft are not: ${count(behaviour.length, "setting means", "settings mean")} something else on the other build.`;
  }
  const flies = differences.filter((difference) => difference.flies).length;
  const differing = `${differences.length} of ${compared} values ${differences.length === 1 ? "differs" : "differ"}`;
  if (flies === 0) return `${differing}; none changes how it flies.`;
  return `${differing}; ${flies} ${flies === 1 ? "changes" : "change"} how it flies.`;
}

/** What every comparison says of the choice of a profile in use. */
export const activeEntry = (kind: string, title: string) =>
  ({
    id: `active ${kind}`,
    kind: "active",
    title: `${title} in use`,
    place: `profile ${kind}`,
    area: "profiles",
    says: "Which of the profiles flies.",
    flies: true,
    belongsTo: "type",
  }) as const;

/** One side of it: the profile of that number flies; undefined: it is not said which. */
export const activeSide = (kind: string, value: number | undefined): SideValue =>
  value === undefined
    ? openSide({ reason: "It is not said which profile is active", line: 0 })
    : { value, shown: `${kind} ${value}`, explicit: true, line: 0 };

/** A side that leaves open what it holds. */
export const openSide = ({ reason, line }: { readonly reason: string; readonly line: number }): SideValue => ({
  value: "",
  shown: "not known",
  explicit: true,
  line,
  doubt: reason,
});
