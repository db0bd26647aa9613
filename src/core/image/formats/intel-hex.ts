import { fault, hexByte, hexText, joinRecords, MAX_IMAGE_BYTES, type Chunk, type Placed } from "@/core/image/chunk";
import { toBytes, type FileFacts, type ImageFormat, type ReadFile } from "@/core/image/formats/format";
import { holdsRecords, recordLines, remarksSaid, type RecordKind } from "@/core/image/formats/record-lines";
import { ok, refuse, type Result } from "@/core/problem";

const KIND: RecordKind = { code: "hex", record: /^:[0-9a-f]{10,}$/i, mark: /^:/ };

/** Bytes of one record between colon and line end, checksum proved; or what is wrong with it. */
function recordBytes(text: string, line: number): Result<Uint8Array> {
  if (!text.startsWith(":"))
    return refuse(
      fault("hex-mark", "A record does not begin with a colon", line, `It begins with “${text.slice(0, 12)}”`),
    );
  if (text.length < 11 || text.length % 2 === 0)
    return refuse(fault("hex-length", "A record is cut off", line, `${text.length} characters`));
  const bytes = new Uint8Array((text.length - 1) / 2);
  let sum = 0;
  for (let i = 0; i < bytes.length; i++) {
    const byte = hexByte(text, 1 + 2 * i);
    if (byte < 0)
      return refuse({
        ...fault("hex-digit", "A record holds something that is not a hex digit", line),
        where: { line, column: 2 + 2 * i },
      });
    bytes[i] = byte;
    sum = (sum + byte) & 0xff;
  }
  if (bytes.length !== (bytes[0] ?? 0) + 5)
    return refuse(
      fault(
        "hex-length",
        "A record's length does not fit its count",
        line,
        `It counts ${bytes[0] ?? 0} data bytes, ${bytes.length - 5} are there`,
      ),
    );
  if (sum !== 0)
    return refuse(
      fault(
        "hex-checksum",
        "A record's checksum is wrong",
        line,
        `The bytes add up to 0x${sum.toString(16).padStart(2, "0")}, not 0`,
        "Fetch the file again; it was damaged on the way",
      ),
    );
  return ok(bytes);
}

/**
 * Reads Intel HEX (Hexadecimal Object File Format Specification, revision A): record types 00 to 05. Refuses bad
 * checksums, overlapping or wrapping records, data after the end record, and a file without one, each with its line.
 */
function read(file: Uint8Array): Result<ReadFile> {
  const records = recordLines(file, KIND);
  if (!records.ok) return records;
  const { lines, last, remarks } = records.value;
  const found: Placed[] = [];
  let facts: FileFacts = {};
  let base = 0;
  let linear = false;
  let ended = 0;
  let total = 0;
  for (const { line, text } of lines) {
    if (ended > 0)
      return refuse(
        fault("hex-after-end", "There are records after the end record", line, `The end record is in line ${ended}`),
      );
    const record = recordBytes(text, line);
    if (!record.ok) return record;
    const bytes = record.value;
    const data = bytes.subarray(4, bytes.length - 1);
    const offset = ((bytes[1] ?? 0) << 8) | (bytes[2] ?? 0);
    const word = ((data[0] ?? 0) << 8) | (data[1] ?? 0);
    switch (bytes[3]) {
      case 0x00: {
        // a linear address goes on past 64 KB (specification, section 3); in a segment it would wrap round
        if (linear ? base + offset + data.length > 2 ** 32 : offset + data.length > 0x10000)
          return refuse(
            fault(
              "hex-wrap",
              "A record runs over the end of its block",
              line,
              linear
                ? "Its last bytes would lie beyond 4 GB"
                : "In a segment its last bytes would wrap round to the start; writers mostly mean them to go on",
              "Have the file written again with records that end at the block",
            ),
          );
        total += data.length;
        if (total > MAX_IMAGE_BYTES)
          return refuse(fault("hex-size", "The image is too large", line, `More than ${MAX_IMAGE_BYTES} bytes`));
        if (data.length > 0) found.push({ start: base + offset, bytes: data, line });
        break;
      }
      case 0x01:
        ended = line;
        break;
      case 0x02:
        if (data.length !== 2) return refuse(fault("hex-length", "A segment record must hold two bytes", line));
        base = word << 4;
        linear = false;
        break;
      case 0x04:
        if (data.length !== 2) return refuse(fault("hex-length", "An address record must hold two bytes", line));
        base = word * 0x10000;
        linear = true;
        break;
      case 0x03:
      case 0x05: {
        if (data.length !== 4) return refuse(fault("hex-length", "A start record must hold four bytes", line));
        const low = ((data[2] ?? 0) << 8) | (data[3] ?? 0);
        // a segment and an offset in it, or one linear address (sections 4 and 5)
        facts = { entry: bytes[3] === 0x03 ? word * 16 + low : word * 0x10000 + low };
        break;
      }
      default:
        return refuse(
          fault(
            "hex-type",
            "A record has an unknown type",
            line,
            `Type 0x${(bytes[3] ?? 0).toString(16).padStart(2, "0")}`,
          ),
        );
    }
  }
  if (ended === 0)
    return refuse(
      fault("hex-no-end", "The end record is missing: the file was cut off", last, undefined, "Fetch the file again"),
    );
  const chunks = joinRecords(found, "hex");
  return chunks.ok ? ok({ chunks: chunks.value, facts, notes: remarksSaid(remarks) }) : chunks;
}

/** The runs of bytes of a text in Intel HEX. */
export function readHex(text: string): Result<Chunk[]> {
  const file = read(toBytes(text));
  return file.ok ? ok(file.value.chunks) : file;
}

function record(offset: number, type: number, data: Uint8Array): string {
  const bytes = [data.length, (offset >> 8) & 0xff, offset & 0xff, type, ...data];
  const sum = (0x100 - (bytes.reduce((a, b) => a + b, 0) & 0xff)) & 0xff;
  return `:${hexText([...bytes, sum])}`;
}

const word32 = (value: number): Uint8Array =>
  Uint8Array.of(Math.floor(value / 0x1000000), (value >> 16) & 0xff, (value >> 8) & 0xff, value & 0xff);

/** Writes chunks as Intel HEX with linear addresses, 32 bytes a record, none over a 64 KB block's end. */
export function writeHex(chunks: readonly Chunk[], entry?: number): string {
  const lines: string[] = [];
  let block = -1;
  for (const chunk of chunks) {
    for (let at = 0; at < chunk.bytes.length;) {
      const address = chunk.start + at;
      if (Math.floor(address / 0x10000) !== block) {
        block = Math.floor(address / 0x10000);
        lines.push(record(0, 0x04, Uint8Array.of(block >> 8, block & 0xff)));
      }
      const size = Math.min(32, chunk.bytes.length - at, 0x10000 - (address % 0x10000));
      lines.push(record(address % 0x10000, 0x00, chunk.bytes.subarray(at, at + size)));
      at += size;
    }
  }
  if (entry !== undefined) lines.push(record(0, 0x05, word32(entry)));
  lines.push(record(0, 0x01, new Uint8Array()));
  return `${lines.join("\n")}\n`;
}

export const INTEL_HEX: ImageFormat = {
  id: "intel-hex",
  title: "Intel HEX",
  extension: "hex",
  addressed: true,
  keeps: ["entry"],
  recognises: (file) => file[0] === 0x3a || holdsRecords(file, KIND),
  read,
  write: (chunks, { entry }) => ok(toBytes(writeHex(chunks, entry))),
};
