import { createHash } from "node:crypto";
import fc from "fast-check";
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { readDocument } from "@/core/catalog";
import { demoDocuments } from "../../demo/documents";
import { readDocumentOnce } from "@/server/documents-read";

const folder = mkdtempSync(path.join(os.tmpdir(), "documents-read-"));
const { DOCUMENTS_READ, BUILD } = process.env;
// the shortest: each is read many times here
const texts = demoDocuments()
  .map(({ text }) => text)
  .toSorted((a, b) => a.length - b.length)
  .slice(0, 4);
const unreadable = "document: release\nid: [";
const written = () => new Promise((resolve) => setImmediate(() => setImmediate(resolve)));

let files = 0;
/** The environment of a process that has just started. */
function beginWith(content?: string | Uint8Array, build = "one"): string {
  const file = path.join(folder, String(files++));
  if (content !== undefined) writeFileSync(file, content);
  Object.assign(process.env, { DOCUMENTS_READ: file, BUILD: build });
  return file;
}

/** What a process that read them has left. */
async function left(build = "one"): Promise<Buffer> {
  const file = beginWith(undefined, build);
  for (const text of texts) readDocumentOnce(text);
  await written();
  return readFileSync(file);
}

afterAll(() => {
  Object.assign(process.env, { DOCUMENTS_READ, BUILD });
  rmSync(folder, { recursive: true });
});

const expectAsTheySay = () => {
  for (const text of texts) expect(readDocumentOnce(text)).toEqual(readDocument(text));
};

it("whatever is damaged in the file, lost, or of another build: documents read as their texts say", async () => {
  const [whole, other] = [await left(), await left("two")];
  const damaged = fc.oneof(
    fc.tuple(fc.nat(whole.length - 1), fc.integer({ min: 1, max: 255 })).map(([at, by]) => {
      const bytes = Buffer.from(whole);
      bytes[at] = (bytes[at] ?? 0) ^ by;
      return bytes;
    }),
    fc.nat(whole.length).map((length) => whole.subarray(0, length)),
    fc.nat(whole.length).map((at) => Buffer.concat([whole.subarray(0, at), whole.subarray(at / 2)])),
    fc.constantFrom(other, Buffer.from(""), Buffer.from("\n[]"), Buffer.from("{}")),
    fc.uint8Array({ maxLength: 200 }).map((bytes) => Buffer.from(bytes)),
  );
  fc.assert(
    fc.property(damaged, (bytes) => {
      beginWith(bytes);
      expectAsTheySay();
    }),
    { numRuns: 60 },
  );
});

it("what was read once is not read again by a process of the same build; nobody but the workshop may read the file", async () => {
  const whole = await left();
  const [head = "", body = ""] = whole.toString("utf8").split("\n");
  expect(head).toMatch(/^[\da-f]{64}$/);
  // what stands there is believed, if its hash is that of this build
  const kept = new Map(JSON.parse(body) as [string, string][]);
  const [[name = "", json = ""] = []] = kept;
  kept.set(name, JSON.stringify({ ...(JSON.parse(json) as object), id: "read before" }));
  const changed = JSON.stringify([...kept]);
  const hash = createHash("sha256").update(`one\n${changed}`).digest("hex");
  const file = beginWith(`${hash}\n${changed}`);
  expect(
    texts.map((text) => readDocumentOnce(text)).filter((read) => read.ok && read.value.id === "read before"),
  ).toHaveLength(1);
  expect(readFileSync(file, "utf8")).toBe(`${hash}\n${changed}`);
  const own = beginWith();
  expectAsTheySay();
  await written();
  expect(statSync(own).mode & 0o077).toBe(0);
});

it("what is refused is refused each time, and no text passes for another that is nearly the same", async () => {
  const file = beginWith(await left());
  expect(readDocumentOnce(unreadable)).toEqual(readDocument(unreadable));
  expect(readDocumentOnce(unreadable)).toEqual(readDocument(unreadable));
  await written();
  expect(readFileSync(file, "utf8")).not.toContain('["}');
  const nearly = `${texts[0] ?? ""}\n# and a word`;
  expect(readDocumentOnce(nearly)).toEqual(readDocument(nearly));
});

it("whoever is given a document may change it: the next one gets it as it is", async () => {
  beginWith(await left());
  const [text = ""] = texts;
  const first = readDocumentOnce(text);
  if (first.ok) Object.assign(first.value, { id: "another" });
  expect(readDocumentOnce(text)).toEqual(readDocument(text));
});

it("without a build nothing is kept, and where nothing can be written it is read all the same", async () => {
  const file = beginWith(undefined, "");
  expectAsTheySay();
  await written();
  expect(existsSync(file)).toBe(false);
  Object.assign(process.env, { DOCUMENTS_READ: path.join(folder, "none", "there"), BUILD: "one" });
  expectAsTheySay();
  await written();
});
