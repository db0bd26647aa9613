import { SerialPort } from "serialport";
import { joinBytes } from "@/core/console";
import { ProblemError } from "@/core/problem";

/** Whether a path can be used now: nothing is there; another program has it; the system refuses it; it is open. */
export type LineState = "absent" | "held" | "refused" | "open";

/** So much that nobody takes is more than any board says by itself. */
const KEEP_BYTES = 1024 * 1024;
/** A write that the driver does not take for so long has no reader behind it. */
const SEND_LIMIT_MS = 10_000;
const FIRST_BAUD = 115_200;

const gone = (path: string) =>
  new ProblemError({
    code: "link-lost",
    message: "The board has gone from its port",
    detail: path,
    hint: "Plug it in again; the job goes on from where it stopped",
  });

/** Why a port did not open, by what the operating system says. */
function stateOf(error: Error): { state: LineState; why: string } {
  const why = error.message;
  if (/no such file|not found|no such device|cannot find/i.test(why)) return { state: "absent", why };
  if (/lock|busy|temporarily unavailable|resource/i.test(why)) return { state: "held", why };
  return { state: "refused", why };
}

/**
 * A serial port of the operating system as bytes both ways, opened again whenever its device is back. Times in µs of the
 * process's own clock.
 */
export class Line {
  state: LineState = "absent";
  /** What the system said when it did not open. */
  why = "";
  /** How often it was opened. */
  opened = 0;
  /** When bytes went or came last. */
  usedUs = 0;
  private port: SerialPort | undefined;
  private readonly sending = new WeakMap<SerialPort, () => void>();
  private readonly inbox: Uint8Array[] = [];
  /** Bytes in the inbox. */
  private held = 0;
  private isClosed = false;
  private waiting: (() => void) | undefined;
  private baud = FIRST_BAUD;

  constructor(readonly path: string) {}

  readonly nowUs = (): number => performance.now() * 1000;

  /** Opens it, if it is not open and can be. */
  async open(): Promise<void> {
    if (this.port || this.isClosed) return;
    const port = new SerialPort({ path: this.path, baudRate: this.baud, autoOpen: false, lock: true });
    const failed = await new Promise<Error | null>((resolve) => port.open((error) => resolve(error ?? null)));
    if (failed) {
      Object.assign(this, stateOf(failed));
      return;
    }
    // it may have been closed while the system opened it
    if (this.wasClosed()) {
      await new Promise<void>((resolve) => port.close(() => resolve()));
      return;
    }
    port.on("data", (bytes: Buffer) => this.take(new Uint8Array(bytes)));
    port.on("error", () => this.drop(port));
    port.on("close", () => this.drop(port));
    this.port = port;
    this.empty();
    this.opened++;
    this.state = "open";
    this.why = "";
  }

  private take(bytes: Uint8Array): void {
    this.usedUs = this.nowUs();
    // nobody has taken any of it for long: it answers nothing that will be asked
    if (this.held > KEEP_BYTES) this.empty();
    this.inbox.push(bytes);
    this.held += bytes.length;
    this.waiting?.();
  }

  private empty(): Uint8Array[] {
    this.held = 0;
    return this.inbox.splice(0);
  }

  private drop(port: SerialPort): void {
    if (this.port !== port) return;
    this.port = undefined;
    this.state = "absent";
    if (port.isOpen) port.close(() => undefined);
    this.sending.get(port)?.();
    this.waiting?.();
  }

  private readonly wasClosed = () => this.isClosed;

  /** For good: whoever waits for something on it is told that it is gone. */
  async close(): Promise<void> {
    this.isClosed = true;
    const { port } = this;
    if (!port) return;
    this.port = undefined;
    this.state = "absent";
    this.sending.get(port)?.();
    this.waiting?.();
    await new Promise<void>((resolve) => (port.isOpen ? port.close(() => resolve()) : resolve()));
  }

  /** Sends, and is through when the driver has taken it. */
  async send(bytes: Uint8Array): Promise<void> {
    const { port, path } = this;
    if (!port?.isOpen) throw gone(path);
    this.usedUs = this.nowUs();
    await this.answered(port, (tell) => port.write(bytes, tell));
  }

  /** Until the driver has answered; a port that closes in the middle answers nothing, and one without a reader may not either. */
  private async answered(port: SerialPort, ask: (tell: (error?: Error | null) => void) => void): Promise<void> {
    await new Promise<void>((resolve, reject) => {
      const fail = () => {
        clearTimeout(timer);
        reject(gone(this.path));
      };
      const timer = setTimeout(fail, SEND_LIMIT_MS);
      this.sending.set(port, fail);
      ask((error) => {
        clearTimeout(timer);
        if (error) fail();
        else resolve();
      });
    });
  }

  /** The next bytes to arrive, or undefined when none have come until the given time. */
  async receive(untilUs: number): Promise<Uint8Array | undefined> {
    for (;;) {
      const parts = this.empty();
      if (parts.length > 0) return joinBytes(parts);
      if (!this.port) throw gone(this.path);
      const leftMs = (untilUs - this.nowUs()) / 1000;
      if (leftMs <= 0) return undefined;
      await new Promise<void>((resolve) => {
        const timer = setTimeout(resolve, Math.ceil(leftMs));
        this.waiting = () => {
          clearTimeout(timer);
          resolve();
        };
      });
      this.waiting = undefined;
    }
  }

  async setBaud(baud: number): Promise<void> {
    if (baud === this.baud) return;
    const { port } = this;
    if (port) await this.answered(port, (tell) => port.update({ baudRate: baud }, tell));
    this.baud = baud;
  }
}
