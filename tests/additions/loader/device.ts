import type { ProcessorLoader } from "@/core/catalog";
import { eraseRange, program, readRange } from "@/core/sim/flash-memory";
import type { LineDevice, LoaderHost } from "@/core/sim/loaders/device";

type RecordsLoader = Extract<ProcessorLoader, { kind: "records" }>;

/** The device side: lines in, a line out for each; it counts the sums again. Times in µs. */
export class RecordsDevice implements LineDevice {
  readonly transport = "serial" as const;
  hostBaud: number;
  sentUs = 0;
  private line = "";
  private said: { atUs: number; bytes: Uint8Array }[] = [];

  constructor(
    private readonly loader: RecordsLoader,
    private readonly host: LoaderHost,
  ) {
    this.hostBaud = loader.baud;
  }

  shown() {
    return { transport: this.transport };
  }

  private byteUs = () => 10_000_000 / this.loader.baud;

  arrive(bytes: Uint8Array, atUs: number): void {
    this.sentUs = Math.max(this.sentUs, atUs) + bytes.length * this.byteUs();
    if (this.hostBaud !== this.loader.baud) return;
    for (const byte of bytes) {
      if (byte !== 0x0d) this.line += String.fromCharCode(byte);
      else {
        const { text, doneUs } = this.obey(this.line, this.sentUs);
        this.line = "";
        if (text !== undefined)
          this.said.push({
            atUs: doneUs + (text.length + 1) * this.byteUs(),
            bytes: new TextEncoder().encode(`${text}\n`),
          });
        this.sentUs = doneUs;
      }
    }
  }

  private obey(line: string, nowUs: number): { text?: string; doneUs: number } {
    const { flash, processor, loaderId, failPower, start } = this.host;
    const at = parseInt(line.slice(1, 9), 16);
    if (line === "N") return { text: `${this.loader.greets} ${processor.id} as ${loaderId}`, doneUs: nowUs };
    if (line.startsWith("D")) {
      const data = readRange(flash, at, parseInt(line.slice(9), 16));
      const text = `S3000000000000${Buffer.from(data).toString("hex").toUpperCase()}`;
      return { text: `${text.slice(0, 4)}${line.slice(1, 9)}${text.slice(14)}00`, doneUs: nowUs };
    }
    if (line.startsWith("E")) {
      const sector = flash.sectors[parseInt(line.slice(1), 16)];
      if (!sector) return { text: "no", doneUs: nowUs };
      const erased = eraseRange(flash, sector.start, sector.sizeBytes);
      if (erased.cut) failPower(nowUs + erased.us);
      return { text: "ok", doneUs: nowUs + erased.us };
    }
    if (line.startsWith("S7")) {
      start(nowUs);
      return { doneUs: nowUs };
    }
    const bytes = Buffer.from(line.slice(2), "hex");
    const sum = bytes.reduce((all, byte) => all + byte, 0) & 0xff;
    if (!line.startsWith("S3") || bytes[0] !== bytes.length - 1 || sum !== 0xff) return { text: "no", doneUs: nowUs };
    const data = bytes.subarray(5, -1);
    const doneUs = nowUs + data.length * processor.programUsPerByte;
    if (program(flash, bytes.readUInt32BE(1), data).cut) failPower(doneUs);
    return { text: "ok", doneUs };
  }

  nextUs(): number | undefined {
    return this.said[0]?.atUs;
  }

  output(untilUs: number): Uint8Array {
    const ready = this.said.filter(({ atUs }) => atUs <= untilUs);
    this.said = this.said.filter(({ atUs }) => atUs > untilUs);
    return Uint8Array.from(ready.flatMap(({ bytes }) => [...bytes]));
  }
}
