import { ACK, CAN, CRC_WISH, EOT, LONG_BLOCK, NAK, packet, SHORT_BLOCK, type Check } from "@/core/loader/serial/xmodem";
import type { Problem } from "@/core/problem";

/** What happens to a machine at the other end of a serial line. */
export type LineEvent = { readonly kind: "bytes"; readonly bytes: Uint8Array } | { readonly kind: "quiet" };

/** Sends data block by block; every answer, and every silence, is an event. */
export interface SendingState {
  readonly data: Uint8Array;
  readonly phase: "wish" | "block" | "end" | "done" | "failed";
  readonly check: Check;
  readonly size: number;
  /** Bytes that were acknowledged, and the number of the block that is under way. */
  readonly doneBytes: number;
  readonly no: number;
  /** Times that this block, the end, or the wish was waited for in vain. */
  readonly tries: number;
  /** The last byte was a CAN: two in a row end it. */
  readonly cancelled: boolean;
  readonly problem?: Problem;
}

export interface LineStep<S> {
  readonly state: S;
  readonly send?: Uint8Array;
  /** So long is waited for the next bytes before it is quiet. */
  readonly waitMs: number;
}

const MAX_TRIES = 10;
/** So often a long block is refused before short ones are tried: some receivers know no others. */
const LONG_TRIES = 3;
export const ANSWER_MS = 3_000;

export const startXmodemSend = (data: Uint8Array): LineStep<SendingState> => ({
  state: {
    data,
    phase: "wish",
    check: "crc",
    size: LONG_BLOCK,
    doneBytes: 0,
    no: 1,
    tries: 0,
    cancelled: false,
  },
  waitMs: ANSWER_MS,
});

const ended = (state: SendingState) => state.phase === "done" || state.phase === "failed";

const lineProblem = (detail: string): Problem => ({
  code: "serial-transfer",
  message: "The transfer over the serial line did not get through",
  detail,
  hint: "Check the wires to the board's pads and the adapter; then start the step again",
});

const fail = (state: SendingState, detail: string): LineStep<SendingState> => ({
  state: { ...state, phase: "failed", problem: lineProblem(detail) },
  // whoever still listens is told that nothing more comes
  send: Uint8Array.of(CAN, CAN),
  waitMs: 0,
});

/** Short blocks where so little is left that a long one would be mostly filling. */
const sizeFor = ({ data, doneBytes, size }: SendingState) =>
  data.length - doneBytes <= SHORT_BLOCK ? SHORT_BLOCK : size;

function block(state: SendingState): LineStep<SendingState> {
  if (state.doneBytes >= state.data.length)
    return { state: { ...state, phase: "end" }, send: Uint8Array.of(EOT), waitMs: ANSWER_MS };
  const size = sizeFor(state);
  const part = state.data.subarray(state.doneBytes, state.doneBytes + size);
  return {
    state: { ...state, phase: "block" },
    send: packet(state.no, part, size, state.check),
    waitMs: ANSWER_MS,
  };
}

function again(state: SendingState, why: string): LineStep<SendingState> {
  const tries = state.tries + 1;
  if (tries >= MAX_TRIES) return fail(state, `${MAX_TRIES} times ${why}, after ${state.doneBytes} bytes`);
  const next = { ...state, tries };
  if (state.phase === "wish") return { state: next, waitMs: ANSWER_MS };
  if (state.phase === "end") return block(next);
  // falling back is for receivers that never took a long block
  const shorter = tries >= LONG_TRIES && state.doneBytes === 0 ? SHORT_BLOCK : state.size;
  return block({ ...next, size: shorter });
}

function onByte(state: SendingState, byte: number): LineStep<SendingState> {
  const stay = { state, waitMs: ANSWER_MS };
  if (byte === CAN)
    return state.cancelled
      ? fail(state, `The board ended it after ${state.doneBytes} bytes`)
      : { ...stay, state: { ...state, cancelled: true } };
  const next = { ...state, cancelled: false };
  if (state.phase === "wish") {
    if (byte === CRC_WISH) return block(next);
    // a receiver that asks by NAK knows sums and short blocks only
    return byte === NAK ? block({ ...next, check: "sum", size: SHORT_BLOCK }) : { ...stay, state: next };
  }
  if (byte === ACK) {
    if (state.phase === "end") return { state: { ...next, phase: "done" }, waitMs: 0 };
    const doneBytes = Math.min(state.data.length, state.doneBytes + sizeFor(state));
    return block({ ...next, doneBytes, no: state.no + 1, tries: 0 });
  }
  // a C that crossed the first block on the wire is no refusal: answering it would put both sides out of step
  return byte === NAK
    ? again(next, state.phase === "end" ? "the end was not heard" : "a block was refused")
    : { ...stay, state: next };
}

/** Takes what came over the line. Bytes that mean nothing are passed over. */
export function stepXmodemSend(state: SendingState, event: LineEvent): LineStep<SendingState> {
  if (ended(state)) return { state, waitMs: 0 };
  if (event.kind === "quiet") return again({ ...state, cancelled: false }, "nothing was heard");
  let step: LineStep<SendingState> = { state, waitMs: ANSWER_MS };
  for (const byte of event.bytes) {
    step = onByte(step.state, byte);
    // what came behind an answer that moved it on belongs to what was sent before
    if (step.send || ended(step.state)) break;
  }
  return step;
}
