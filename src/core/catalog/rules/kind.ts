import type { ColumnDefinition, SettingDefinition, TableDefinition } from "@/core/catalog/definition";
import type { PassageRule } from "@/core/catalog/rules";
import type { Address, ScopeId, Value } from "@/core/config";

/** How much of a value can be lost on the way; each is worse than the one before. */
export const LOSSES = ["none", "rounding", "look", "limit", "lost"] as const;
export type Loss = (typeof LOSSES)[number];
export const worse = (a: Loss, b: Loss): Loss => (LOSSES.indexOf(a) < LOSSES.indexOf(b) ? b : a);

/** What a rule does to what it touches. */
export type Effect = "renamed" | "converted" | "behaviour" | "retired" | "limited";

/** How far a rule runs backwards: to the same value, to within its rounding, for some values only, or not at all. */
export type Reach = "whole" | "rounded" | "part" | "none";

/** A value at the place where it stands at the moment. */
export interface Passing extends Address {
  readonly value: Value;
}

/** Same number, other effect; with the value that would feel as before, where the rule knows it. */
export interface Behaviour {
  readonly why: string;
  readonly suggestion?: Value;
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
  readonly behaviour?: Behaviour;
}

/** What a rule may ask about the way that a value goes. */
export interface ValueWay {
  /** The setting on the release before. */
  readonly origin: SettingDefinition;
  /** A setting of the release after. */
  readonly definition: (key: string) => SettingDefinition | undefined;
  /** The scopes that a setting kept in this scope has on the release after. */
  readonly scopes: (scope: string) => readonly ScopeId[];
  /** The active profile of each kind. */
  readonly active: Readonly<Record<string, number>>;
}

/** One cell on its way: the column's definition before and after, and its value at the moment. */
export interface CellWay {
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
  readonly cell?: (rule: R, column: string, value: Value, way: CellWay) => PassedCell | undefined;
  /** What a word of a column is called afterwards, in defaults and in rows of an erased board. */
  readonly word?: (rule: R, column: string, word: string) => string | undefined;
  /** The key of a row afterwards, where it has another. */
  readonly key?: (rule: R, key: string) => string | undefined;
  readonly restricts?: (rule: R) => Restriction;
  readonly tells: (rule: R, before: TableDefinition, after: TableDefinition) => TableNews;
}

/** What a rule may ask when it is turned round. Keys and columns are named as before the passage. */
export interface BackWay {
  readonly before: (key: string) => SettingDefinition | undefined;
  readonly laterKey: (key: string) => string;
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

/** Rules about one thing act in this order, whatever their order in the document: where it stands, what it is, what it means. */
export const PHASES = ["place", "value", "meaning"] as const;

/** All that the product knows of one kind of passage rule. */
export interface RuleKind<R extends { readonly rule: string; readonly why?: string }> {
  readonly rule: R["rule"];
  /** What it is for, in a sentence; published with its format. */
  readonly about: string;
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
  readonly value?: (rule: R, passing: Passing, way: ValueWay) => readonly Passed[];
  /** Of values that it brings to one place: which one counts. */
  readonly join?: (rule: R, values: readonly Value[]) => number;
  readonly table?: TableEffect<R>;
  /** Numbers afterwards are in another unit: ranges before and after say nothing about each other. */
  readonly rescales?: true;
  /** What it costs a setting of the release before, or a table, at worst; profiles that there are fewer of are counted apart. */
  readonly loss: (rule: R, ends: Ends, key: string) => Loss;
  readonly backwards: (rule: R, way: BackWay) => Backwards;
}

export const backwardsWhy = (why: string) => `On the way back: ${why}`;
