import { matchPattern } from "@/core/catalog";
import { withoutPrompts, type Idiom, type RefusalCause } from "@/core/idiom";
import type { Problem } from "@/core/problem";

/** A line to be sent; on trouble the sending begins again at `anchor`. */
export interface OutLine {
  readonly text: string;
  readonly anchor: number;
}

export interface Answer {
  readonly answer: "accepted" | "adjusted" | "refused";
  readonly cause?: RefusalCause;
  readonly text?: string;
  /** What the console printed for this line before it answered. */
  readonly output: readonly string[];
}

export interface SendOptions {
  /** Bytes that the board can hold unread: never more are on their way unanswered. */
  readonly windowBytes: number;
  /** Without any sign of life for so long, the sending is taken as stuck. */
  readonly quietUs: number;
  /** How often the sending may begin again; without it three times. */
  readonly maxRestarts?: number;
  /** A line on which something is heard all the time, and no answer for so long, is given up; without it three minutes. */
  readonly answerLimitUs?: number;
}

/**
 * The paced sender: keeps as many lines on their way as surely fit the board's input buffer, takes the answers in
 * order, and on silence or a garbled line drains and begins again at the anchor. Pure; time comes with the events.
 */
export interface SendState {
  readonly lines: readonly OutLine[];
  readonly options: SendOptions;
  readonly next: number;
  readonly answers: readonly (Answer | undefined)[];
  readonly waiting: readonly number[];
  readonly waitingBytes: number;
  /** The beginning of a line that has not ended yet, as bytes. */
  readonly partial: Uint8Array;
  readonly output: readonly string[];
  /** Everything received, byte for byte. */
  readonly raw: readonly Uint8Array[];
  readonly quietSinceUs: number;
  /** When the last answer came, or the sending began anew. */
  readonly answeredUs: number;
  /** Draining: nothing is sent until the console has been quiet, then sending begins again here. */
  readonly restartAt?: number;
  readonly restarts: number;
  readonly phase: "sending" | "done" | "failed";
  readonly problem?: Problem;
}

export type SendEvent =
  | { readonly kind: "start"; readonly atUs: number }
  | { readonly kind: "bytes"; readonly bytes: Uint8Array; readonly atUs: number }
  | { readonly kind: "time"; readonly atUs: number };

export interface SendStep {
  readonly state: SendState;
  readonly send?: string;
}

const ANSWER_LIMIT_US = 180_000_000;
const MAX_RESTARTS = 3;
const NOTHING = new Uint8Array();
const LINE_FEED = 10;
const encoder = new TextEncoder();
/** Bytes that are no UTF-8 come out as U+FFFD: such a line is no answer, and stays in what was received as it was. */
const decoder = new TextDecoder();

export function joinBytes(parts: readonly Uint8Array[]): Uint8Array {
  const joined = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    joined.set(part, at);
    at += part.length;
  }
  return joined;
}

/** Whole lines of bytes, without their ends, and what is left of a line that has not ended. */
function splitBytes(bytes: Uint8Array): { lines: Uint8Array[]; rest: Uint8Array } {
  const lines: Uint8Array[] = [];
  let from = 0;
  for (let at = bytes.indexOf(LINE_FEED); at >= 0; at = bytes.indexOf(LINE_FEED, from)) {
    lines.push(bytes.subarray(from, at));
    from = at + 1;
  }
  return { lines, rest: bytes.slice(from) };
}

export function startSending(lines: readonly OutLine[], options: SendOptions): SendState {
  return {
    lines,
    options,
    next: 0,
    answers: lines.map(() => undefined),
    waiting: [],
    waitingBytes: 0,
    partial: NOTHING,
    output: [],
    raw: [],
    quietSinceUs: 0,
    answeredUs: 0,
    restarts: 0,
    phase: lines.length === 0 ? "done" : "sending",
  };
}

/** Bytes of a line and its end on the way. */
export const sizeOf = (line: Pick<OutLine, "text"> | undefined) => (line ? encoder.encode(line.text).length + 1 : 0);

/** Virtual or real time, in µs, at which the state wants to be woken if nothing comes. */
export const wakeAt = (state: SendState): number => state.quietSinceUs + state.options.quietUs;

function readAnswer(line: string, idiom: Idiom): Omit<Answer, "output"> | undefined {
  const refused = matchPattern(idiom.replies.refused, line);
  if (refused)
    return {
      answer: "refused",
      cause: idiom.console.replies.causes[refused.cause ?? ""] ?? "garbled",
      text: refused.text ?? "",
    };
  const adjusted = matchPattern(idiom.replies.adjusted, line);
  if (adjusted) return { answer: "adjusted", text: adjusted.value ?? "" };
  const { accepted, taken } = idiom.replies;
  return matchPattern(accepted, line) || (taken && matchPattern(taken, line)) ? { answer: "accepted" } : undefined;
}

