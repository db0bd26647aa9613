import {
  DFU_REQUEST,
  DFU_STATE,
  DFU_STATUS,
  decodeStatus,
  SET_INTERFACE,
  type ControlReply,
  type ControlRequest,
} from "@/core/loader/dfu/protocol";
import type { Problem } from "@/core/problem";

/**
 * One whole piece of work on one alternate setting: read it (all of it, or until it differs from `expect`), or write it
 * from its start. The loader begins a segment afresh with block 0, so a broken write is begun again, never continued.
 */
export type Transfer =
  | { readonly kind: "read"; readonly alternate: number; readonly lengthBytes: number; readonly expect?: Uint8Array }
  | { readonly kind: "write"; readonly alternate: number; readonly bytes: Uint8Array };

export type TransferEvent =
  { readonly kind: "start" } | { readonly kind: "reply"; readonly reply: ControlReply } | { readonly kind: "waited" };

export type TransferEffect =
  { readonly kind: "control"; readonly request: ControlRequest } | { readonly kind: "wait"; readonly ms: number };

type Phase =
  | "select"
  | "ready"
  | "clear"
  | "abort"
  | "block"
  | "status"
  | "busy"
  | "finish"
  | "manifest"
  | "manifesting"
  | "close"
  | "done"
  | "failed";

export interface TransferState {
  readonly transfer: Transfer;
  readonly transferSizeBytes: number;
  readonly phase: Phase;
  /** Next block, from 0, and the bytes that are through. */
  readonly block: number;
  readonly doneBytes: number;
  readonly received: readonly Uint8Array[];
  /** Attempts that ended in a stall or an error status. */
  readonly failures: number;
  /** How often the segment was begun. */
  readonly begins: number;
  /** How often the loader was asked for its status, and for how long it was waited, since the last thing that got on. */
  readonly polls: number;
  readonly waitedMs: number;
  readonly lastStatus: number;
  /** For a read with `expect`: false as soon as a byte differs. */
  readonly equal: boolean;
  readonly problem?: Problem;
}

export interface Step {
  readonly state: TransferState;
  readonly effect?: TransferEffect;
}

const MAX_FAILURES = 4;
const MAX_BEGINS = 8;
const MAX_POLLS = 200;
/** Waits beyond this, one or all together, are not believed: no flash takes so long for a block. */
const MAX_WAIT_MS = 30_000;

export function startTransfer(transfer: Transfer, transferSizeBytes: number): TransferState {
  return {
    transfer,
    transferSizeBytes,
    phase: "select",
    block: 0,
    doneBytes: 0,
    received: [],
    failures: 0,
    begins: 0,
    polls: 0,
    waitedMs: 0,
    lastStatus: 0,
    equal: true,
  };
}

const control = (
  request: number,
  direction: "in" | "out",
  value: number,
  more: Partial<ControlRequest> = {},
): TransferEffect => ({
  kind: "control",
  request: { request, direction, value, ...more },
});
const getStatus = control(DFU_REQUEST.GETSTATUS, "in", 0, { length: 6 });

const NEEDS_RESET: Problem = {
  code: "loader-reset",
  message: "The loader wants a reset before it goes on",
  hint: "Unplug the board and plug it in again with its loader",
};

const fail = (state: TransferState, problem: Problem): Step => ({ state: { ...state, phase: "failed", problem } });

function begin(state: TransferState): Step {
  const begins = state.begins + 1;
  if (begins > MAX_BEGINS) return giveUp({ ...state, begins }, state.lastStatus);
  const fresh = {
    ...state,
    begins,
    phase: "select" as const,
    block: 0,
    doneBytes: 0,
    received: [],
    equal: true,
    polls: 0,
    waitedMs: 0,
  };
  return { state: fresh, effect: control(SET_INTERFACE, "out", state.transfer.alternate) };
}

function giveUp(state: TransferState, status: number): Step {
  const [name, meaning] = DFU_STATUS[status] ?? DFU_STATUS[14];
  return fail(state, {
    code: "loader-error",
    message: "The loader gave up on a segment",
    detail: `${Math.max(state.failures, state.begins)} attempts; last status ${name}: ${meaning}`,
    hint: "Try another cable or socket; then start the step again, it writes only what is missing",
  });
}

/** After a stall or an error status: clear it and begin the segment again, within limits. */
function recover(state: TransferState, status: number): Step {
  const failures = state.failures + 1;
  if (failures >= MAX_FAILURES) return giveUp({ ...state, failures }, status);
  return {
    state: { ...state, failures, lastStatus: status, phase: "clear" },
    effect: control(DFU_REQUEST.CLRSTATUS, "out", 0),
  };
}

function nextBlock(state: TransferState): Step {
  const { transfer, transferSizeBytes, block, doneBytes } = state;
  if (transfer.kind === "read") {
    if (doneBytes >= transfer.lengthBytes || !state.equal)
      return { state: { ...state, phase: "close" }, effect: control(DFU_REQUEST.ABORT, "out", 0) };
    return {
      state: { ...state, phase: "block" },
      effect: control(DFU_REQUEST.UPLOAD, "in", block & 0xffff, { length: transferSizeBytes }),
    };
  }
  const data = transfer.bytes.subarray(doneBytes, doneBytes + transferSizeBytes);
  return {
    state: { ...state, phase: data.length === 0 ? "finish" : "block" },
    effect: control(DFU_REQUEST.DNLOAD, "out", block & 0xffff, { data }),
  };
}

