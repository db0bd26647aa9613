import { fault } from "@/core/image/chunk";
import { ok, refuse, type Result } from "@/core/problem";

const MAX_LINES = 400_000;
/** So much of a file is looked at to see whether it is text with records in it. */
const HEAD_BYTES = 4096;

/** A format of one record a line, and what such a line looks like. */
export interface RecordKind {
  readonly code: string;
  readonly record: RegExp;
  /** How a record begins, even a damaged one. */
  readonly mark: RegExp;
}

export interface RecordLine {
  readonly line: number;
  readonly text: string;
}

/** The text of a file: UTF-16 where its byte order mark says so; else one character a byte, without a mark of UTF-8. */
function textOf(file: Uint8Array): string {
  const [first, second] = file;
  if (first === 0xff && second === 0xfe) return new TextDecoder("utf-16le").decode(file);
  if (first === 0xfe && second === 0xff) return new TextDecoder("utf-16be").decode(file);
  const text = new TextDecoder("latin1").decode(file);
  return text.startsWith("\u00ef\u00bb\u00bf") ? text.slice(3) : text;
}

const split = (text: string): string[] => text.split(/\r\n|\n|\r/);

/** A remark of whoever wrote the file. A record whose mark was damaged is none: it is all digits. */
const isRemark = (text: string): boolean => /^(?:#|;|\/\/)/.test(text) && !/^.{1,3}[0-9a-f]{6,}$/i.test(text);

/** Whether there is text with a record in it, wherever: what is nearly of a format must never pass for raw bytes. */
export function holdsRecords(file: Uint8Array, { record }: RecordKind): boolean {
  const text = textOf(file.subarray(0, HEAD_BYTES));
  return !text.includes("\0") && split(text).some((line) => record.test(line.trim()));
}

/** The lines that must be records: all but blank ones, and remarks before the first. */
export function recordLines(
  file: Uint8Array,
  { code, record, mark }: RecordKind,
): Result<{ lines: RecordLine[]; last: number; remarks: number }> {
  const all = split(textOf(file));
  if (all.length > MAX_LINES)
    return refuse({
      code: `${code}-size`,
      message: "The file has too many lines",
      detail: `${all.length}; the limit is ${MAX_LINES}`,
    });
  const lines: RecordLine[] = [];
  let remarks = 0;
  for (const [i, raw] of all.entries()) {
    const text = raw.trim();
    if (text === "") continue;
    if (lines.length === 0 && isRemark(text)) remarks++;
    else lines.push({ line: i + 1, text });
  }
  const first = lines[0];
  if (first && !mark.test(first.text) && lines.some(({ text }) => record.test(text)))
    return refuse(
      fault(
        `${code}-before`,
        "There is text before the records that is no remark",
        first.line,
        `It begins with “${first.text.slice(0, 24)}”`,
        "Take the text out, or begin its lines with #",
      ),
    );
  return ok({ lines, last: all.length, remarks });
}

export const remarksSaid = (remarks: number): string[] =>
  remarks === 0 ? [] : [`${remarks} ${remarks === 1 ? "line" : "lines"} of remarks before the first record`];
