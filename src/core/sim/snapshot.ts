import type { Value } from "@/core/config";
import type { SimBoard } from "@/core/sim/board";
import { NO_FAULTS, type Faults } from "@/core/sim/presence";
import { CHUNK_BYTES } from "@/core/sim/flash-memory";
import { loaderSpace } from "@/core/image";
import type { Senses } from "@/core/sim/application";

/** What a board is besides its flash, as plain data. */
export interface BoardSnapshot {
  readonly cable: boolean;
  readonly battery: boolean;
  readonly appearances: number;
  readonly faults: Faults;
  readonly senses: Senses;
  readonly running: "off" | "console" | "usb-loader" | "serial-loader" | "drive-loader" | "looping" | "dead";
  /** A serial adapter is wired to it. */
  readonly adapter?: boolean;
  /** Its loader in memory, and since when it was without power, in µs of its clock. */
  readonly loader?: { readonly version?: number; readonly offSinceUs?: number };
  /** Settings in memory, when an application runs: they may not be stored yet. */
  readonly memory?: {
    readonly values: readonly (readonly [string, Value])[];
    readonly rows: readonly { readonly table: string; readonly key: string; readonly cells: Record<string, Value> }[];
    readonly active: Readonly<Record<string, number>>;
    readonly refused: number;
  };
}

export function snapshotOf(board: SimBoard): BoardSnapshot {
  const { mode } = board;
  return {
    cable: board.cable,
    battery: board.battery,
    appearances: board.appearances,
    faults: board.faults,
    senses: { ...board.senses },
    running: mode.kind === "loader" ? `${mode.transport}-loader` : mode.kind,
    ...(board.adapter ? { adapter: true } : {}),
    ...(loaderSpace(board.processor) ? { loader: loaderInMemory(board) } : {}),
    ...(mode.kind === "console"
      ? {
          memory: {
            values: [...mode.app.values],
            rows: [...mode.app.rows.values()],
            active: { ...mode.app.active },
            refused: mode.app.refused,
          },
        }
      : {}),
  };
}

const loaderInMemory = ({ loaderMemory: { version, offSinceUs } }: SimBoard): NonNullable<BoardSnapshot["loader"]> => ({
  ...(version === undefined ? {} : { version }),
  ...(Number.isFinite(offSinceUs) ? { offSinceUs } : {}),
});

/** Takes the chunks of flash that changed since the last call. */
export function takeDirtyChunks(board: SimBoard): { chunk: number; bytes: Uint8Array }[] {
  const chunks = [...board.flash.dirty].map((chunk) => ({
    chunk,
    bytes: board.flash.bytes.slice(chunk * CHUNK_BYTES, (chunk + 1) * CHUNK_BYTES),
  }));
  board.flash.dirty.clear();
  return chunks;
}

/** Brings a board back as it was when the snapshot was taken; its flash must be in place already. */
export function resumeBoard(board: SimBoard, snapshot: BoardSnapshot, nowUs: number): void {
  board.faults = { ...NO_FAULTS, ...snapshot.faults };
  Object.assign(board.senses, snapshot.senses);
  board.appearances = snapshot.appearances;
  board.loaderMemory.replaceUnmarked();
  board.loaderMemory.version = snapshot.loader?.version;
  // what is powered was never without power, whatever stopped the machine that plays it
  board.loaderMemory.offSinceUs = snapshot.running === "off" ? (snapshot.loader?.offSinceUs ?? -Infinity) : nowUs;
  if (snapshot.running === "off") return;
  board.adapter = snapshot.adapter ?? false;
  // a board that was in its loader stays there: only a power cycle ends that
  const transport = (["usb", "serial", "drive"] as const).find((each) => snapshot.running === `${each}-loader`);
  if (snapshot.cable) board.plug(nowUs, {});
  if (snapshot.battery) board.setBattery(nowUs, true);
  if (transport && !(board.mode.kind === "loader" && board.mode.transport === transport))
    board.mode = { kind: "loader", transport, readyUs: nowUs };
  if (snapshot.running === "dead" && board.mode.kind !== "dead") board.mode = { kind: "dead", why: "as it was" };
  const { memory } = snapshot;
  if (board.mode.kind === "console" && memory) {
    const { app } = board.mode;
    app.refused = memory.refused;
    for (const [id, value] of memory.values) if (app.values.has(id)) app.values.set(id, value);
    app.rows.clear();
    for (const row of memory.rows) app.rows.set(`${row.table}/${row.key}`, { ...row });
    Object.assign(app.active, memory.active);
  }
  board.appearances = snapshot.appearances;
}
