import type { Layout, Release, ReleaseTarget } from "@/core/catalog";
import type { Value } from "@/core/config";
import type { Cursor, Idiom, Reader, RefusalCause } from "@/core/idiom";

export interface Refusal {
  readonly cause: RefusalCause;
  readonly text: string;
}

/** A firmware that runs: what its image's identity block named decides everything here. */
export interface Application {
  readonly release: Release;
  readonly idiom: Idiom;
  readonly target: ReleaseTarget;
  /** How it keeps its settings. */
  readonly layout: Layout;
  /** What is really on the board, as a release that is built for it says; absent where none is. */
  hardware?: ReleaseTarget;
  readonly values: Map<string, Value>;
  /** The values that it started with. */
  begun: ReadonlyMap<string, Value>;
  readonly rows: Map<string, { table: string; key: string; cells: Record<string, Value> }>;
  readonly active: Record<string, number>;
  /** What became of the settings region at the start. */
  readonly kept: string;
  echo: boolean;
  /** Where the last heading or choice left the console. */
  readonly reader: Reader;
  readonly cursor: Cursor;
  /** Values are being taken in; what was refused is told at the end. */
  intake: { lines: number; readonly refused: { readonly line: number; readonly answer: Refusal }[] } | undefined;
  refused: number;
  keepAsked: boolean;
}
