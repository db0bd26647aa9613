import { compilePattern, fillPattern, type SerialLoader } from "@/core/catalog";
import { eraseRange, program, readRange } from "@/core/sim/flash-memory";
import type { LineDevice, LoaderHost } from "@/core/sim/loaders/device";

interface Output {
  readonly atUs: number;
  readonly bytes: Uint8Array;
}

type Mode =
  | { readonly kind: "menu" }
  | { readonly kind: "taking"; at: number; end: number; no: number; wishes: number; cancels: number }
  | {
      readonly kind: "giving";
      at: number;
      readonly end: number;
      no: number;
      crc: boolean;
      tries: number;
      ending: boolean;
      cancels: number;
    };

const [SOH, STX, EOT, ACK, NAK, CAN, WISH] = [0x01, 0x02, 0x04, 0x06, 0x15, 0x18, 0x43];
const LINE_LIMIT = 80;
const PATIENCE_US = 4_000_000;
const MOST_WISHES = 12;

/** CRC-16 bit by bit, as the device's few bytes of ROM would: polynomial 0x1021, start 0. */
function crcOf(data: Uint8Array): number {
  let crc = 0;
  for (const byte of data) {
    crc ^= byte << 8;
    for (let bit = 0; bit < 8; bit++) crc = ((crc & 0x8000) !== 0 ? (crc << 1) ^ 0x1021 : crc << 1) & 0xffff;
  }
  return crc;
}

/** CRC-32 the same way: polynomial 0xEDB88320 with the low bit first, start and end inverted. */
function crc32Of(data: Uint8Array): number {
  let crc = 0xffff_ffff;
  for (const byte of data) {
    crc ^= byte;
    for (let bit = 0; bit < 8; bit++) crc = (crc & 1) === 0 ? crc >>> 1 : (crc >>> 1) ^ 0xedb8_8320;
  }
  return ~crc >>> 0;
}
const CHECK_US_PER_BYTE = 0.4;

/**
 * A loader in ROM on a bare serial line: a menu of letters, XMODEM-1K for the data. It knows nothing of whoever talks to
 * it; times in µs. Bytes sent at another speed than its own are noise to it.
 */
export class SerialLoaderDevice implements LineDevice {
  readonly transport = "serial" as const;
  private mode: Mode = { kind: "menu" };
  private line = "";
  private packet: number[] = [];
  private rxFreeUs = 0;
  private txFreeUs = 0;
  private outputs: Output[] = [];
  private deadlineUs: number | undefined;
  private blocks = 0;
  /** Bytes that the other side's speed turns into noise. */
  hostBaud: number;

  constructor(
    private readonly loader: SerialLoader,
    private readonly host: LoaderHost,
  ) {
    this.hostBaud = loader.baud;
  }

  shown() {
    return { transport: this.transport };
  }

  private get byteUs() {
    return 10_000_000 / this.loader.baud;
  }

  /** When the host's last byte has arrived. */
  get sentUs() {
    return this.rxFreeUs;
  }

  private say(bytes: readonly number[], atUs: number): void {
    const doneUs = Math.max(this.txFreeUs, atUs) + bytes.length * this.byteUs;
    this.txFreeUs = doneUs;
    this.outputs.push({ atUs: doneUs, bytes: Uint8Array.from(bytes) });
  }

  private sayLine(text: string, atUs: number): void {
    this.say([...new TextEncoder().encode(`${text}\n`)], atUs);
  }

  /** Bytes that begin to arrive at a time. */
  arrive(bytes: Uint8Array, atUs: number): void {
    this.pass(atUs);
    let now = Math.max(this.rxFreeUs, atUs);
    const heard = this.hostBaud === this.loader.baud;
    for (const byte of bytes) {
      now += this.byteUs;
      if (heard) now = Math.max(now, this.take(byte, now));
    }
    this.rxFreeUs = now;
  }

  nextUs(): number | undefined {
    const times = [this.outputs[0]?.atUs, this.deadlineUs].filter((us) => us !== undefined);
    return times.length === 0 ? undefined : Math.min(...times);
  }

  /** What has reached the host by a time. */
  output(untilUs: number): Uint8Array {
    this.pass(untilUs);
    const ready = this.outputs.filter(({ atUs }) => atUs <= untilUs);
    this.outputs = this.outputs.filter(({ atUs }) => atUs > untilUs);
    const heard = this.hostBaud === this.loader.baud;
    const all = ready.flatMap(({ bytes }) => [...bytes]);
    return Uint8Array.from(heard ? all : all.map((byte) => (byte * 7 + 0x80) & 0xff));
  }

