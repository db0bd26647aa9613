import type { Effect, Loss } from "@/core/catalog";
import type { Address, Value, ValueDoubt } from "@/core/config";

export type Outcome =
  | "as-it-was"
  | "renamed"
  | "converted"
  | "limited"
  | "new-default"
  | "retired"
  | "cannot-be-here"
  | "your-call"
  | "left-out"
  | "unknown";

/** Whose board a read-out was taken of, for the board that it goes onto. */
export const WHOSE = ["this-board", "this-aircraft", "another"] as const;
export type Whose = (typeof WHOSE)[number];

/** One thing that happened to a value on its way, in words. */
export interface TrailStep {
  readonly rule: string;
  /** What it did, where a rule of the way did it. */
  readonly effect?: Effect;
  readonly why: string;
  readonly before?: string;
  readonly after?: string;
}

/** A value on one side: where it stands, and how a person reads it. */
export interface Side extends Address {
  readonly value: Value;
  readonly shown: string;
}

/** One way to settle an item. Without a value or a row nothing is sent. */
export interface Choice {
  readonly id: string;
  readonly label: string;
  readonly value?: Value;
  readonly shown?: string;
  /** Where a row stands then. */
  readonly row?: RowPlace;
  /** The row of another item changes its place with it. */
  readonly moves?: { readonly itemId: string; readonly key: string };
  /** Only this role may choose it. */
  readonly by?: "lead";
  /** What does not work then, or what hands have to do: a sentence. */
  readonly means?: string;
}

export interface RowPlace {
  readonly key: string;
  readonly cells: Readonly<Record<string, Value>>;
}

/** Why an item waits for a person. */
export type Call =
  "silent" | "behaviour" | "limit" | "unknown-line" | "no-counterpart" | "doubtful" | "unexplained" | "several";

export interface SettingItem {
  readonly kind: "setting";
  /** Stable over recomputation: the address on the side that has it, destination first. */
  readonly id: string;
  readonly title: string;
  readonly area: string;
  readonly says: string;
  readonly flies: boolean;
  readonly outcome: Outcome;
  readonly loss: Loss;
  readonly call?: Call;
  /** Why it comes out so, in a sentence; empty where nothing happened to it. */
  readonly reason: string;
  readonly from?: Side & { readonly line: number; readonly moved: boolean };
  /** Other values that were set and came to this place: a person decides between them and `from`. */
  readonly others?: readonly (Side & { readonly line: number; readonly moved: boolean })[];
  /** The read-out leaves open what it was; what `from` says is the default, or what would be if it belonged here. */
  readonly doubt?: ValueDoubt;
  readonly to?: Side;
  readonly trail: readonly TrailStep[];
  /** Empty when nothing is to be decided. The first is not a default: an undecided item holds the job. */
  readonly choices: readonly Choice[];
  /** It was not to come along: the job's scope leaves it behind. */
  readonly scoped?: true;
  /** It stands so whatever comes along: another part on the board does it. */
  readonly fixed?: true;
  /** The job is for it: why is what has to be read of it. */
  readonly wanted?: true;
  /** Same number, other effect: the sentence of the rule that says so. */
  readonly behaviour?: string;
  /** A new setting that can limit flight at its default: how. */
  readonly restricts?: string;
}

export interface RowItem {
  readonly kind: "row";
  readonly id: string;
  readonly table: string;
  readonly title: string;
  readonly area: string;
  readonly outcome: Outcome;
  readonly loss: Loss;
  /** Why it comes out so, in a sentence; empty where nothing happened to it. */
  readonly reason: string;
  readonly flies: boolean;
  /** It was not to come along: the job's scope leaves it behind. */
  readonly scoped?: true;
  /** The job is for it: why is what has to be read of it. */
  readonly wanted?: true;
  /** The read-out leaves it open: why. */
  readonly doubt?: string;
  readonly from?: RowPlace & { readonly line: number };
  /** Why it waits for a person, where it has a place. */
  readonly call?: Extract<Call, "silent" | "limit">;
  readonly to?: RowPlace | undefined;
  readonly trail: readonly TrailStep[];
  readonly choices: readonly Choice[];
  /** Releases that take the row as it stands, the nearest first; where this one does not. */
  readonly servedBy?: readonly string[];
}