/** Sends as many lines as fit; at least one when nothing is on its way. */
function fill(state: SendState): SendStep {
  let { next, waitingBytes } = state;
  const waiting = [...state.waiting];
  let send = "";
  while (next < state.lines.length) {
    const size = sizeOf(state.lines[next]);
    if (waiting.length > 0 && waitingBytes + size > state.options.windowBytes) break;
    send += `${state.lines[next]?.text ?? ""}\n`;
    waiting.push(next);
    waitingBytes += size;
    next++;
  }
  return { state: { ...state, next, waiting, waitingBytes }, ...(send === "" ? {} : { send }) };
}

function restart(state: SendState, line: number, why: string): SendState {
  const restarts = state.restarts + 1;
  if (restarts > (state.options.maxRestarts ?? MAX_RESTARTS))
    return {
      ...state,
      phase: "failed",
      problem: {
        code: "console-silent",
        message: "The console does not answer",
        detail: `${why}, ${restarts} times, at line ${line + 1} of ${state.lines.length}: ${state.lines[line]?.text ?? ""}`,
        hint: "Unplug the board, plug it in again and start the step once more",
      },
    };
  return { ...state, restarts, restartAt: state.lines[line]?.anchor ?? line, waiting: [], waitingBytes: 0 };
}

/** Something talks without end and answers nothing: another language, another speed, or no console at all. */
const chatters = (state: SendState, limitUs: number): SendState => ({
  ...state,
  phase: "failed",
  problem: {
    code: "console-chatter",
    message: "Something is heard on the line all the time, and no answer",
    detail: `For ${Math.round(limitUs / 1_000_000)} s, at line ${(state.waiting[0] ?? state.next) + 1} of ${state.lines.length}`,
    hint: "It may speak at another speed, or be no console; what it sends by itself may have to be switched off first",
  },
});

/** Takes up bytes: whole lines are answers or output, the rest waits for its end. */
function receive(state: SendState, bytes: Uint8Array, idiom: Idiom): SendState {
  const { lines, rest } = splitBytes(state.partial.length === 0 ? bytes : joinBytes([state.partial, bytes]));
  let current: SendState = { ...state, partial: rest, raw: [...state.raw, bytes] };
  for (const piece of lines) {
    const text = decoder.decode(piece);
    const line = text.endsWith("\r") ? text.slice(0, -1) : text;
    const answer = readAnswer(withoutPrompts(line, idiom), idiom);
    const [index, ...waiting] = current.waiting;
    if (!answer || index === undefined || current.restartAt !== undefined) {
      current = answer ? current : { ...current, output: [...current.output, line] };
      continue;
    }
    const answers = current.answers.map((old, i) => (i === index ? { ...answer, output: current.output } : old));
    current = {
      ...current,
      answers,
      waiting,
      waitingBytes: current.waitingBytes - sizeOf(current.lines[index]),
      output: [],
    };
    if (answer.cause === "garbled" && current.restarts < MAX_RESTARTS)
      current = restart(current, index, "A line arrived garbled");
  }
  return current;
}

export function stepSending(state: SendState, event: SendEvent, idiom: Idiom): SendStep {
  if (state.phase !== "sending") return { state };
  if (event.kind === "start") return fill({ ...state, quietSinceUs: event.atUs, answeredUs: event.atUs });
  if (event.kind === "bytes") {
    const taken = receive(state, event.bytes, idiom);
    const moved = taken.answers !== state.answers || taken.restarts !== state.restarts;
    const answeredUs = moved ? event.atUs : state.answeredUs;
    const heard = { ...taken, quietSinceUs: event.atUs, answeredUs };
    const limitUs = state.options.answerLimitUs ?? ANSWER_LIMIT_US;
    if (heard.phase === "sending" && event.atUs - answeredUs > limitUs) return { state: chatters(heard, limitUs) };
    if (heard.phase !== "sending" || heard.restartAt !== undefined) return { state: heard };
    if (heard.next >= heard.lines.length && heard.waiting.length === 0) return { state: { ...heard, phase: "done" } };
    return fill(heard);
  }
  if (event.atUs < wakeAt(state)) return { state };
  if (state.restartAt !== undefined) {
    // quiet again: the empty line ends whatever half line the board still holds
    const { restartAt, ...rest } = state;
    const fresh = { output: [], partial: NOTHING, quietSinceUs: event.atUs, answeredUs: event.atUs };
    const step = fill({ ...rest, ...fresh, next: restartAt });
    return { ...step, send: `\n${step.send ?? ""}` };
  }
  const began = restart(state, state.waiting[0] ?? state.next, "Silence");
  return { state: { ...began, quietSinceUs: event.atUs, answeredUs: event.atUs } };
}