  /** Lets time pass: silence is answered as the protocol says, and not for ever. */
  private pass(untilUs: number): void {
    while (this.deadlineUs !== undefined && this.deadlineUs <= untilUs) {
      const now = this.deadlineUs;
      this.deadlineUs = undefined;
      const { mode } = this;
      if (mode.kind === "taking") {
        if (++mode.wishes > MOST_WISHES) this.backToMenu();
        else {
          this.packet = [];
          this.say([mode.no === 1 && mode.wishes < MOST_WISHES ? WISH : NAK], now);
          this.deadlineUs = now + PATIENCE_US;
        }
      } else if (mode.kind === "giving") {
        if (++mode.tries > MOST_WISHES) this.backToMenu();
        else this.deadlineUs = now + PATIENCE_US;
      }
    }
  }

  private backToMenu(): void {
    this.mode = { kind: "menu" };
    this.line = "";
    this.packet = [];
    this.deadlineUs = undefined;
  }

  /** One byte; gives when the device is ready for the next. */
  private take(byte: number, nowUs: number): number {
    switch (this.mode.kind) {
      case "menu":
        return this.takeLetter(byte, nowUs);
      case "taking":
        return this.takeBlockByte(this.mode, byte, nowUs);
      case "giving":
        return this.takeAnswer(this.mode, byte, nowUs);
    }
  }

  private takeLetter(byte: number, nowUs: number): number {
    if (byte !== 0x0d) {
      this.line = (this.line + String.fromCharCode(byte)).slice(-LINE_LIMIT);
      return nowUs;
    }
    const [letter = "", sector, length, ...rest] = this.line.trim().split(" ");
    this.line = "";
    return rest.length > 0 ? this.refuse("too many words", nowUs) : this.command(letter, sector, length, nowUs);
  }

  private refuse(why: string, nowUs: number): number {
    const { loader } = this;
    this.sayLine(fillPattern(compilePattern(loader.refused), { why }), nowUs);
    return nowUs;
  }

  private command(letter: string, sector: string | undefined, length: string | undefined, nowUs: number): number {
    const { loader } = this;
    const { processor, flash, loaderId, start } = this.host;
    const { letters } = loader;
    if (letter === letters.identity) {
      const fields = { processor: processor.id, id: loaderId, sectors: flash.sectors.length };
      this.sayLine(fillPattern(compilePattern(loader.identity), fields), nowUs);
      return nowUs;
    }
    if (letter === letters.start) {
      this.sayLine(loader.done, nowUs);
      start(nowUs);
      return nowUs;
    }
    const known = [letters.read, letters.write, letters.check];
    if (!known.includes(letter)) return this.refuse("no such letter", nowUs);
    const from = flash.sectors[Number(sector ?? NaN)];
    const lengthBytes = Number(length ?? NaN);
    const end = (from?.start ?? 0) + lengthBytes;
    if (!from || !Number.isInteger(lengthBytes) || lengthBytes <= 0 || end > flash.start + flash.bytes.length)
      return this.refuse("no such place", nowUs);
    if (this.host.protected()) {
      if (letter !== letters.write) return this.refuse("read protected", nowUs);
      this.refuse("protection lifted, all is erased", nowUs);
      this.host.lift(nowUs);
      return nowUs;
    }
    if (letter === letters.check) {
      const crc = crc32Of(readRange(flash, from.start, lengthBytes))
        .toString(16)
        .padStart(8, "0");
      const doneUs = nowUs + lengthBytes * CHECK_US_PER_BYTE;
      this.sayLine(fillPattern(compilePattern(loader.checked ?? ""), { crc }), doneUs);
      return doneUs;
    }
    if (letter === letters.read) {
      this.mode = { kind: "giving", at: from.start, end, no: 0, crc: true, tries: 0, ending: false, cancels: 0 };
      this.sayLine(loader.done, nowUs);
      this.deadlineUs = nowUs + PATIENCE_US;
      return nowUs;
    }
    const erased = eraseRange(flash, from.start, lengthBytes);
    const readyUs = nowUs + erased.us;
    if (erased.cut) {
      this.host.failPower(readyUs);
      return readyUs;
    }
    this.mode = { kind: "taking", at: from.start, end, no: 1, wishes: 0, cancels: 0 };
    this.sayLine(loader.done, readyUs);
    this.say([WISH], readyUs);
    this.deadlineUs = readyUs + PATIENCE_US;
    return readyUs;
  }

  /** One CAN may be noise; two in a row end a transfer, and are both of it. */
  private cancelled(mode: { cancels: number }, byte: number): boolean {
    mode.cancels = byte === CAN ? mode.cancels + 1 : 0;
    if (mode.cancels > 1) this.backToMenu();
    return mode.cancels > 1;
  }

