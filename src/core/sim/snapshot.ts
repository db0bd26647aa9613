import type { Value } from "@/core/config";
import type { SimBoard } from "@/core/sim/board";
import { NO_FAULTS, type Faults } from "@/core/sim/presence";
import { CHUNK_BYTES, type FlashMemory } from "@/core/sim/flash-memory";
import type { SimPart, SimPartSpec } from "@/core/sim/parts/part";
import { loaderSpace } from "@/core/image";
import type { Senses } from "@/core/sim/application";

/** What a board is besides its flash, as plain data. */
export interface BoardSnapshot {
  readonly cable: boolean;
  readonly battery: boolean;
  readonly secondBattery?: true;
  readonly appearances: number;
  readonly faults: Faults;
  readonly senses: Senses;
  readonly running: "off" | "console" | "usb-loader" | "serial-loader" | "drive-loader" | "looping" | "dead";
  /** A serial adapter is wired to it. */
  readonly adapter?: boolean;
  /** Its loader in memory, and since when it was without power, in µs of its clock. */
  readonly loader?: { readonly version?: number; readonly offSinceUs?: number };
  /** Where the line that its console opened leads. */
  readonly line?: { readonly part: string; readonly no: number };
  /** The parts behind it: what they are, and how each stands. */
  readonly parts?: readonly PartSnapshot[];
  /** Settings in memory, when an application runs: they may not be stored yet. */
  readonly memory?: {
    readonly values: readonly (readonly [string, Value])[];
    readonly rows: readonly { readonly table: string; readonly key: string; readonly cells: Record<string, Value> }[];
    readonly active: Readonly<Record<string, number>>;
    readonly refused: number;
  };
}

export interface PartSnapshot extends SimPartSpec {
  readonly state: SimPart["state"];
}

export function snapshotOf(board: SimBoard): BoardSnapshot {
  const { mode } = board;
  return {
    cable: board.cable,
    battery: board.batteries.has("battery"),
    ...(board.batteries.has("second battery") ? { secondBattery: true } : {}),
    appearances: board.appearances,
    faults: board.faults,
    senses: { ...board.senses },
    running: mode.kind === "loader" ? `${mode.transport}-loader` : mode.kind,
    ...(board.adapter ? { adapter: true } : {}),
    ...(loaderSpace(board.processor) ? { loader: loaderInMemory(board) } : {}),
    ...(board.leadsTo ? { line: { part: board.leadsTo.part, no: board.leadsTo.no } } : {}),
    ...(board.parts.all.length > 0 ? { parts: board.parts.all.map(({ spec, state }) => ({ ...spec, state })) } : {}),
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

/** Chunks of the parts' flash are counted on from here, so many for each: no board has so many of its own. */
const PART_CHUNKS = 100_000;

/** The memories behind a board, each with the number of its first chunk. */
const memoriesOf = (board: SimBoard): { readonly flash: FlashMemory; readonly first: number }[] => [
  { flash: board.flash, first: 0 },
  ...board.parts.all.map(({ flash }, i) => ({ flash, first: (i + 1) * PART_CHUNKS })),
];

/** Takes the chunks of flash that changed since the last call. */
export const takeDirtyChunks = (board: SimBoard): { chunk: number; bytes: Uint8Array }[] =>
  memoriesOf(board).flatMap(({ flash, first }) => {
    const chunks = [...flash.dirty].map((chunk) => ({
      chunk: first + chunk,
      bytes: flash.bytes.slice(chunk * CHUNK_BYTES, (chunk + 1) * CHUNK_BYTES),
    }));
    flash.dirty.clear();
    return chunks;
  });

/** Puts a stored chunk back where it was. */
export function putChunk(board: SimBoard, chunk: number, bytes: Uint8Array): void {
  const memory = memoriesOf(board)[Math.floor(chunk / PART_CHUNKS)];
  memory?.flash.bytes.set(bytes, (chunk - memory.first) * CHUNK_BYTES);
}

/** What could not be stored stays to be stored. */
export function staysDirty(board: SimBoard, chunk: number): void {
  const memory = memoriesOf(board)[Math.floor(chunk / PART_CHUNKS)];
  memory?.flash.dirty.add(chunk - memory.first);
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
  if (snapshot.secondBattery) board.setBattery(nowUs, true, "second battery");
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
  for (const { part, no, state } of snapshot.parts ?? [])
    if (state !== "off") board.parts.at(part, no)?.resume(state, nowUs);
  if (snapshot.line) board.openAgain(snapshot.line, nowUs);
  board.appearances = snapshot.appearances;
}
