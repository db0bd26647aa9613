/** Line of a serial console, and how the board behind it works lines off. */
export interface SerialSettings {
  readonly byteUs: number;
  readonly bufferBytes: number;
  /** USB serial holds the sender back; a bare UART loses what does not fit. */
  readonly flowControl: boolean;
}

/** Bytes as a text of one character each, as the line carries them. */
export const asWire = (bytes: Uint8Array): string => {
  let wire = "";
  // so many at once, and no more than a call may have arguments
  for (let at = 0; at < bytes.length; at += 4096) wire += String.fromCharCode(...bytes.subarray(at, at + 4096));
  return wire;
};
export const fromWire = (wire: string): Uint8Array => {
  const bytes = new Uint8Array(wire.length);
  for (let i = 0; i < bytes.length; i++) bytes[i] = wire.charCodeAt(i);
  return bytes;
};

/** What working a line off costs, and what it prints; called when the work is done. Both in wire characters. */
export interface LineWorker {
  costUs(line: string): number;
  work(line: string): string;
  /** What it prints of a line that was longer than its buffer, and that it could not keep. */
  tooLong(): string;
}

interface Queued {
  /** Absent: it was longer than the buffer. */
  readonly line?: string;
  readonly bytes: number;
  readonly arrivedUs: number;
}

/**
 * Discrete-event model of the receiving side: bytes arrive one after the other, wait in a buffer of limited size and
 * leave it when their line has been worked off. All times in µs.
 */
export interface SerialEngine {
  readonly settings: SerialSettings;
  buffered: number;
  partial: string;
  /** The line on its way was longer than the buffer: what still comes of it is passed over. */
  overlong: boolean;
  /** The byte before was CR: LF after it ends no further line. */
  afterReturn: boolean;
  queue: Queued[];
  rxFreeUs: number;
  cpuFreeUs: number;
  txFreeUs: number;
  outputs: { atUs: number; text: string }[];
  lostBytes: number;
}

export const serialEngine = (settings: SerialSettings, nowUs: number): SerialEngine => ({
  settings,
  buffered: 0,
  partial: "",
  overlong: false,
  afterReturn: false,
  queue: [],
  rxFreeUs: nowUs,
  cpuFreeUs: nowUs,
  txFreeUs: nowUs,
  outputs: [],
  lostBytes: 0,
});

const completionOf = (engine: SerialEngine, worker: LineWorker): number | undefined => {
  const [first] = engine.queue;
  return first && Math.max(engine.cpuFreeUs, first.arrivedUs) + worker.costUs(first.line ?? "");
};

/** Works lines off up to a time. Printed lines leave one by one, as fast as the line carries them. */
export function workUntil(engine: SerialEngine, worker: LineWorker, untilUs: number): void {
  for (let at = completionOf(engine, worker); at !== undefined && at <= untilUs; at = completionOf(engine, worker)) {
    const first = engine.queue.shift();
    if (!first) return;
    engine.cpuFreeUs = at;
    engine.buffered -= first.bytes;
    const printed = first.line === undefined ? worker.tooLong() : worker.work(first.line);
    if (printed !== "") print(engine, printed, at);
  }
}

export function print(engine: SerialEngine, text: string, atUs: number): void {
  for (const line of text.match(/[^\n]*\n|[^\n]+$/g) ?? []) {
    engine.txFreeUs = Math.max(engine.txFreeUs, atUs) + line.length * engine.settings.byteUs;
    engine.outputs.push({ atUs: engine.txFreeUs, text: line });
  }
}

const isBackspace = (character: string): boolean => character === "\b" || character === "\x7f";

/** One character of a line, or its end: CR, LF, or both. */
function take(engine: SerialEngine, character: string, atUs: number): void {
  const ends = character === "\r" || character === "\n";
  const second = character === "\n" && engine.afterReturn;
  engine.afterReturn = character === "\r";
  if (second) return;
  if (ends) {
    const line = engine.overlong ? {} : { line: engine.partial };
    engine.queue.push({ ...line, bytes: engine.partial.length + 1, arrivedUs: atUs });
    engine.buffered++;
    engine.partial = "";
    engine.overlong = false;
  } else if (isBackspace(character)) {
    if (engine.partial !== "") engine.buffered--;
    engine.partial = engine.partial.slice(0, -1);
  } else if (engine.overlong) engine.lostBytes++;
  else {
    engine.partial += character;
    engine.buffered++;
  }
}

/** Wire characters that a host begins to send at a time. */
export function arrive(engine: SerialEngine, worker: LineWorker, text: string, startUs: number): void {
  let at = Math.max(engine.rxFreeUs, startUs);
  for (const character of text) {
    at += engine.settings.byteUs;
    workUntil(engine, worker, at);
    if (engine.buffered >= engine.settings.bufferBytes) {
      const free = completionOf(engine, worker);
      if (free === undefined) {
        // nothing is left that would make room: the line alone is longer than the buffer
        if (!isBackspace(character) && character !== "\r" && character !== "\n") engine.overlong = true;
      } else if (engine.settings.flowControl) {
        at = Math.max(at, free);
        workUntil(engine, worker, at);
      } else {
        engine.lostBytes++;
        continue;
      }
    }
    if (engine.overlong && engine.partial !== "") {
      engine.lostBytes += engine.partial.length;
      engine.buffered -= engine.partial.length;
      engine.partial = "";
    }
    take(engine, character, at);
  }
  engine.rxFreeUs = at;
}

/** Time of the next thing that will happen by itself. */
export function nextEventUs(engine: SerialEngine, worker: LineWorker): number | undefined {
  const output = engine.outputs[0]?.atUs;
  const completion = completionOf(engine, worker);
  return output === undefined ? completion : completion === undefined ? output : Math.min(output, completion);
}

/** Takes what has reached the host by a time. */
export function takeOutput(engine: SerialEngine, worker: LineWorker, untilUs: number): string {
  workUntil(engine, worker, untilUs);
  let text = "";
  while (engine.outputs[0] && engine.outputs[0].atUs <= untilUs) text += engine.outputs.shift()?.text ?? "";
  return text;
}