export interface LineItem {
  readonly kind: "line";
  readonly id: string;
  readonly title: string;
  readonly outcome: Outcome;
  readonly loss: Loss;
  readonly from: { readonly line: number; readonly text: string; readonly scope: Address["scope"] };
  readonly reason: string;
  readonly trail: readonly TrailStep[];
  readonly choices: readonly Choice[];
}

export type PlanItem = (SettingItem | RowItem | LineItem) & {
  /** Of a job with two sources: it comes from the board's own read-out. */
  readonly ofBoard?: true;
};

/** The worked-out form of a carry-over: complete, stable, the same for the same inputs. */
export interface Plan {
  readonly from: { readonly release: string; readonly title: string };
  readonly to: { readonly release: string; readonly title: string; readonly target: string };
  readonly items: readonly PlanItem[];
  readonly active: Readonly<Record<string, number>>;
}

/** Item id → choice id. */
export type Decisions = Readonly<Record<string, string>>;

export const openItems = (plan: Pick<Plan, "items">, decisions: Decisions): PlanItem[] =>
  plan.items.filter(
    (item) => item.choices.length > 0 && !item.choices.some((choice) => choice.id === decisions[item.id]),
  );

/** Items that read alike in several profiles share this; they are shown, counted and usually decided as one. */
export function alikeKey(item: PlanItem): string {
  if (item.kind !== "setting") return item.id;
  const choices = item.choices.map((c) => `${c.id}=${c.shown ?? ""}`).join();
  return [item.title, item.from?.key, item.from?.shown, item.to?.key, item.to?.shown, choices].join("|");
}

/** How many decisions a person still has to take. */
export const openDecisions = (plan: Plan, decisions: Decisions): number =>
  new Set(openItems(plan, decisions).map(alikeKey)).size;

const STAY: Choice = { id: "stay", label: "Leave it out", means: "The board keeps its own default." };
const COME: Choice = { id: "come", label: "Let it come along" };
const SPARED: readonly Choice[] = [STAY, COME];
const NO_WAYS: readonly Choice[] = [];

/** It would come along unasked, and would be missed: a value that somebody set, or a row. */
const canStay = (item: PlanItem): boolean =>
  item.kind !== "line" &&
  item.to !== undefined &&
  item.from !== undefined &&
  item.scoped === undefined &&
  (item.kind === "row" || (item.from.moved && item.fixed === undefined));

/** Every way to settle an item: those that it asks for, else that it stays behind after all. */
export const waysOf = (item: PlanItem): readonly Choice[] =>
  item.choices.length > 0 ? item.choices : canStay(item) ? SPARED : NO_WAYS;

/** What was decided of an item; that it comes along, as it would have unasked, decides nothing. */
export const choiceOf = (item: PlanItem, decisions: Decisions): Choice | undefined =>
  waysOf(item).find((choice) => choice.id === decisions[item.id] && choice !== COME);

/** A value that somebody set and that has no place any more. */
export const isLost = (item: PlanItem): boolean =>
  item.kind === "setting" && item.from?.moved === true && (item.outcome === "retired" || item.outcome === "unknown");

export function countOutcomes(plan: Plan): Record<Outcome, number> {
  const counts: Record<Outcome, number> = {
    "as-it-was": 0,
    renamed: 0,
    converted: 0,
    limited: 0,
    "new-default": 0,
    retired: 0,
    "cannot-be-here": 0,
    "your-call": 0,
    "left-out": 0,
    unknown: 0,
  };
  for (const item of plan.items) counts[item.outcome]++;
  return counts;
}
