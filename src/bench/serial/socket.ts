import { ProblemError } from "@/core/problem";
import type { BoardLink, Presence } from "@/bench/link";
import { Line } from "@/bench/serial/line";
import type { Socket, SocketFace } from "@/bench/socket";
import type { OpenDfu } from "@/bench/usb/dfu-device";
import type { UsbLoaders } from "@/bench/usb/loaders";

/** Who answers on a line, by its own word. */
export interface Standing {
  readonly on: "console" | "loader";
  /** Chip id or loader id; another one is another board. */
  readonly who: string;
}

/** Asks a line who stands on it, whoever stood there before first; undefined when nobody answers. */
export type AskLine = (
  link: BoardLink,
  consoleBaud: number,
  before: Standing["on"] | undefined,
) => Promise<Standing | undefined>;

/** Between two tries to open a port that is not there, and between two questions to a line on which nobody answers. */
const RETRY_MS = 400;
/** A line that nobody used for so long is asked again: on a bare adapter nothing else tells that the board has changed. */
const IDLE_MS = 3_000;
/** Speeds of a console, the usual one first; each try at an answer takes the next. On a USB port it does not matter. */
const BAUDS = [115_200, 57_600, 38_400, 19_200, 9_600, 230_400, 460_800, 921_600];

const wrongSocket = (what: string) =>
  new ProblemError({
    code: "socket-serial",
    message: `This bay is a serial port: no ${what} can be reached in it`,
    hint: "Use a bay with a USB socket for that",
  });

/**
 * A bay whose board hangs on a serial port of this machine: its USB console, or its first port over an adapter. What
 * stands on the line is asked, because a line alone does not tell.
 */
export class SerialSocket implements Socket {
  readonly link: BoardLink;
  private readonly line: Line;
  /** The line as those use it who ask who stands on it. */
  private readonly raw: BoardLink;
  private standing: Standing | undefined;
  private appearance = 0;
  private openedAs = 0;
  /** Its loader on USB: the board leaves its port for that. */
  private dfu: OpenDfu | undefined;
  private tries = 0;
  /** Calls of the link that are under way: the line is theirs. */
  private users = 0;
  private asking: Promise<void> = Promise.resolve();
  private isAsking = false;
  private readonly stop = new AbortController();
  private readonly watching: Promise<void>;

  constructor(
    path: string,
    private readonly askLine: AskLine,
    private readonly usb?: UsbLoaders,
  ) {
    this.line = new Line(path);
    this.raw = this.rawLink();
    this.link = this.makeLink();
    this.watching = this.watch();
  }

  face(): SocketFace {
    const { path, state, why } = this.line;
    const shown = state !== "open" || this.standing ? state : this.tries === 0 ? "asked" : "silent";
    return {
      line: { path, state: shown, ...(why === "" ? {} : { why }) },
      cable: state === "open" || this.dfu !== undefined,
    };
  }

  /** Nothing of a real board is lost with the process. */
  checkpoint(): Promise<void> {
    return Promise.resolve();
  }

  async letGo(): Promise<void> {
    this.stop.abort();
    // first the line: whoever asks on it ends by that
    await this.line.close();
    await this.watching;
    await this.usb?.letGo(this);
  }

  private async watch(): Promise<void> {
    while (!this.stop.signal.aborted) {
      // a port that cannot be looked at now is looked at again
      await this.lookOnce().catch(() => undefined);
      await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
    }
  }

  private async lookOnce(): Promise<void> {
    await this.line.open();
    if (this.line.state !== "open") {
      this.standing = undefined;
      const dfu = await this.usb?.find(this);
      if (dfu && dfu !== this.dfu) this.appearance++;
      this.dfu = dfu;
      return;
    }
    if (this.dfu) await this.usb?.letGo(this);
    this.dfu = undefined;
    if (this.line.opened !== this.openedAs) {
      this.openedAs = this.line.opened;
      this.standing = undefined;
      this.tries = 0;
    }
    const idleMs = (this.line.nowUs() - this.line.usedUs) / 1000;
    if (this.users > 0 || (this.standing && idleMs < IDLE_MS)) return;
    await (this.asking = this.askAnew());
  }

  /** Whoever wants the line in the meantime waits: two voices at once would spoil both. */
  private async askAnew(): Promise<void> {
    this.isAsking = true;
    try {
      const baud = BAUDS[this.tries % BAUDS.length] ?? 115_200;
      const found = await this.askLine(this.raw, baud, this.standing?.on).catch(() => undefined);
      if (!found) this.tries++;
      if (found && (found.on !== this.standing?.on || found.who !== this.standing.who)) this.appearance++;
      this.standing = this.line.state === "open" ? found : undefined;
    } finally {
      this.isAsking = false;
      this.line.usedUs = this.line.nowUs();
    }
  }

  private presence(): Presence {
    const { standing, appearance, line } = this;
    if (this.dfu && !this.dfu.gone()) return { kind: "loader", port: "USB", appearance, ...this.dfu.seen };
    if (!standing || line.state !== "open") return { kind: "none" };
    const shown = { port: line.path, appearance };
    return standing.on === "console"
      ? { kind: "console", ...shown }
      : { kind: "loader", transport: "serial", ...shown };
  }

  private rawLink(): BoardLink {
    const { line } = this;
    const bytes = {
      send: (part: Uint8Array) => line.send(part),
      receive: (untilUs: number) => line.receive(untilUs),
      nowUs: line.nowUs,
    };
    const usb = () => {
      if (!this.dfu) throw wrongSocket("USB loader");
      return this.dfu.port;
    };
    const noDrive = () => Promise.reject(wrongSocket("drive"));
    return {
      presence: () => this.presence(),
      toldToLeave: () => {
        this.standing = undefined;
        this.tries = 0;
      },
      clock: {
        nowUs: line.nowUs,
        waitUntil: (us) =>
          new Promise((resolve) => setTimeout(resolve, Math.max(0, Math.ceil((us - line.nowUs()) / 1000)))),
      },
      console: bytes,
      serial: { ...bytes, setBaud: (baud) => line.setBaud(baud) },
      usb: {
        control: async (request) => usb().control(request),
        reset: async () => usb().reset(),
        wait: async (ms) => usb().wait(ms),
        nowUs: line.nowUs,
      },
      drive: { read: noDrive, write: noDrive, eject: noDrive },
    };
  }

  private makeLink(): BoardLink {
    const { raw } = this;
    const holding = async <T>(work: () => Promise<T>): Promise<T> => {
      if (this.isAsking) await this.asking;
      this.users++;
      try {
        return await work();
      } finally {
        this.users--;
      }
    };
    const bytes = {
      send: (part: Uint8Array) => holding(() => raw.console.send(part)),
      receive: (untilUs: number) => holding(() => raw.console.receive(untilUs)),
      nowUs: this.line.nowUs,
    };
    return { ...raw, console: bytes, serial: { ...bytes, setBaud: (baud) => holding(() => raw.serial.setBaud(baud)) } };
  }
}
