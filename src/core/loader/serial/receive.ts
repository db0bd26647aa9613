import type { LineEvent, LineStep } from "@/core/loader/serial/send";
import {
  ACK,
  CAN,
  checkBytes,
  CRC_WISH,
  EOT,
  LONG_BLOCK,
  NAK,
  openPacket,
  SHORT_BLOCK,
  SOH,
  STX,
  type Check,
} from "@/core/loader/serial/xmodem";
import type { Problem } from "@/core/problem";

/** Takes blocks in until the sender ends; what comes is known to be `lengthBytes` long, the protocol does not say. */
export interface ReceivingState {
  readonly lengthBytes: number;
  readonly phase: "wish" | "blocks" | "done" | "failed";
  readonly check: Check;
  readonly blocks: readonly Uint8Array[];
  readonly doneBytes: number;
  readonly no: number;
  readonly tries: number;
  /** The beginning of a packet whose rest has not come yet. */
  readonly pending: Uint8Array;
  readonly cancelled: boolean;
  readonly problem?: Problem;
}

const MAX_TRIES = 10;
/** So often CRC is asked for before sums are. */
const CRC_TRIES = 3;
const BLOCK_MS = 3_000;
const NOTHING = new Uint8Array(0);

export const startXmodemReceive = (lengthBytes: number): LineStep<ReceivingState> => ({
  state: {
    lengthBytes,
    phase: "wish",
    check: "crc",
    blocks: [],
    doneBytes: 0,
    no: 1,
    tries: 0,
    pending: NOTHING,
    cancelled: false,
  },
  send: Uint8Array.of(CRC_WISH),
  waitMs: BLOCK_MS,
});

/** What came, without what filled up the last block. */
export function received({ blocks, lengthBytes }: ReceivingState): Uint8Array {
  const all = new Uint8Array(blocks.reduce((sum, block) => sum + block.length, 0));
  let at = 0;
  for (const block of blocks) {
    all.set(block, at);
    at += block.length;
  }
  return all.slice(0, lengthBytes);
}

const fail = (state: ReceivingState, detail: string): LineStep<ReceivingState> => ({
  state: {
    ...state,
    phase: "failed",
    pending: NOTHING,
    problem: {
      code: "serial-transfer",
      message: "What the board sent over the serial line did not come through",
      detail,
      hint: "Check the wires to the board's pads and the adapter; then start the step again",
    },
  },
  send: Uint8Array.of(CAN, CAN),
  waitMs: 0,
});

/** A block, or the first word, is asked for once more. */
function again(state: ReceivingState, why: string): LineStep<ReceivingState> {
  const tries = state.tries + 1;
  if (tries >= MAX_TRIES) return fail(state, `${MAX_TRIES} times ${why}, after ${state.doneBytes} bytes`);
  const check: Check = state.phase === "wish" && tries >= CRC_TRIES ? "sum" : state.check;
  const send = state.phase === "wish" && check === "crc" ? CRC_WISH : NAK;
  return { state: { ...state, tries, check, pending: NOTHING }, send: Uint8Array.of(send), waitMs: BLOCK_MS };
}

function takePacket(state: ReceivingState, bytes: Uint8Array): LineStep<ReceivingState> {
  const opened = openPacket(bytes, state.check);
  if (!opened) return again(state, "a block came damaged");
  const next = { ...state, phase: "blocks" as const, pending: NOTHING };
  const ack = { send: Uint8Array.of(ACK), waitMs: BLOCK_MS };
  // the answer to the block before was lost: it comes again
  if (opened.no === ((state.no - 1) & 0xff) && state.blocks.length > 0) return { state: { ...next, tries: 0 }, ...ack };
  if (opened.no !== (state.no & 0xff))
    return fail(state, `Block ${opened.no} came instead of block ${state.no & 0xff}`);
  const doneBytes = state.doneBytes + opened.data.length;
  if (state.doneBytes >= state.lengthBytes)
    return fail(state, `More came than the ${state.lengthBytes} bytes asked for`);
  return {
    state: { ...next, blocks: [...state.blocks, opened.data.slice()], doneBytes, no: state.no + 1, tries: 0 },
    ...ack,
  };
}

function takeEnd(state: ReceivingState): LineStep<ReceivingState> {
  if (state.doneBytes < state.lengthBytes)
    return fail(state, `It ended after ${state.doneBytes} of ${state.lengthBytes} bytes`);
  return { state: { ...state, phase: "done" }, send: Uint8Array.of(ACK), waitMs: 0 };
}

/** Takes what came over the line; noise between packets is passed over. */
export function stepXmodemReceive(state: ReceivingState, event: LineEvent): LineStep<ReceivingState> {
  if (state.phase === "done" || state.phase === "failed") return { state, waitMs: 0 };
  if (event.kind === "quiet") return again({ ...state, cancelled: false }, "nothing was heard");
  const bytes = new Uint8Array(state.pending.length + event.bytes.length);
  bytes.set(state.pending);
  bytes.set(event.bytes, state.pending.length);
  let cancelled = state.cancelled;
  for (let at = 0; at < bytes.length; at++) {
    const byte = bytes[at];
    if (byte === SOH || byte === STX) {
      const size = 3 + (byte === STX ? LONG_BLOCK : SHORT_BLOCK) + checkBytes(state.check);
      const pending = bytes.subarray(at, at + size);
      if (pending.length < size)
        return { state: { ...state, pending: pending.slice(), cancelled: false }, waitMs: BLOCK_MS };
      return takePacket({ ...state, cancelled: false }, pending);
    }
    if (byte === EOT) return takeEnd(state);
    if (byte === CAN && cancelled) return fail(state, `The board ended it after ${state.doneBytes} bytes`);
    cancelled = byte === CAN;
  }
  return { state: { ...state, pending: NOTHING, cancelled }, waitMs: BLOCK_MS };
}