  private takeBlockByte(mode: Extract<Mode, { kind: "taking" }>, byte: number, nowUs: number): number {
    const { packet } = this;
    this.deadlineUs = nowUs + PATIENCE_US;
    if (packet.length === 0) {
      if (this.cancelled(mode, byte)) return nowUs;
      if (byte === EOT) {
        // an end before all that was announced has come leaves half an image: that is no success
        this.say(mode.at < mode.end ? [CAN, CAN] : [ACK], nowUs);
        this.backToMenu();
        return nowUs;
      }
      if (byte !== SOH && byte !== STX) return nowUs;
    }
    packet.push(byte);
    const size = packet[0] === STX ? 1024 : 128;
    if (packet.length < size + 5) return nowUs;
    const whole = Uint8Array.from(packet);
    this.packet = [];
    this.blocks++;
    const every = this.host.stallEvery();
    if (every > 0 && this.blocks % every === 0) whole[10] = (whole[10] ?? 0) ^ 0x55;
    const data = whole.subarray(3, 3 + size);
    const crc = ((whole[3 + size] ?? 0) << 8) | (whole[4 + size] ?? 0);
    const no = whole[1] ?? 0;
    if (no + (whole[2] ?? 0) !== 255 || crc !== crcOf(data)) {
      this.say([NAK], nowUs);
      return nowUs;
    }
    if (no === ((mode.no - 1) & 0xff) && mode.no > 1) {
      this.say([ACK], nowUs);
      return nowUs;
    }
    // out of order, or beyond what was announced
    if (no !== (mode.no & 0xff) || mode.at >= mode.end) {
      this.say([CAN, CAN], nowUs);
      this.backToMenu();
      return nowUs;
    }
    return this.keepBlock(mode, data, nowUs);
  }

  private keepBlock(mode: Extract<Mode, { kind: "taking" }>, data: Uint8Array, nowUs: number): number {
    const { flash, processor, failPower } = this.host;
    const part = data.subarray(0, Math.max(0, mode.end - mode.at));
    const written = program(flash, mode.at, part);
    const readyUs = nowUs + part.length * processor.programUsPerByte;
    if (written.cut) {
      failPower(readyUs);
      return readyUs;
    }
    mode.at += part.length;
    mode.no++;
    mode.wishes = 0;
    this.say([ACK], readyUs);
    this.deadlineUs = readyUs + PATIENCE_US;
    return readyUs;
  }

  private takeAnswer(mode: Extract<Mode, { kind: "giving" }>, byte: number, nowUs: number): number {
    this.deadlineUs = nowUs + PATIENCE_US;
    if (this.cancelled(mode, byte)) return nowUs;
    if (mode.no === 0 && (byte === WISH || byte === NAK)) {
      mode.crc = byte === WISH;
      mode.no = 1;
      this.giveBlock(mode, nowUs);
    } else if (mode.ending) {
      if (byte === ACK) this.backToMenu();
      else if (byte === NAK) this.say([EOT], nowUs);
    } else if (byte === ACK && mode.no > 0) {
      mode.at += this.blockSize(mode);
      mode.no++;
      mode.tries = 0;
      this.giveBlock(mode, nowUs);
    } else if (byte === NAK) {
      if (++mode.tries > MOST_WISHES) this.backToMenu();
      else this.giveBlock(mode, nowUs);
    }
    return nowUs;
  }

  private blockSize = ({ crc, at, end }: Extract<Mode, { kind: "giving" }>) => (crc && end - at > 128 ? 1024 : 128);

  private giveBlock(mode: Extract<Mode, { kind: "giving" }>, nowUs: number): void {
    if (mode.at >= mode.end) {
      mode.ending = true;
      this.say([EOT], nowUs);
      return;
    }
    const size = this.blockSize(mode);
    const data = new Uint8Array(size).fill(0x1a);
    data.set(readRange(this.host.flash, mode.at, Math.min(size, mode.end - mode.at)));
    const crc = crcOf(data);
    const check = mode.crc ? [crc >> 8, crc & 0xff] : [data.reduce((sum, b) => (sum + b) & 0xff, 0)];
    this.blocks++;
    const every = this.host.stallEvery();
    if (every > 0 && this.blocks % every === 0) data[7] = (data[7] ?? 0) ^ 0x55;
    this.say([size === 1024 ? STX : SOH, mode.no & 0xff, ~mode.no & 0xff, ...data, ...check], nowUs);
  }
}