/** One transition of the client of DFU 1.1 (Appendix A). Pure: the same state and event give the same step. */
export function stepTransfer(state: TransferState, event: TransferEvent): Step {
  if (event.kind === "start") return begin(state);
  if (event.kind === "waited") return { state, effect: getStatus };
  const { reply } = event;
  if (reply.kind === "stall") {
    // a device that is not manifestation tolerant answers nothing more until it is reset (section 7)
    if (state.phase === "manifesting") return fail(state, NEEDS_RESET);
    // after a stall the reason stands in the status; the status request itself may stall once in a while too
    if (state.phase === "status" || state.phase === "busy" || state.phase === "ready") return recover(state, 0x0f);
    return { state: { ...state, phase: "ready", failures: state.failures + 1 }, effect: getStatus };
  }
  switch (state.phase) {
    case "select":
    case "clear":
    case "abort":
      if (state.phase !== "select") return begin(state);
      return { state: { ...state, phase: "ready" }, effect: getStatus };
    case "ready":
      return onReady(state, reply.data);
    case "block":
      return onBlock(state, reply.data);
    case "finish":
      return { state: { ...state, phase: "manifest" }, effect: getStatus };
    case "status":
    case "busy":
    case "manifest":
    case "manifesting":
      return onStatus(state, reply.data);
    case "close":
      return { state: { ...state, phase: "done" } };
    case "done":
    case "failed":
      return { state };
  }
}

function onReady(state: TransferState, data: Uint8Array): Step {
  const report = decodeStatus(data);
  if (!report) return recover(state, 0x0e);
  if (state.failures >= MAX_FAILURES) return recover(state, report.status);
  if (report.state === DFU_STATE.dfuIDLE) return nextBlock(state);
  if (report.state === DFU_STATE.dfuERROR)
    return {
      state: { ...state, phase: "clear", lastStatus: report.status },
      effect: control(DFU_REQUEST.CLRSTATUS, "out", 0),
    };
  if (state.polls >= MAX_POLLS) return recover(state, report.status);
  return { state: { ...state, phase: "abort", polls: state.polls + 1 }, effect: control(DFU_REQUEST.ABORT, "out", 0) };
}

function onBlock(state: TransferState, data: Uint8Array): Step {
  const { transfer } = state;
  if (transfer.kind === "write") return { state: { ...state, phase: "status" }, effect: getStatus };
  const wanted = transfer.lengthBytes - state.doneBytes;
  const bytes = data.subarray(0, wanted);
  const expected = transfer.expect?.subarray(state.doneBytes, state.doneBytes + bytes.length);
  const equal = state.equal && (expected === undefined || sameBytes(expected, bytes));
  const next = {
    ...state,
    block: state.block + 1,
    doneBytes: state.doneBytes + bytes.length,
    received: transfer.expect ? (state.received.length === 0 ? [bytes] : state.received) : [...state.received, bytes],
    equal,
  };
  const short = data.length < state.transferSizeBytes;
  if (short && next.doneBytes < transfer.lengthBytes)
    return fail(next, {
      code: "loader-short",
      message: "The loader gave less than the segment holds",
      detail: `${next.doneBytes} of ${transfer.lengthBytes} bytes`,
    });
  // a short frame ends the upload by itself (section 6.2.1)
  return short ? { state: { ...next, phase: "done" } } : nextBlock(next);
}

/** States in which the loader is still at work on what it was given, by what it was given (Appendix A.2). */
const AT_WORK: Readonly<Record<"block" | "end", readonly number[]>> = {
  block: [DFU_STATE.dfuDNLOAD_SYNC, DFU_STATE.dfuDNBUSY],
  end: [DFU_STATE.dfuMANIFEST_SYNC, DFU_STATE.dfuMANIFEST],
};

function onStatus(state: TransferState, data: Uint8Array): Step {
  const report = decodeStatus(data);
  if (!report) return recover(state, 0x0e);
  if (report.status !== 0 || report.state === DFU_STATE.dfuERROR) return recover(state, report.status);
  const what = state.phase === "status" || state.phase === "busy" ? "block" : "end";
  if (what === "block" && report.state === DFU_STATE.dfuDNLOAD_IDLE) {
    const sent =
      state.transfer.kind === "write"
        ? Math.min(state.transferSizeBytes, state.transfer.bytes.length - state.doneBytes)
        : 0;
    return nextBlock({ ...state, block: state.block + 1, doneBytes: state.doneBytes + sent, polls: 0, waitedMs: 0 });
  }
  if (what === "end" && report.state === DFU_STATE.dfuIDLE) return { state: { ...state, phase: "done" } };
  if (what === "end" && report.state === DFU_STATE.dfuMANIFEST_WAIT_RESET) return fail(state, NEEDS_RESET);
  // any other state means that it did not take what it was given
  if (!AT_WORK[what].includes(report.state)) return recover(state, 0x0f);
  const waitedMs = state.waitedMs + report.pollTimeoutMs;
  if (state.polls >= MAX_POLLS || waitedMs > MAX_WAIT_MS)
    return fail(state, {
      code: "loader-busy",
      message: "The loader stays busy",
      detail: `State ${report.state}, asked ${state.polls + 1} times; it asks for ${report.pollTimeoutMs} ms more`,
      hint: "Unplug the board and plug it in again; the job writes only what is missing",
    });
  const phase = what === "block" ? "busy" : "manifesting";
  return {
    state: { ...state, phase, polls: state.polls + 1, waitedMs },
    effect: { kind: "wait", ms: report.pollTimeoutMs },
  };
}

export function sameBytes(a: Uint8Array, b: Uint8Array): boolean {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

/** The bytes of a finished read. */
export function bytesRead(state: TransferState): Uint8Array {
  const bytes = new Uint8Array(state.received.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of state.received) {
    bytes.set(part, at);
    at += part.length;
  }
  return bytes;
}
