import { compilePattern, matchPattern, type Processor, type SerialLoader } from "@/core/catalog";
import { UNREADABLE, type LoaderWord } from "@/core/loader/loader";
import type { SerialPort } from "@/core/loader/transports";
import { startXmodemReceive, received, stepXmodemReceive } from "@/core/loader/serial/receive";
import { startXmodemSend, stepXmodemSend, type LineEvent, type LineStep } from "@/core/loader/serial/send";
import { ok, ProblemError, refuse, type Result } from "@/core/problem";

const ANSWER_MS = 400;
/** Erasing a whole flash takes that long at most, and some more. */
const ERASE_MS = 30_000;
const MAX_LINE = 200;
const NEWLINE_TEXT = "\n";

/**
 * Sends a line of the menu, and reads the line that answers it; undefined when none came in time. Noise before it is passed
 * over, and so is what `isOld` knows as the late answer to an earlier question.
 */
async function askMenu(
  port: SerialPort,
  line: string,
  limitMs: number,
  isOld: (answer: string) => boolean = () => false,
): Promise<string | undefined> {
  await port.send(new TextEncoder().encode(`${line}\r`));
  const end = port.nowUs() + limitMs * 1000;
  let text = "";
  while (port.nowUs() < end && text.length < MAX_LINE) {
    const bytes = await port.receive(end);
    if (!bytes) return undefined;
    text += String.fromCharCode(...bytes);
    for (let stop = text.indexOf(NEWLINE_TEXT); stop >= 0; stop = text.indexOf(NEWLINE_TEXT)) {
      const answer = text.slice(0, stop).trim();
      if (!isOld(answer)) return answer;
      text = text.slice(stop + 1);
    }
  }
  return undefined;
}

/** Asks at each speed and in each way that one of these processors' loaders has, until one answers as its own would. */
export async function askWho(port: SerialPort, processors: readonly Processor[]): Promise<LoaderWord | undefined> {
  const candidates = processors.flatMap((processor) =>
    processor.loaders.flatMap((loader) => (loader.kind === "serial" ? [{ processor, loader }] : [])),
  );
  const questions = new Map(
    candidates.map(({ loader: { baud, letters } }) => [
      `${baud} ${letters.identity}`,
      { baud, line: letters.identity },
    ]),
  );
  for (const { baud, line } of questions.values()) {
    await port.setBaud(baud);
    // words that a console was asked may stand before the first question and spoil it; the second one stands alone
    for (let turn = 0; turn < 2; turn++) {
      const answer = await askMenu(port, line, ANSWER_MS);
      if (answer === undefined) break;
      for (const { processor, loader } of candidates) {
        const fields = loader.baud === baud ? matchPattern(compilePattern(loader.identity), answer) : undefined;
        if (fields?.processor === processor.id && fields.id !== undefined)
          return { id: fields.id, processor: processor.id };
      }
    }
  }
  return undefined;
}

/** Runs a machine at its end of the line; `onStep` after each event. */
async function runOnLine<S extends { readonly phase: string }>(
  port: SerialPort,
  first: LineStep<S>,
  step: (state: S, event: LineEvent) => LineStep<S>,
  onStep: (state: S) => void,
): Promise<S> {
  let now = first;
  for (;;) {
    if (now.send) await port.send(now.send);
    if (now.state.phase === "done" || now.state.phase === "failed") return now.state;
    const bytes = await port.receive(port.nowUs() + now.waitMs * 1000);
    now = step(now.state, bytes ? { kind: "bytes", bytes } : { kind: "quiet" });
    onStep(now.state);
  }
}

/** One piece of work by the menu: it has to say that it begins. */
async function begin(
  port: SerialPort,
  loader: SerialLoader,
  letter: string,
  sector: number,
  lengthBytes: number,
): Promise<Result<undefined>> {
  const identity = compilePattern(loader.identity);
  const saysWho = (answer: string) => matchPattern(identity, answer) !== undefined;
  const answer = await askMenu(port, `${letter} ${sector} ${lengthBytes}`, ERASE_MS, saysWho);
  if (answer === loader.done) return ok(undefined);
  const why = answer === undefined ? undefined : matchPattern(compilePattern(loader.refused), answer)?.why;
  return refuse({
    // that it does not give out is another thing than that it does not answer
    code: why !== undefined && letter === loader.letters.read ? UNREADABLE : "loader-refused",
    message:
      answer === undefined ? "The serial loader does not answer" : "The serial loader does not do what it is asked",
    detail: why ?? answer ?? `Nothing came for ${ERASE_MS / 1000} s`,
    hint: "Pull the power, bring the board into its loader again, and start the step again: it writes only what is missing",
  });
}

export async function readBySerial(
  port: SerialPort,
  loader: SerialLoader,
  sector: number,
  lengthBytes: number,
  onBlock: (doneBytes: number) => void,
): Promise<Result<Uint8Array>> {
  const begun = await begin(port, loader, loader.letters.read, sector, lengthBytes);
  if (!begun.ok) return begun;
  const state = await runOnLine(port, startXmodemReceive(lengthBytes), stepXmodemReceive, (now) =>
    onBlock(Math.min(now.doneBytes, lengthBytes)),
  );
  return state.problem ? refuse(state.problem) : ok(received(state));
}

export async function writeBySerial(
  port: SerialPort,
  loader: SerialLoader,
  sector: number,
  bytes: Uint8Array,
  onBlock: (doneBytes: number) => void,
): Promise<Result<undefined>> {
  const begun = await begin(port, loader, loader.letters.write, sector, bytes.length);
  if (!begun.ok) return begun;
  const state = await runOnLine(port, startXmodemSend(bytes), stepXmodemSend, (now) => onBlock(now.doneBytes));
  return state.problem ? refuse(state.problem) : ok(undefined);
}

/**
 * CRC-32 of what a sector begins with, as the loader itself works it out: a line instead of all the bytes. Undefined where
 * it cannot, or does not answer as it should: then the bytes have to be read.
 */
export async function checkBySerial(
  port: SerialPort,
  { letters, checked }: SerialLoader,
  sector: number,
  lengthBytes: number,
): Promise<number | undefined> {
  if (letters.check === undefined || checked === undefined) return undefined;
  const answer = await askMenu(port, `${letters.check} ${sector} ${lengthBytes}`, ERASE_MS);
  const crc = answer === undefined ? undefined : matchPattern(compilePattern(checked), answer)?.crc;
  return crc !== undefined && /^[0-9a-f]{8}$/i.test(crc) ? parseInt(crc, 16) : undefined;
}

/** Lets the board start. It leaves the line by that, perhaps before it has answered. */
export async function startBySerial(port: SerialPort, loader: SerialLoader): Promise<void> {
  await askMenu(port, loader.letters.start, ANSWER_MS).catch((error: unknown) => {
    if (!(error instanceof ProblemError) || error.problem.code !== "link-lost") throw error;
  });
}
