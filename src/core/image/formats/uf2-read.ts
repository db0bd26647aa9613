import { md5 } from "js-md5";
import { fault, joinRecords, MAX_IMAGE_BYTES, type Chunk, type Placed } from "@/core/image/chunk";
import type { FormatOptions, ReadFile } from "@/core/image/formats/format";
import { BLOCK, hex32, readBlock, type Block } from "@/core/image/formats/uf2-block";
import { ok, refuse, type Problem, type Result } from "@/core/problem";

/** The sums of a file may not ask for more work than reading the largest image a few times. */
const MAX_SUMMED_BYTES = 4 * MAX_IMAGE_BYTES;

/** Whether every block of a numbering is there once. */
function wrongCount(blocks: readonly Block[]): Problem | undefined {
  const seen = new Set<number>();
  for (const { line, no, count } of blocks) {
    if (count !== blocks.length || no >= count)
      return fault(
        "uf2-count",
        "Blocks are missing",
        line,
        `Block ${no} of ${count}; ${blocks.length} are here`,
        "Fetch the file again",
      );
    if (seen.has(no)) return fault("uf2-twice", "A block is there twice", line, `Number ${no}`);
    seen.add(no);
  }
  return undefined;
}

function byFamily(blocks: readonly Block[]): Map<number | undefined, Block[]> {
  const groups = new Map<number | undefined, Block[]>();
  for (const block of blocks) {
    const group = groups.get(block.family);
    if (group) group.push(block);
    else groups.set(block.family, [block]);
  }
  return groups;
}

const familySaid = (family: number | undefined): string => (family === undefined ? "none named" : hex32(family));

/** The blocks of one family; where a file is for several, of the one that is asked for. */
function ofFamily(
  groups: ReadonlyMap<number | undefined, readonly Block[]>,
  wanted: number | undefined,
): Result<readonly Block[]> {
  const [only] = groups.values();
  if (groups.size === 1 && only && (wanted === undefined || groups.has(wanted) || groups.has(undefined)))
    return ok(only);
  const there = `There are: ${[...groups.keys()].map(familySaid).join(", ")}`;
  const found = wanted === undefined ? undefined : groups.get(wanted);
  if (found) return ok(found);
  return refuse(
    wanted === undefined
      ? {
          code: "uf2-families",
          message: "The file is for several families of processors",
          detail: there,
          hint: "bin/convert --family takes the blocks of one of them out",
        }
      : { code: "uf2-family", message: `The file has no blocks for family ${hex32(wanted)}`, detail: there },
  );
}

/** Holds the sums that a file carries against its bytes. Those of stretches that it does not hold whole are counted. */
function checkSums(blocks: readonly Block[], chunks: readonly Chunk[]): Result<number> {
  const done = new Set<string>();
  let [summed, open] = [0, 0];
  for (const { line, sum } of blocks) {
    if (!sum) continue;
    const key = `${sum.start} ${sum.length} ${sum.md5}`;
    if (done.has(key)) continue;
    done.add(key);
    const chunk = chunks.find(
      ({ start, bytes }) => start <= sum.start && sum.start + sum.length <= start + bytes.length,
    );
    if (!chunk) {
      open++;
      continue;
    }
    summed += sum.length;
    if (summed > MAX_SUMMED_BYTES)
      return refuse(fault("uf2-md5", "The file's sums go over far more bytes than it holds", line));
    const from = sum.start - chunk.start;
    const found = md5(chunk.bytes.subarray(from, from + sum.length));
    if (found !== sum.md5)
      return refuse(
        fault(
          "uf2-md5",
          "The file is damaged: a stretch does not have the MD5 that it carries",
          line,
          `${sum.length} bytes at ${hex32(sum.start)}: it says ${sum.md5}, they give ${found}`,
          "Fetch the file again",
        ),
      );
  }
  return ok(open);
}

function notesOf(blocks: readonly Block[], kept: readonly Block[], open: number): string[] {
  const notes: string[] = [];
  const others = blocks.filter(({ mainFlash }) => !mainFlash).length;
  if (others > 0) notes.push(`${others} ${others === 1 ? "block is" : "blocks are"} not for the main flash`);
  if (open > 0) notes.push(`${open} MD5 ${open === 1 ? "sum is" : "sums are"} of bytes that are not in the file`);
  if (kept.some(({ sum }) => sum)) notes.push("the MD5 sums were proved, and are not written");
  if (kept.some(({ tags }) => tags)) notes.push("tags stand behind the data of some blocks");
  return notes;
}

/** Reads UF2. Refuses files for a drive, several families unless one is asked for, and what does not fit its own sums. */
export function readUf2(file: Uint8Array, options: FormatOptions): Result<ReadFile> {
  if (file.length === 0 || file.length % BLOCK !== 0)
    return refuse(
      fault(
        "uf2-length",
        "The file was cut off",
        Math.floor(file.length / BLOCK) + 1,
        `${file.length} bytes are no whole number of blocks of ${BLOCK}`,
        "Fetch the file again",
      ),
    );
  const blocks: Block[] = [];
  for (let at = 0; at < file.length; at += BLOCK) {
    const block = readBlock(file, at);
    if (!block.ok) return block;
    blocks.push(block.value);
  }
  const groups = byFamily(blocks);
  // files for several families are numbered through, or are files of one family each, put one behind the other
  const through = blocks.every(({ count }) => count === blocks.length);
  for (const numbered of through ? [blocks] : groups.values()) {
    const wrong = wrongCount(numbered);
    if (wrong) return refuse(wrong);
  }
  const flash = byFamily(blocks.filter(({ mainFlash, bytes }) => mainFlash && bytes.length > 0));
  const chosen = flash.size === 0 ? ok([]) : ofFamily(flash, options.familyId);
  if (!chosen.ok) return chosen;
  const placed: Placed[] = [];
  let total = 0;
  for (const { address, bytes, line } of chosen.value) {
    total += bytes.length;
    if (total > MAX_IMAGE_BYTES)
      return refuse(fault("uf2-size", "The image is too large", line, `More than ${MAX_IMAGE_BYTES} bytes`));
    placed.push({ start: address, bytes, line });
  }
  const chunks = joinRecords(placed, "uf2");
  if (!chunks.ok) return chunks;
  const open = checkSums(chosen.value, chunks.value);
  if (!open.ok) return open;
  const familyId = chosen.value[0]?.family;
  return ok({
    chunks: chunks.value,
    facts: familyId === undefined ? {} : { familyId },
    notes: notesOf(blocks, chosen.value, open.value),
  });
}
