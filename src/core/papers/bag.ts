import { README, type Files } from "@/core/papers/archive";
import type { Tell } from "@/core/papers/fault";
import { sha256 } from "@/core/papers/hash";
import { textOf } from "@/core/papers/text";

/** BagIt 1.0 (RFC 8493): the payload in `data/`, and beside it a list of every file with its SHA-256. */
const DECLARATION = "bagit.txt";
const INFO = "bag-info.txt";
const MANIFEST = "manifest-sha256.txt";
export const TAG_MANIFEST = "tagmanifest-sha256.txt";
export const SIGNATURE = "signature.jws";
const DATA = "data/";

const encoder = new TextEncoder();
const DECLARED = "BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n";

/** RFC 8493, 2.1.3: what would end a line stands there by its number. */
const written = (name: string) => name.replace(/[%\r\n]/g, (c) => `%${c.charCodeAt(0).toString(16).padStart(2, "0")}`);

async function listOf(files: Files): Promise<string> {
  const lines = await Promise.all(
    [...files].map(async ([name, content]) => `${await sha256(content)}  ${written(name)}\n`),
  );
  return lines.toSorted((a, b) => (a.slice(66) < b.slice(66) ? -1 : 1)).join("");
}

/** Puts a payload into a bag; `about`: a line of what it is. Everything but the signature, which is over the list of lists. */
export async function fillBag(payload: Files, about: string): Promise<Map<string, Uint8Array>> {
  const data = new Map([...payload].map(([name, content]) => [DATA + name, content]));
  const bytes = [...payload.values()].reduce((sum, content) => sum + content.length, 0);
  const tags = new Map([
    [DECLARATION, encoder.encode(DECLARED)],
    [INFO, encoder.encode(`External-Description: ${about}\nPayload-Oxum: ${bytes}.${payload.size}\n`)],
    [MANIFEST, encoder.encode(await listOf(data))],
  ]);
  return new Map([...data, ...tags, [TAG_MANIFEST, encoder.encode(await listOf(tags))]]);
}

interface Listed {
  readonly name: string;
  readonly sha256: string;
}

function readList(content: Uint8Array | undefined, name: string, tell: Tell): Listed[] {
  if (!content) {
    tell("missing", `${name} is not there`);
    return [];
  }
  const text = textOf(content, name, tell) ?? "";
  return text
    .split("\n")
    .slice(0, -1)
    .flatMap((line, i): Listed[] => {
      const found = /^([0-9a-f]{64}) {2}([^\r]+)$/.exec(line);
      if (!found) tell("shape", `${name}, line ${i + 1}, is not what it should be`);
      return found ? [{ sha256: found[1] ?? "", name: found[2] ?? "" }] : [];
    });
}

/** Every file of a list is there once and is what the list says, and no other file of its kind is there. */
async function checkList(
  list: readonly Listed[],
  of: string,
  files: Files,
  ours: (name: string) => boolean,
  tell: Tell,
) {
  const byName = new Map([...files].map(([name, content]) => [written(name), content]));
  const listed = new Set<string>();
  for (const { name, sha256: hash } of list) {
    const content = byName.get(name);
    if (listed.has(name)) tell("surplus", `${of} names ${name} twice`);
    listed.add(name);
    if (!ours(name)) tell("surplus", `${of} names ${name}, which is not its to name`);
    if (!content) tell("missing", `${name} is not there`);
    else if ((await sha256(content)) !== hash) tell("changed", `${name} was changed`);
  }
  for (const name of byName.keys()) if (ours(name) && !listed.has(name)) tell("surplus", `${name} is in no list`);
}

/** Holds a bag against its own lists, all files but the signature; gives the payload, and the hash that is signed. */
export async function openBag(files: Files, tell: Tell): Promise<{ payload: Files; signedHash: string }> {
  const [manifest, tags] = [files.get(MANIFEST), files.get(TAG_MANIFEST)];
  const tagNames = [DECLARATION, INFO, MANIFEST];
  await checkList(readList(tags, TAG_MANIFEST, tell), TAG_MANIFEST, files, (name) => tagNames.includes(name), tell);
  await checkList(readList(manifest, MANIFEST, tell), MANIFEST, files, (name) => name.startsWith(DATA), tell);
  for (const name of tagNames) if (!files.has(name)) tell("missing", `${name} is not there`);
  for (const name of files.keys())
    if (!name.startsWith(DATA) && ![...tagNames, TAG_MANIFEST, SIGNATURE].includes(name))
      tell("surplus", `${name} belongs to nothing that is sealed`);
  const payload = new Map(
    [...files].flatMap(([name, content]) =>
      name.startsWith(DATA) ? [[name.slice(DATA.length), content] as const] : [],
    ),
  );
  if (!payload.has(README)) tell("missing", `${README} is not there`);
  return { payload, signedHash: await sha256(tags ?? new Uint8Array()) };
}
