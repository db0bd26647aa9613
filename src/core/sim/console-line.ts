import { compilePattern, matchPattern, type LineWay } from "@/core/catalog";
import type { Configuration } from "@/core/config";
import { answerLine, greetingOf, refuseOverlong, workLine, type Act, type Senses } from "@/core/sim/application";
import type { Application } from "@/core/sim/running";
import { Passing } from "@/core/sim/parts/passing";
import {
  arrive,
  asWire,
  fromWire,
  nextEventUs,
  print,
  serialEngine,
  takeOutput,
  type LineWorker,
  type SerialEngine,
  type SerialSettings,
} from "@/core/sim/serial";

/** How long a line takes where the release does not say. */
const LINE_COST_US = 500;
/** Going back to the defaults takes as long as so many lines. */
const FORGET_LINES = 20;

const encoder = new TextEncoder();
const decoder = new TextDecoder();
const said = (wire: string) => decoder.decode(fromWire(wire));

/** What a console needs of the board that its firmware runs on. Times in µs of the board's clock. */
export interface ConsoleHost {
  identity(app: Application): Configuration["identity"];
  senses(): Senses;
  /** How long it takes to store the settings. */
  readonly keepUs: number;
  keep(app: Application): void;
  restart(nowUs: number, intoLoader: boolean): void;
  swallowsLoaderWord(): boolean;
  /** Opens a line to a part; or why it does not. `again`: it was open, and is as it was. */
  openLine(way: LineWay, no: number, nowUs: number, again?: boolean): Passing | string;
}

/** The serial port of a running firmware: its console, and the line that it opened to one of its parts. */
export class ConsoleLine {
  private readonly engine: SerialEngine;
  private pending: "loader" | "restart" | undefined;
  /** Wire characters that have reached the host and were not taken yet. */
  private inbox = "";
  /** A line to a part, from the moment on that the answer has left. */
  private passing: Passing | undefined;

  constructor(
    readonly app: Application,
    settings: SerialSettings,
    readyUs: number,
    private readonly host: ConsoleHost,
  ) {
    this.engine = serialEngine(settings, readyUs);
    print(this.engine, greetingOf(app), readyUs);
  }

  private readonly worker: LineWorker = {
    tooLong: () => asWire(encoder.encode(refuseOverlong(this.app))),
    costUs: (wire) => {
      const line = said(wire);
      const { lineCostUs = LINE_COST_US } = this.app.release.console;
      if (line === this.app.idiom.words.keep) return lineCostUs + this.host.keepUs;
      return line === this.app.idiom.words.forget ? FORGET_LINES * lineCostUs : lineCostUs;
    },
    work: (wire) => {
      const { app, host } = this;
      const line = said(wire);
      const opened = this.opens(line);
      if (opened !== undefined) return asWire(encoder.encode(opened));
      const { text, act } = workLine(app, line, host.identity(app), host.senses());
      this.heed(act);
      return asWire(encoder.encode(text));
    },
  };

  private heed(act: Act | undefined): void {
    if (act === "keep") this.host.keep(this.app);
    if (act === "restart") this.pending = act;
    if (act === "loader") this.pending = this.host.swallowsLoaderWord() ? undefined : act;
  }

  /** The answer to words that open a line; undefined: it is none. */
  private opens(line: string): string | undefined {
    for (const way of this.app.release.ways) {
      const no = matchPattern(compilePattern(way.opens), line)?.no;
      if (no === undefined) continue;
      const opened = this.host.openLine(way, Number(no), this.engine.cpuFreeUs);
      if (typeof opened === "string") return answerLine(this.app, line, { refused: opened, passes: false });
      this.passing = opened;
      return answerLine(this.app, line, { passes: true });
    }
    return undefined;
  }

  openAgain(part: string, no: number, nowUs: number): void {
    const way = this.app.release.ways.find((each) => each.part === part);
    const opened = way && this.host.openLine(way, no, nowUs, true);
    if (opened instanceof Passing) this.passing = opened;
  }

  /** The first line that it still has to work off, and when it was there. */
  get working(): { readonly line: string | undefined; readonly sinceUs: number } | undefined {
    const [first] = this.engine.queue;
    return first && { line: first.line, sinceUs: Math.max(this.engine.cpuFreeUs, first.arrivedUs) };
  }

  /** The part that its bytes go to now. */
  get leadsTo(): { readonly part: string; readonly no: number } | undefined {
    return this.passing;
  }

  get cpuFreeUs(): number {
    return this.engine.cpuFreeUs;
  }

  /** Bytes that the host begins to send at a time. */
  arrive(bytes: Uint8Array, atUs: number): void {
    const { passing, engine } = this;
    if (!passing || engine.outputs.length > 0) return arrive(engine, this.worker, asWire(bytes), atUs);
    const answered = passing.arrive(bytes, atUs, engine.settings.byteUs);
    if (!answered) return;
    if (answered.closed) this.passing = undefined;
    const text = answerLine(this.app, "", { refused: answered.refused, passes: !answered.closed });
    print(engine, asWire(encoder.encode(text)), answered.atUs);
  }

  /** When the host's part of sending is over: the cable carries no more than its speed. */
  get sentUs(): number {
    return this.passing?.sentUs ?? this.engine.rxFreeUs;
  }

  nextUs(): number | undefined {
    const times = [nextEventUs(this.engine, this.worker), this.passing?.nextUs()].filter((us) => us !== undefined);
    return times.length === 0 ? undefined : Math.min(...times);
  }

  get lostBytes(): number {
    return this.engine.lostBytes;
  }

  /** Works off what has come, as far as it would before the power goes. */
  workUntil(untilUs: number): void {
    this.inbox += takeOutput(this.engine, this.worker, untilUs);
  }

  /** Lets time pass. A restart that the console was told comes when its answer has left. */
  advance(untilUs: number): void {
    this.workUntil(untilUs);
    if (this.passing && this.engine.outputs.length === 0) this.inbox += asWire(this.passing.output(untilUs));
    if (this.pending && this.engine.outputs.length === 0) {
      const loader = this.pending === "loader";
      this.pending = undefined;
      this.host.restart(untilUs, loader);
    }
  }

  /** Takes the bytes that have reached the host. */
  take(): Uint8Array {
    const bytes = fromWire(this.inbox);
    this.inbox = "";
    return bytes;
  }
}
