import { fault, hexByte, hexText, joinRecords, MAX_IMAGE_BYTES, type Chunk, type Placed } from "@/core/image/chunk";
import {
  toBytes,
  type FileFacts,
  type FormatOptions,
  type ImageFormat,
  type ReadFile,
} from "@/core/image/formats/format";
import { holdsRecords, recordLines, remarksSaid, type RecordKind } from "@/core/image/formats/record-lines";
import { ok, refuse, type Result } from "@/core/problem";

const KIND: RecordKind = { code: "srec", record: /^S[0-9][0-9a-f]{8,}$/i, mark: /^S[0-9]/i };
/** Bytes of the address, by the type of the record: data (1 to 3), counts (5, 6), ends (7 to 9), header (0). */
const ADDRESS_BYTES: Readonly<Record<string, number>> = { 0: 2, 1: 2, 2: 3, 3: 4, 5: 2, 6: 3, 7: 4, 8: 3, 9: 2 };

interface SRecord {
  readonly type: string;
  readonly address: number;
  readonly data: Uint8Array;
}

/** One record: type, count, address, data, and the ones' complement of their sum. */
function readRecord(text: string, line: number): Result<SRecord> {
  const type = text.charAt(1);
  const addressBytes = ADDRESS_BYTES[type];
  if (!/^S/i.test(text) || addressBytes === undefined)
    return refuse(fault("srec-type", "A record has an unknown type", line, `It begins with “${text.slice(0, 12)}”`));
  if (text.length < 6 + 2 * addressBytes || text.length % 2 === 1)
    return refuse(fault("srec-length", "A record is cut off", line, `${text.length} characters`));
  const bytes = new Uint8Array((text.length - 2) / 2);
  let sum = 0;
  for (let i = 0; i < bytes.length; i++) {
    const byte = hexByte(text, 2 + 2 * i);
    if (byte < 0)
      return refuse({
        ...fault("srec-digit", "A record holds something that is not a hex digit", line),
        where: { line, column: 3 + 2 * i },
      });
    bytes[i] = byte;
    sum = (sum + byte) & 0xff;
  }
  if (bytes.length !== (bytes[0] ?? 0) + 1)
    return refuse(
      fault(
        "srec-length",
        "A record's length does not fit its count",
        line,
        `It counts ${bytes[0] ?? 0} bytes, ${bytes.length - 1} are there`,
      ),
    );
  if (sum !== 0xff)
    return refuse(
      fault(
        "srec-checksum",
        "A record's checksum is wrong",
        line,
        `The bytes add up to 0x${sum.toString(16).padStart(2, "0")}, not 0xff`,
        "Fetch the file again; it was damaged on the way",
      ),
    );
  let address = 0;
  for (let i = 1; i <= addressBytes; i++) address = address * 256 + (bytes[i] ?? 0);
  return ok({ type, address, data: bytes.subarray(1 + addressBytes, bytes.length - 1) });
}

/** A header in printable characters; others are no words. */
const headingOf = (data: Uint8Array): string | undefined => {
  const text = new TextDecoder("latin1").decode(data).replace(/\0+$/, "").trim();
  return /^[\x20-\x7e]+$/.test(text) ? text : undefined;
};

function read(file: Uint8Array): Result<ReadFile> {
  const all = recordLines(file, KIND);
  if (!all.ok) return all;
  const { lines, last, remarks } = all.value;
  const found: Placed[] = [];
  let facts: FileFacts = {};
  let [records, total, ended, width] = [0, 0, 0, 0];
  let counted = false;
  for (const { line, text } of lines) {
    if (ended > 0)
      return refuse(
        fault("srec-after-end", "There are records after the end record", line, `The end record is in line ${ended}`),
      );
    const record = readRecord(text, line);
    if (!record.ok) return record;
    const { type, address, data } = record.value;
    if (type === "1" || type === "2" || type === "3") {
      const space = 256 ** (ADDRESS_BYTES[type] ?? 0);
      if (address + data.length > space)
        return refuse(
          fault(
            "srec-wrap",
            "A record runs over the end of its address space",
            line,
            `0x${address.toString(16)} and ${data.length} bytes`,
          ),
        );
      // the digit that says the width is outside of the checksum; tools that mix widths go from narrow to wide
      if (Number(type) < width)
        return refuse(
          fault("srec-width", "A record's address is narrower than the one before", line, `S${type} after S${width}`),
        );
      width = Number(type);
      counted = false;
      records++;
      total += data.length;
      if (total > MAX_IMAGE_BYTES)
        return refuse(fault("srec-size", "The image is too large", line, `More than ${MAX_IMAGE_BYTES} bytes`));
      if (data.length > 0) found.push({ start: address, bytes: data, line });
    } else if (type === "5" || type === "6") {
      if (address !== records)
        return refuse(
          fault(
            "srec-count",
            "Records are missing",
            line,
            `The file counts ${address}, ${records} are here`,
            "Fetch the file again",
          ),
        );
      counted = true;
    } else if (type === "0") {
      const heading = headingOf(data);
      if (heading !== undefined) facts = { ...facts, heading };
    } else {
      ended = line;
      // 0 is what an end record says where nothing begins
      if (address !== 0) facts = { ...facts, entry: address };
    }
  }
  // some tools write no end record; a count after the last record says as well that all are here
  if (ended === 0 && !counted)
    return refuse(
      fault("srec-no-end", "The end record is missing: the file was cut off", last, undefined, "Fetch the file again"),
    );
  const chunks = joinRecords(found, "srec");
  return chunks.ok ? ok({ chunks: chunks.value, facts, notes: remarksSaid(remarks) }) : chunks;
}

function record(type: number, address: number, data: Uint8Array): string {
  const size = ADDRESS_BYTES[type] ?? 2;
  const bytes = [size + data.length + 1];
  for (let i = size - 1; i >= 0; i--) bytes.push(Math.floor(address / 256 ** i) % 256);
  bytes.push(...data);
  const sum = bytes.reduce((all, byte) => all + byte, 0) & 0xff;
  return `S${type}${hexText([...bytes, 0xff - sum])}`;
}

const DATA_BYTES = 32;

/** Writes 32-bit addresses (S3), a count of the records where it can be said, and the end record that goes with them. */
function write(chunks: readonly Chunk[], { heading = "", entry = 0 }: FormatOptions): Result<Uint8Array> {
  const lines = [record(0, 0, toBytes(heading).subarray(0, DATA_BYTES))];
  for (const chunk of chunks)
    for (let at = 0; at < chunk.bytes.length; at += DATA_BYTES)
      lines.push(record(3, chunk.start + at, chunk.bytes.subarray(at, at + DATA_BYTES)));
  const count = lines.length - 1;
  if (count < 0x1000000) lines.push(record(count < 0x10000 ? 5 : 6, count, new Uint8Array()));
  lines.push(record(7, entry, new Uint8Array()));
  return ok(toBytes(`${lines.join("\n")}\n`));
}

/** Motorola S-record: S0 to S9 with addresses of 16, 24 and 32 bits. */
export const S_RECORD: ImageFormat = {
  id: "s-record",
  title: "Motorola S-record",
  extension: "srec",
  addressed: true,
  keeps: ["entry", "heading"],
  recognises: (file) =>
    (file[0] === 0x53 && (file[1] ?? 0) >= 0x30 && (file[1] ?? 0) <= 0x39) || holdsRecords(file, KIND),
  read,
  write,
};
