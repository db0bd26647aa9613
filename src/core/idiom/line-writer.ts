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
  /** A table begins anew. */
  clear(table: string): string[];
  row(table: string, key: string, cells: Readonly<Record<string, Value>>): string[];
  activate(active: Readonly<Record<string, number>>): string[];
  facts(about: "identity" | "senses", facts: readonly (readonly [name: string, value: string])[]): string[];
  /** Closes a read-out; empty where the idiom has no closing line. */
  end(before: readonly string[]): string[];
}
