import type { ScopeId, Value } from "@/core/config";

/** A value to be written. */
export interface WrittenValue {
  readonly key: string;
  readonly value: Value;
}

/** Writes what a console of this idiom reads; lines without line ends. */
export interface LineWriter {
  /** Goes to a place. Nothing where each line says its place itself. */
  enter(scope: ScopeId, area: string, active?: Readonly<Record<string, number>>): string[];
  /** Values of the place that was entered. */
  set(scope: ScopeId, area: string, values: readonly WrittenValue[]): string[];
  /** Leaves the place again, in languages that close their headings. */
  leave(scope: ScopeId, area: string): string[];
  /** Whether all profiles of a kind say a setting's values in one line. */
  saysAcross(kind: string): boolean;
  /** One setting's values in all profiles of a kind, in one line. */
  across(kind: string, key: string, values: readonly Value[]): string[];
  /** The headings of the system are what keys begin with, and not areas. */
  readonly byKeys: boolean;
  /** A table begins anew. */
  clear(table: string): string[];
  row(table: string, key: string, cells: Readonly<Record<string, Value>>): string[];
  /** Which profiles are in use. */
  activate(active: Readonly<Record<string, number>>): string[];
  /** Which profiles are in use is said where their places are entered. */
  readonly marksActive: boolean;
  facts(about: "identity" | "senses", facts: readonly (readonly [name: string, value: string])[]): string[];
  /** Closes a read-out; empty where the idiom has no closing line. */
  end(before: readonly string[]): string[];
}
