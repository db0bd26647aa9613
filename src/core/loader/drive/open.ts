import type { DriveLoader, Processor } from "@/core/catalog";
import { UF2_BLOCK_BYTES, uf2Blocks, uf2Data, UF2_PAGE_BYTES } from "@/core/image";
import { UNREADABLE, type LoaderKind, type OnBlock, type Space } from "@/core/loader/loader";
import type { DrivePort } from "@/core/loader/transports";
import { equalBytes, sectorSpaces } from "@/core/loader/spaces";
import { ok, refuse, type Result } from "@/core/problem";

/** Blocks that go over the cable in one go, for a bar that moves. */
const AT_ONCE = 32 * UF2_BLOCK_BYTES;
const HEAD_BYTES = 8 * UF2_PAGE_BYTES;
const nothing: OnBlock = () => undefined;

const notReadable = () =>
  refuse({
    code: UNREADABLE,
    message: "The drive does not show what is in flash",
    hint: "Take another way into a loader, if the board has one",
  });

async function readPart(
  port: DrivePort,
  loader: DriveLoader,
  processor: Processor,
  start: number,
  lengthBytes: number,
  onBlock: OnBlock,
): Promise<Result<Uint8Array>> {
  const found = new Uint8Array(lengthBytes);
  const perGo = (AT_ONCE / UF2_BLOCK_BYTES) * UF2_PAGE_BYTES;
  for (let at = 0; at < lengthBytes; at += perGo) {
    const wanted = Math.min(perGo, Math.ceil((lengthBytes - at) / UF2_PAGE_BYTES) * UF2_PAGE_BYTES);
    const offset = ((start + at - processor.flashStart) / UF2_PAGE_BYTES) * UF2_BLOCK_BYTES;
    const file =
      loader.holds === undefined
        ? undefined
        : await port.read(loader.holds, offset, (wanted / UF2_PAGE_BYTES) * UF2_BLOCK_BYTES);
    if (!file) return notReadable();
    const data = uf2Data(file, start + at);
    if (!data.ok) return data;
    found.set(data.value.subarray(0, lengthBytes - at), at);
    onBlock(Math.min(lengthBytes, at + wanted));
  }
  return ok(found);
}

/** Reads no further than needed to see that something differs. */
async function compare(
  read: (start: number, lengthBytes: number, onBlock: OnBlock) => Promise<Result<Uint8Array>>,
  { start }: Space,
  expected: Uint8Array,
  onBlock: OnBlock,
) {
  const first = await read(start, Math.min(HEAD_BYTES, expected.length), nothing);
  if (!first.ok) return first;
  const head = first.value;
  if (!equalBytes(head, expected.subarray(0, head.length))) return ok({ equal: false, head });
  const all = await read(start, expected.length, onBlock);
  return all.ok ? ok({ equal: equalBytes(all.value, expected), head }) : all;
}

/** Blocks that a drive never took in are given once more, so often. */
const ROUNDS = 8;
const isBlank = (page: Uint8Array) => page.every((byte) => byte === 0xff);

/**
 * One file of blocks from an address on. A drive says nothing about a block that it lost: pages that are still blank
 * afterwards are given again, as blocks of the same file, so that what is there is not erased for them. Gives whether all
 * of it was read back as it should be.
 */
async function writePages(
  port: DrivePort,
  loader: DriveLoader,
  read: (start: number, lengthBytes: number, onBlock: OnBlock) => Promise<Result<Uint8Array>>,
  start: number,
  bytes: Uint8Array,
  onBlock: OnBlock,
): Promise<Result<boolean>> {
  const whole = new Uint8Array(Math.ceil(bytes.length / UF2_PAGE_BYTES) * UF2_PAGE_BYTES).fill(0xff);
  whole.set(bytes);
  const blocks = uf2Blocks([{ start, bytes: whole }], loader.familyId);
  const pageOf = (from: Uint8Array, no: number) => from.subarray(no * UF2_PAGE_BYTES, (no + 1) * UF2_PAGE_BYTES);
  for (let at = 0; at < blocks.length; at += AT_ONCE) {
    await port.write(blocks.subarray(at, at + AT_ONCE));
    onBlock(Math.min(bytes.length, ((at + AT_ONCE) / UF2_BLOCK_BYTES) * UF2_PAGE_BYTES));
  }
  const count = whole.length / UF2_PAGE_BYTES;
  for (let round = 0; round < ROUNDS && loader.holds !== undefined; round++) {
    const found = await read(start, whole.length, nothing);
    if (!found.ok) return found;
    if (equalBytes(found.value, whole)) return ok(true);
    const lost = Array.from({ length: count }, (_, no) => no).filter(
      (no) => isBlank(pageOf(found.value, no)) && !isBlank(pageOf(whole, no)),
    );
    if (lost.length === 0) break;
    for (const no of lost) await port.write(blocks.subarray(no * UF2_BLOCK_BYTES, (no + 1) * UF2_BLOCK_BYTES));
  }
  return ok(false);
}

/** A drive that takes UF2: blocks of one file for each space, in ascending order. It says nothing about errors, so all is read back. */
export const DRIVE: LoaderKind<DriveLoader, "drive"> = {
  ask: (_, { serial }) => Promise.resolve({ id: serial }),
  open(port, _, processor, loader) {
    const read = (start: number, lengthBytes: number, onBlock: OnBlock) =>
      readPart(port, loader, processor, start, lengthBytes, onBlock);
    // what was read back when it was written, until the next piece of work
    let proved: Uint8Array | undefined;
    return {
      spaces: sectorSpaces(processor),
      can: { read: loader.holds !== undefined },
      blockBytes: UF2_PAGE_BYTES,
      read: ({ start, lengthBytes }, onBlock = nothing) => read(start, lengthBytes, onBlock),
      compare(space, expected, onBlock = nothing) {
        const known = proved === expected;
        proved = undefined;
        return known ? Promise.resolve(ok({ equal: true })) : compare(read, space, expected, onBlock);
      },
      async write({ start }, bytes, onBlock = nothing) {
        const written = await writePages(port, loader, read, start, bytes, onBlock);
        if (!written.ok) return written;
        proved = written.value ? bytes : undefined;
        return ok(undefined);
      },
      leave: () => port.eject(),
    };
  },
};
