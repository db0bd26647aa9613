import type { Processor, ProcessorLoader } from "@/core/catalog";
import { UNREADABLE, type LoaderKind, type Space } from "@/core/loader/loader";
import { equalBytes, sectorSpaces } from "@/core/loader/spaces";
import type { SerialPort } from "@/core/loader/transports";
import { ok, refuse, type Result } from "@/core/problem";

type RecordsLoader = Extract<ProcessorLoader, { kind: "records" }>;

const BLOCK = 128;
const ANSWER_MS = 30_000;
const hex = (value: number, digits: number) => value.toString(16).toUpperCase().padStart(digits, "0");

/** An S3 record (Motorola S-record: type, count, address of four bytes, data, complement of the sum). */
export function recordOf(address: number, data: Uint8Array): string {
  const body = `${hex(data.length + 5, 2)}${hex(address, 8)}${[...data].map((byte) => hex(byte, 2)).join("")}`;
  const sum = (body.match(/../g) ?? []).reduce((all, pair) => all + parseInt(pair, 16), 0);
  return `S3${body}${hex(~sum & 0xff, 2)}`;
}

async function asked(port: SerialPort, line: string, limitMs = ANSWER_MS): Promise<string | undefined> {
  await port.send(new TextEncoder().encode(`${line}\r`));
  const end = port.nowUs() + limitMs * 1000;
  let text = "";
  while (!text.endsWith("\n")) {
    const bytes = await port.receive(end);
    if (!bytes) return undefined;
    text += new TextDecoder("latin1").decode(bytes);
  }
  return text.trim();
}

const silent = () => refuse({ code: UNREADABLE, message: "The loader gives nothing out" });

async function readSpace(port: SerialPort, { start }: Space, lengthBytes: number, onBlock: (done: number) => void) {
  const found = new Uint8Array(lengthBytes);
  for (let at = 0; at < lengthBytes; at += BLOCK) {
    const size = Math.min(BLOCK, lengthBytes - at);
    const answer = await asked(port, `D${hex(start + at, 8)}${hex(size, 4)}`);
    if (answer?.startsWith("S3") !== true) return silent();
    const data = answer.slice(12, 12 + 2 * size).match(/../g) ?? [];
    found.set(
      Uint8Array.from(data, (pair) => parseInt(pair, 16)),
      at,
    );
    onBlock(at + size);
  }
  return ok(found);
}

async function writeSpace(
  port: SerialPort,
  { no, start }: Space,
  bytes: Uint8Array,
  onBlock: (done: number) => void,
): Promise<Result<undefined>> {
  const lines = [`E${hex(no, 4)}`];
  for (let at = 0; at < bytes.length; at += BLOCK) lines.push(recordOf(start + at, bytes.subarray(at, at + BLOCK)));
  for (const [i, line] of lines.entries()) {
    const answer = await asked(port, line);
    if (answer !== "ok") return refuse({ code: "records-refused", message: "The loader refused a record" });
    onBlock(Math.min(bytes.length, i * BLOCK));
  }
  return ok(undefined);
}

const nothing = () => undefined;

/** S-records over a serial line: each sector of flash is a space. */
export const RECORDS: LoaderKind<RecordsLoader, "serial"> = {
  async ask(port, _, processors: readonly Processor[]) {
    for (const { id: processor, loaders } of processors)
      for (const loader of loaders) {
        if (loader.kind !== "records") continue;
        await port.setBaud(loader.baud);
        const answer = await asked(port, "N", 400);
        const [before, id] = answer?.split(" as ") ?? [];
        if (id !== undefined && before === `${loader.greets} ${processor}`) return { id, processor };
      }
    return undefined;
  },
  open: (port, _, processor) => ({
    spaces: sectorSpaces(processor),
    can: { read: true },
    blockBytes: BLOCK,
    read: (space, onBlock = nothing) => readSpace(port, space, space.lengthBytes, onBlock),
    async compare(space, expected, onBlock = nothing) {
      const head = await readSpace(port, space, Math.min(BLOCK, expected.length), nothing);
      if (!head.ok) return head;
      if (!equalBytes(head.value, expected.subarray(0, head.value.length)))
        return ok({ equal: false, head: head.value });
      const all = await readSpace(port, space, expected.length, onBlock);
      return all.ok ? ok({ equal: equalBytes(all.value, expected), head: head.value }) : all;
    },
    write: (space, bytes, onBlock = nothing) => writeSpace(port, space, bytes, onBlock),
    leave: () => port.send(new TextEncoder().encode("S70500000000FA\r")),
  }),
};
