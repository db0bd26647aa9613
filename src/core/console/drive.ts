import { matchPattern } from "@/core/catalog";
import { requireCommand, type CommandName, type Idiom } from "@/core/idiom";
import {
  joinBytes,
  sizeOf,
  startSending,
  stepSending,
  wakeAt,
  type Answer,
  type OutLine,
  type SendOptions,
  type SendState,
} from "@/core/console/send";
import { ok, refuse, type Problem, type Result } from "@/core/problem";

/** A console on a cable: bytes both ways. On a board that has gone, both calls reject with a ProblemError. */
export interface ConsolePort {
  send(bytes: Uint8Array): Promise<void>;
  /** The next bytes to arrive, or undefined when none have come until the given time. */
  receive(untilUs: number): Promise<Uint8Array | undefined>;
  nowUs(): number;
}

const encoder = new TextEncoder();

/** Sends lines and gathers the answers; reports after each answer. */
export async function sendLines(
  port: ConsolePort,
  lines: readonly OutLine[],
  idiom: Idiom,
  options: SendOptions,
  onProgress: (state: SendState) => void | Promise<void> = () => undefined,
): Promise<SendState> {
  let step = stepSending(startSending(lines, options), { kind: "start", atUs: port.nowUs() }, idiom);
  while (step.state.phase === "sending") {
    if (step.send !== undefined) await port.send(encoder.encode(step.send));
    const bytes = await port.receive(wakeAt(step.state));
    const atUs = port.nowUs();
    const event = bytes === undefined ? ({ kind: "time", atUs } as const) : ({ kind: "bytes", bytes, atUs } as const);
    step = stepSending(step.state, event, idiom);
    const reported = onProgress(step.state);
    if (reported) await reported;
  }
  return step.state;
}

/** What became of the lines of a script, one answer for each. */
export interface Sent {
  readonly answers: readonly (Answer | undefined)[];
  readonly problem?: Problem;
}

/**
 * Sends the lines of a script as the idiom takes values in: each on its own, or all between two words, the refusals told
 * at the end. Commands among the first lines go ahead of that.
 */
export async function sendScript(
  port: ConsolePort,
  lines: readonly OutLine[],
  idiom: Idiom,
  options: SendOptions,
  onProgress: (answered: number) => void | Promise<void> = () => undefined,
): Promise<Sent> {
  const { intake } = idiom.console;
  const report = (before: number) => (state: SendState) =>
    onProgress(Math.min(lines.length, before + state.answers.filter(Boolean).length));
  if (!intake) return sendLines(port, lines, idiom, options, report(0));
  const isCommand = ({ text }: OutLine) =>
    idiom.commandWords.has(text) || (idiom.starter !== undefined && matchPattern(idiom.starter, text) !== undefined);
  const cut = lines.findIndex((line) => !isCommand(line));
  const head = cut < 0 ? lines : lines.slice(0, cut);
  const first = await sendLines(port, head, idiom, options, report(0));
  if (first.problem || cut < 0) return first;
  const content = lines.slice(cut).map(({ text }) => (text === intake.close ? (intake.doubled ?? text) : text));
  // on trouble the whole of it begins again: opening an intake once more drops what was taken
  const wrapped = [intake.open, ...content, intake.close].map((text) => ({ text, anchor: 0 }));
  const second = await sendLines(port, wrapped, idiom, options, report(head.length));
  const answers = second.answers.slice(1, -1);
  for (const line of second.answers.at(-1)?.output ?? []) {
    const fields = idiom.replies.refusedLine && matchPattern(idiom.replies.refusedLine, line);
    const at = Number(fields?.line ?? 0) - 1;
    if (fields && at in answers)
      answers[at] = {
        answer: "refused",
        cause: idiom.console.replies.causes[fields.cause ?? ""] ?? "garbled",
        text: fields.text ?? "",
        output: [],
      };
  }
  return { answers: [...first.answers, ...answers], ...(second.problem ? { problem: second.problem } : {}) };
}

const SETTLE_QUIET_US = 200_000;
const SETTLE_LIMIT_US = 5_000_000;

/**
 * Ends whatever half line the board still holds and lets old answers run out, so that the next answer belongs to the
 * next line. Needed wherever a console is taken over from somebody who may have been cut off.
 */
export async function settleConsole(port: ConsolePort): Promise<void> {
  await port.send(encoder.encode("\n"));
  const limit = port.nowUs() + SETTLE_LIMIT_US;
  while (port.nowUs() < limit && (await port.receive(port.nowUs() + SETTLE_QUIET_US)) !== undefined);
}

export interface Reply extends Answer {
  /** What came back, byte for byte. */
  readonly raw: Uint8Array;
}

export const plainLines = (texts: readonly string[]): OutLine[] => texts.map((text, anchor) => ({ text, anchor }));

/** One line, one answer. */
export async function ask(
  port: ConsolePort,
  line: string,
  idiom: Idiom,
  quietMs: number,
  limits: Pick<SendOptions, "maxRestarts" | "answerLimitUs"> = {},
): Promise<Result<Reply>> {
  const state = await sendLines(port, plainLines([line]), idiom, {
    windowBytes: sizeOf({ text: line }),
    quietUs: quietMs * 1000,
    ...limits,
  });
  const answer = state.answers[0];
  if (state.problem || !answer)
    return refuse(state.problem ?? { code: "console-silent", message: "The console does not answer" });
  return ok({ ...answer, raw: joinBytes(state.raw) });
}

const QUIET_MS: Readonly<Partial<Record<CommandName, number>>> = { keep: 15_000, recite: 4_000, declare: 1_500 };

export function askCommand(port: ConsolePort, idiom: Idiom, command: CommandName): Promise<Result<Reply>> {
  return ask(port, requireCommand(idiom, command), idiom, QUIET_MS[command] ?? 3_000);
}

/** Stores the settings. A console that refuses after refused lines is told again; `twice` says that it was. */
export async function keepSettings(port: ConsolePort, idiom: Idiom): Promise<Result<{ readonly twice: boolean }>> {
  for (const twice of [false, true]) {
    const reply = await askCommand(port, idiom, "keep");
    if (!reply.ok) return reply;
    if (reply.value.answer !== "refused") return ok({ twice });
    if (reply.value.cause !== "unkept")
      return refuse({
        code: "keep-refused",
        message: "The board does not store its settings",
        detail: reply.value.text ?? "",
        hint: "Its flash may be worn, or write protected",
      });
  }
  return refuse({ code: "keep-refused", message: "The board does not store its settings, though it was told twice" });
}
