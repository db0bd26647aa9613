import { array, boolean, lazy, mixed, number, object, string, type InferType, type Schema } from "yup";
import { PART_FROM, SCOPE_KINDS, type Parts, type Scope } from "@/core/carryover";
import type { PartName } from "@/core/part";
import { trimmed } from "@/contracts/shapes";

/** Areas are the workshop’s, and those that releases bring. */
const AREA_NAME = /^[a-z][a-z0-9 -]{0,63}$/;
// what is not known is refused, and not dropped: a misspelt area would come from the baseline in silence
const isParts = (value: unknown): value is Parts =>
  typeof value === "object" &&
  value !== null &&
  !Array.isArray(value) &&
  Object.entries(value).every(([area, from]) => AREA_NAME.test(area) && PART_FROM.some((each) => each === from));
const parts = () =>
  mixed<Parts>({ check: isParts, type: "areas" })
    .typeError(`parts names areas of settings, each from one of: ${PART_FROM.join(", ")}`)
    .default({})
    .defined();

const releaseId = () => string().max(64);
const id = () => number().integer().positive();
/** Another target than the board's own, and why. */
const instead = () =>
  object({ target: string().max(64).required(), reason: trimmed().max(400).default("") })
    .default(undefined)
    .optional();
/** Why a backup is taken, although it is not complete. */
const although = () => trimmed().max(400).default(undefined).optional();
const kind = <const K extends string>(word: K) => string<K>().oneOf([word]).required();

const PART_NAME = /^.{1,60} [1-9]\d{0,2}$/;

const isReleases = (value: unknown): value is Readonly<Record<PartName, string>> =>
  typeof value === "object" &&
  value !== null &&
  !Array.isArray(value) &&
  Object.keys(value).length <= 64 &&
  Object.entries(value).every(([part, id]) => PART_NAME.test(part) && typeof id === "string" && id.length <= 64);
/** The release that each part shall run, by its name; those that are not named stay as they are. */
const partReleases = () =>
  mixed<Readonly<Record<PartName, string>>>({ check: isReleases, type: "parts" })
    .typeError("runs names parts, each with a release")
    .default({})
    .defined();

const isBackups = (value: unknown): value is Readonly<Record<PartName, number>> =>
  typeof value === "object" &&
  value !== null &&
  !Array.isArray(value) &&
  Object.keys(value).length <= 64 &&
  Object.entries(value).every(
    ([part, backupId]) => PART_NAME.test(part) && Number.isInteger(backupId) && backupId > 0 && backupId < 2 ** 31,
  );

/** What a job can be wished for: one schema for each kind of goal, which the request, the pages and the settling share. */
const WISHES = {
  update: object({
    kind: kind("update"),
    releaseId: releaseId().required(),
    instead: instead(),
    /** The firmware on it is of another target than its model takes: that of its model is written. */
    asModel: boolean(),
  }),
  "set-up": object({
    kind: kind("set-up"),
    backupId: id().required(),
    /** Another release than the one that runs: it is written first. */
    releaseId: releaseId(),
    /** Of another board's backup: areas that somebody decided on. */
    parts: parts(),
    although: although(),
  }),
  revive: object({ kind: kind("revive"), releaseId: releaseId().required(), instead: instead() }),
  commission: object({
    kind: kind("commission"),
    releaseId: releaseId().required(),
    /** What it is set up as; without it the type's standard, or another of the type. */
    backupId: id(),
    instead: instead(),
    although: although(),
  }),
  /** The parts behind the board are read out; those of `runs` are brought to that release. */
  parts: object({
    kind: kind("parts"),
    runs: partReleases(),
    /** Backups that those of `runs` are set up as, where it is not what they hold themselves. */
    sources: mixed<Readonly<Record<PartName, number>>>({ check: isBackups, type: "parts" })
      .typeError("sources names parts, each with a backup")
      .default(undefined)
      .optional(),
    /** The release that is written to the board in between, because its own opens no line. */
    detour: releaseId(),
  }),
  /** Something that a release says how to bring about. */
  ability: object({ kind: kind("ability"), ability: string().max(64).required() }),
  /** `base`: “standard”, “defaults”, or a starter set. */
  baseline: object({ kind: kind("baseline"), base: string().max(100).required(), parts: parts() }),
  /** Its turn in a campaign. */
  campaign: object({ kind: kind("campaign"), campaignId: id().required() }),
} as const;

export type WishKind = keyof typeof WISHES;
export const WISH_KINDS = Object.keys(WISHES) as WishKind[];
/** What the board is to be at the end, as somebody wishes it; a goal is what it is settled to. */
export type GoalWish = InferType<(typeof WISHES)[WishKind]>;
export type WishOf<K extends WishKind> = Extract<GoalWish, { kind: K }>;

const goal = lazy((value: unknown): Schema<GoalWish> => {
  const word = (value as { kind?: unknown } | null | undefined)?.kind;
  const known = WISH_KINDS.find((each) => each === word);
  return (known
    ? WISHES[known]
    : object({ kind: string().oneOf(WISH_KINDS).required() })) as unknown as Schema<GoalWish>;
});

/** The part of a configuration that comes along, as requests say it. */
export const scopeShape = object({
  kind: string().oneOf(SCOPE_KINDS).required(),
  starter: string().max(64),
  leave: array(string().max(200).required()).max(2000),
});

/** Only “chosen” names what stays behind. */
export const scopeFrom = ({ kind: word, starter, leave }: InferType<typeof scopeShape>): Scope => ({
  kind: word,
  ...(starter === undefined ? {} : { starter }),
  ...(word === "chosen" ? { leave: leave ?? [] } : {}),
});

/** The request that orders a job: for which aircraft, in which bay, and what it is for. */
export const jobWishShape = object({
  bayNo: number().integer().min(1).max(24).required(),
  aircraftId: id().required(),
  goal,
  /** The part of the settings that comes along; a baseline says it by its parts. */
  scope: scopeShape.default(undefined).optional(),
});

/** What a page sends to order a job. */
export interface JobRequest {
  readonly bayNo: number;
  readonly aircraftId: number;
  readonly goal: GoalWish;
  readonly scope?: Scope;
}
