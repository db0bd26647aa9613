import { compilePattern, matchPattern, type LineWay } from "@/core/catalog";
import type { SimPart } from "@/core/sim/parts/part";

/** What became of words that stood alone after a silence. */
export interface Answered {
  readonly atUs: number;
  readonly closed: boolean;
  /** Why it did not do it. */
  readonly refused?: string;
}

/** Parts of the board that a line can lead to. */
export interface PassingHost {
  readonly partAt: (part: string, no: number) => SimPart | undefined;
  /** What of the parts of a kind has its supply, and keeps the line from closing. */
  readonly fed: (part: string) => boolean;
}

const CR = 0x0d;
const LF = 0x0a;
const LONGEST = 60;
/** What a way says before the number in its words. */
const beginning = (words: string): string => words.slice(0, (words.indexOf("{no}") + 1 || words.length + 1) - 1);

/**
 * A line that a firmware passes on to a part: byte for byte, until after so long without any one of its words comes. Times
 * in µs of the board's clock.
 */
export class Passing {
  private heardUs: number;
  private held: number[] | undefined;

  constructor(
    private readonly way: LineWay,
    public no: number,
    private readonly host: PassingHost,
    nowUs: number,
  ) {
    this.heardUs = nowUs;
    this.target?.call(nowUs);
  }

  get part(): string {
    return this.way.part;
  }

  private get target(): SimPart | undefined {
    return this.host.partAt(this.way.part, this.no);
  }

  /** Bytes from the host, the first of which begins to arrive at a time. */
  arrive(bytes: Uint8Array, atUs: number, byteUs: number): Answered | undefined {
    if (atUs - this.heardUs >= this.way.quietMs * 1000) this.held = [];
    const through: number[] = [];
    let answered: Answered | undefined;
    let at = atUs;
    for (const byte of bytes) {
      at += byteUs;
      if (!this.held) {
        through.push(byte);
        continue;
      }
      this.held.push(byte);
      if (byte === CR || byte === LF) {
        const line = String.fromCharCode(...this.held).trim();
        const result = line === "" ? undefined : this.heed(line, at);
        if (result) answered = result;
        else through.push(...this.held);
        this.held = undefined;
      } else if (!this.mayBeWords(this.held)) {
        through.push(...this.held);
        this.held = undefined;
      }
    }
    this.heardUs = at;
    if (through.length > 0) this.target?.arrive(Uint8Array.from(through), atUs);
    return answered;
  }

  private mayBeWords(held: readonly number[]): boolean {
    const text = String.fromCharCode(...held);
    const { turns, closes } = this.way;
    return (
      text.length <= LONGEST &&
      [closes, ...(turns === undefined ? [] : [turns])]
        .map(beginning)
        .some((words) => words.startsWith(text) || text.startsWith(words))
    );
  }

  private heed(line: string, atUs: number): Answered | undefined {
    const { turns, closes, unfed, part } = this.way;
    if (line === closes)
      return unfed && this.host.fed(part)
        ? { atUs, closed: false, refused: "its parts have their supply, take that away first" }
        : this.leave(atUs);
    const no = turns === undefined ? undefined : matchPattern(compilePattern(turns), line)?.no;
    if (no === undefined) return undefined;
    const next = this.host.partAt(part, Number(no));
    if (!next) return { atUs, closed: false, refused: "there is no such part" };
    this.target?.letGo();
    this.no = Number(no);
    next.call(atUs);
    return { atUs, closed: false };
  }

  private leave(atUs: number): Answered {
    this.target?.letGo();
    return { atUs, closed: true };
  }

  get sentUs(): number {
    return this.target?.sentUs ?? this.heardUs;
  }

  nextUs(): number | undefined {
    return this.target?.nextUs();
  }

  /** What of the part's bytes has reached the host by a time. */
  output(untilUs: number): Uint8Array {
    return this.target?.output(untilUs) ?? new Uint8Array();
  }
}
