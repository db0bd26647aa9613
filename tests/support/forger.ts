import { createHash, generateKeyPairSync, type KeyObject } from "node:crypto";
import { calculateJwkThumbprint, CompactSign } from "jose";
import type { RowLine, SealLine, VisitStatement } from "@/core/papers";

/** Files of a visit's papers as somebody holds them who has no key of the workshop's. */
export type Papers = Map<string, Uint8Array>;

const [encoder, decoder] = [new TextEncoder(), new TextDecoder()];
export const sha = (data: Uint8Array | string): string => createHash("sha256").update(data).digest("hex");
export const textOf = (papers: ReadonlyMap<string, Uint8Array>, name: string): string =>
  decoder.decode(papers.get(name));
export const bytesOf = (text: string): Uint8Array => encoder.encode(text);

const linesOf = <T>(papers: Papers, name: string): T[] =>
  textOf(papers, name)
    .split("\n")
    .filter((line) => line !== "")
    .map((line) => JSON.parse(line) as T);
const jsonl = (lines: readonly object[]) => bytesOf(lines.map((line) => `${JSON.stringify(line)}\n`).join(""));

export const rowsOf = (papers: Papers): RowLine[] => linesOf(papers, "data/rows.jsonl");
export const sealsOf = (papers: Papers): SealLine[] => linesOf(papers, "data/seals.jsonl");

/** What the signature of the workshop says, without its key. */
export const signedOf = (papers: Papers): { statement: VisitStatement; files: string } =>
  JSON.parse(Buffer.from(textOf(papers, "signature.jws").split(".")[1] ?? "", "base64url").toString()) as {
    statement: VisitStatement;
    files: string;
  };

/** Reckons anew every seal, from the rows on, each over the one before: what a forger can without a key. */
export function reckon(rows: readonly RowLine[], seals: readonly SealLine[]): SealLine[] {
  const held = new Map(rows.map(({ kind, key, text }) => [`${kind} ${key}`, sha(text)]));
  let last: SealLine | undefined;
  return seals.map((seal) => {
    const { kind, key, at } = seal;
    const no = last ? last.no + 1 : seal.no;
    const [before, row] = [last?.sha256 ?? seal.before, held.get(`${kind} ${key}`) ?? seal.row];
    last = { no, kind, key, at, row, before, sha256: sha([before, no, kind, key, at, row].join("\n")) };
    return last;
  });
}

/** The lists of a bag made anew over what is in it. */
export function relist(papers: Papers): Papers {
  const listed = (names: string[]) =>
    bytesOf(
      names
        .toSorted()
        .map((name) => `${sha(papers.get(name) ?? new Uint8Array())}  ${name}\n`)
        .join(""),
    );
  const data = [...papers.keys()].filter((name) => name.startsWith("data/"));
  const next = new Map(papers).set("manifest-sha256.txt", listed(data));
  const tags = ["bag-info.txt", "bagit.txt", "manifest-sha256.txt"];
  const lines = tags.map((name) => `${sha(next.get(name) ?? new Uint8Array())}  ${name}\n`).join("");
  return next.set("tagmanifest-sha256.txt", bytesOf(lines));
}

/** Papers with other rows and seals, everything that follows from them reckoned anew. */
export const rewritten = (papers: Papers, rows: readonly RowLine[], seals: readonly SealLine[]): Papers =>
  relist(new Map(papers).set("data/rows.jsonl", jsonl(rows)).set("data/seals.jsonl", jsonl(reckon(rows, seals))));

/** Another workshop's key, or a forger's. */
export async function otherKey(): Promise<{
  key: KeyObject;
  jwk: { kty: string; crv: string; x: string };
  thumbprint: string;
}> {
  const { privateKey, publicKey } = generateKeyPairSync("ed25519");
  const jwk = { kty: "OKP", crv: "Ed25519", x: publicKey.export({ format: "jwk" }).x ?? "" };
  return { key: privateKey, jwk, thumbprint: await calculateJwkThumbprint(jwk, "sha256") };
}

/** Signs papers anew with a key that is not the workshop's: the statement follows from the rows that stand there now. */
export async function resigned(
  papers: Papers,
  { key, jwk, thumbprint }: Awaited<ReturnType<typeof otherKey>>,
  statement: VisitStatement = signedOf(papers).statement,
): Promise<Papers> {
  const files = sha(papers.get("tagmanifest-sha256.txt") ?? new Uint8Array());
  const jws = await new CompactSign(bytesOf(JSON.stringify({ statement, files })))
    .setProtectedHeader({ alg: "EdDSA", typ: "fresh-start-visit+jws", kid: thumbprint, jwk })
    .sign(key);
  return new Map(papers).set("signature.jws", bytesOf(jws));
}

/** CRC-32 as ZIP wants it (APPNOTE 4.4.7). */
function crc32(data: Uint8Array): number {
  let crc = ~0;
  for (const byte of data) {
    crc ^= byte;
    for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
  }
  return ~crc >>> 0;
}

/** A ZIP of stored entries under whatever names, as often as they are given: what no ordinary tool would write. */
export function zipOf(entries: readonly (readonly [name: string, content: Uint8Array])[]): Uint8Array {
  const [local, central]: [Buffer[], Buffer[]] = [[], []];
  let offset = 0;
  for (const [name, content] of entries) {
    const title = Buffer.from(name);
    const common = Buffer.alloc(26);
    common.writeUInt16LE(20, 0);
    common.writeUInt32LE(crc32(content), 10);
    common.writeUInt32LE(content.length, 14);
    common.writeUInt32LE(content.length, 18);
    common.writeUInt16LE(title.length, 22);
    local.push(Buffer.from("PK\x03\x04", "latin1"), common, title, Buffer.from(content));
    const rest = Buffer.alloc(14);
    rest.writeUInt32LE(offset, 10);
    central.push(Buffer.from("PK\x01\x02", "latin1"), Buffer.from([20, 0]), common, rest, title);
    offset += 30 + title.length + content.length;
  }
  const directory = Buffer.concat(central);
  const end = Buffer.alloc(18);
  end.writeUInt16LE(entries.length, 4);
  end.writeUInt16LE(entries.length, 6);
  end.writeUInt32LE(directory.length, 8);
  end.writeUInt32LE(offset, 12);
  return Buffer.concat([...local, directory, Buffer.from("PK\x05\x06", "latin1"), end]);
}
