import type { ColumnDefinition, SettingDefinition, TableDefinition } from "@/core/catalog/definition";
import type { Linear } from "@/core/catalog/rules/linear";
import type { Loss } from "@/core/catalog/rules/losses";
import type { Address, ScopeId, Value } from "@/core/config";

export { LOSSES, worse, type Loss } from "@/core/catalog/rules/losses";

/** Shapes of rules by their kinds. Each kind adds its own in its file: no file here has to know which there are. */
// eslint-disable-next-line @typescript-eslint/no-empty-object-type -- filled by the files of the kinds
export interface RuleShapes {}

/** What happens to settings and tables on the way from one release to another. */
export type PassageRule = RuleShapes[keyof RuleShapes];

/** What a rule does to what it touches. */
export type Effect = "renamed" | "converted" | "behaviour" | "retired" | "limited";

/** How far a rule runs backwards: to the same value, to within its rounding, for some values only, or not at all. */
export type Reach = "whole" | "rounded" | "part" | "none";

/** A value at the place where it stands at the moment. */
export interface Passing extends Address {
  readonly value: Value;
}

/** Same number, other effect; with the value that would feel as before, where every rule on the way knows it. */
export interface Behaviour {
  readonly why: string;
  readonly felt?: Value;
  /** How `felt` was worked out: “+ 1.3”, “× 10”. */
  readonly sums: readonly string[];
}

/** What a rule made of a value, and what is told of it. */
export interface Passed extends Passing {
  readonly before?: string;
  readonly after?: string;
  readonly loss?: Loss;
  /** It ends here, and why. */
  readonly ended?: string;
  /** A word that has no counterpart: `value` is still the old one. */
  readonly unmatched?: true;
  /** It is not the one that goes there, and only said where somebody set it and it differs: of a profile that is not active. */
  readonly beside?: true;
  readonly behaviour?: { readonly why: string; readonly suggest?: Linear };
}

/** What a rule may ask about the way that a value goes. */
export interface PassingContext {
  /** The setting on the release before. */
  readonly origin: SettingDefinition;
  /** A setting of the release after. */
  readonly definition: (key: string) => SettingDefinition | undefined;
  /** The scopes that a setting kept in this scope has on the release after. */
  readonly scopes: (scope: string) => readonly ScopeId[];
  /** The active profile of each kind. */
  readonly active: Readonly<Record<string, number>>;
  /** A rule about names acted on it already: it stands under its later name, or is one of the parts of a split. */
  readonly named: boolean;
}

/** One cell on its way: the column's definition before and after, and its value at the moment. */
export interface CellContext {
  readonly before: ColumnDefinition | undefined;
  readonly after: ColumnDefinition | undefined;
}
export interface PassedCell {
  readonly value: Value;
  readonly before: string;
  readonly after: string;
  readonly loss?: Loss;
}

/** Rows with this cell, or all rows, are possible under these keys only. */
export interface Restriction {
  readonly column?: string;
  readonly value?: Value;
  readonly on: readonly string[];
  readonly why: string;
}

/** What a rule does to a table, whatever rows it holds, in words. */
export interface TableNews {
  readonly effect: Effect;
  readonly title: string;
  readonly before: string;
  readonly after: string;
}

/** What a rule does to one table. Columns and keys are named as before the rule. */
export interface TableEffect<R> {
  /** The name of a column afterwards, where it has another. */
  readonly column?: (rule: R, column: string) => string | undefined;
  /** What becomes of a cell; undefined where the rule does not touch it. */
  readonly cell?: (rule: R, column: string, value: Value, context: CellContext) => PassedCell | undefined;
  /** What a word of a column is called afterwards, in defaults and in rows of an erased board. */
  readonly word?: (rule: R, column: string, word: string) => string | undefined;
  /** The key of a row afterwards, where it has another. */
  readonly key?: (rule: R, key: string) => string | undefined;
  readonly restricts?: (rule: R) => Restriction;
  readonly tells: (rule: R, before: TableDefinition, after: TableDefinition) => TableNews;
}

/** Where a setting stands after a passage; with the part of a split that is meant on the way back. */
export interface LaterPlace {
  readonly key: string;
  readonly part?: string;
}

/** What a rule may ask when it is turned round. Keys and columns are named as before the passage. */
export interface ReversalContext {
  readonly before: (key: string) => SettingDefinition | undefined;
  /** The places of a setting, or of one part of it, on the release after. */
  readonly later: (key: string, part?: string) => readonly LaterPlace[];
  /** What its rules do to its number altogether. */
  readonly linear: (key: string, part?: string) => Linear;
  readonly laterColumn: (table: string, column: string) => string;
}
export interface Backwards {
  readonly reach: Reach;
  /** Rules in terms of the release after. */
  readonly rules: readonly PassageRule[];
}

/** The releases on both sides of a rule, as far as it asks. */
export interface Ends {
  readonly before: (key: string) => SettingDefinition | undefined;
  readonly after: (key: string) => SettingDefinition | undefined;
}

/**
 * Rules about one thing act in this order, whatever their order in the document: what it is called, where it is kept, what
 * it is, what it means.
 */
export const PHASES = ["name", "place", "value", "meaning"] as const;

/** All that the product knows of one kind of passage rule. */
export interface RuleKind<R extends { readonly rule: string; readonly why?: string }> {
  readonly rule: R["rule"];
  /** What it is for, in a sentence; published with its format. */
  readonly about: string;
  /** What exactly it does: sentences of the published page, from which somebody else could do the same. */
  readonly exactly: readonly string[];
  /** The properties of its JSON Schema (2020-12) beside `rule` and `why`, and which of them must be there. */
  readonly schema: { readonly properties: Readonly<Record<string, object>>; readonly required: readonly string[] };
  /** How a person writes it. */
  readonly example: R;
  readonly phase: (typeof PHASES)[number];
  readonly effect: Effect;
  /** What is told where the document gives no reason. */
  readonly why?: string;
  /** What it says, in the fewest words. */
  readonly sentence: (rule: R) => string;
  /** Settings of the release before that it speaks of. */
  readonly keys: (rule: R) => readonly string[];
  /** The keys that a setting has afterwards: several where it is split, none where it ends, undefined where it keeps the one it had. */
  readonly becomes?: (rule: R) => readonly string[] | undefined;
  /** What it does to a definition that a release takes over; undefined where it ends. */
  readonly define?: (rule: R, setting: SettingDefinition) => SettingDefinition | undefined;
  /** What becomes of a value; undefined where the rule does not touch it. */
  readonly value?: (rule: R, passing: Passing, context: PassingContext) => readonly Passed[] | undefined;
  /** Of values that it brings to one place, in the order of its keys: which one counts where nobody set any of them. */
  readonly join?: (rule: R, values: readonly Value[]) => number;
  readonly table?: TableEffect<R>;
  /** What it does to a setting's number, or to that of one part of a split. */
  readonly linear?: (rule: R, part?: string) => Linear | undefined;
  /** Numbers afterwards are in another unit: ranges before and after say nothing about each other. */
  readonly rescales?: true;
  /** What it costs a setting of the release before, or a table, at worst; profiles that there are fewer of are counted apart. */
  readonly loss: (rule: R, ends: Ends, key: string) => Loss;
  readonly backwards: (rule: R, context: ReversalContext) => Backwards;
}

export const backwardsWhy = (why: string) => `On the way back: ${why}`;
