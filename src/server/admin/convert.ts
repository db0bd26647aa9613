import { existsSync, readFileSync, statSync, writeFileSync } from "node:fs";
import path from "node:path";
import { parseArgs } from "node:util";
import { FORMATS, formatOf, type FileFacts, type ImageFormat } from "@/core/image";
import { ProblemError, problemOf, valueOf } from "@/core/problem";

const names = FORMATS.map(({ id, extension }) => `${id} (.${extension})`).join(", ");

function number(text: string | undefined, what: string, bits = 32): number | undefined {
  if (text === undefined) return undefined;
  const value = Number(text);
  if (text.trim() !== "" && Number.isSafeInteger(value) && value >= 0 && value < 2 ** bits) return value;
  throw new ProblemError({ code: "convert-number", message: `${what} wants a number below 2^${bits}`, detail: text });
}

/** What a file is by its own marks. One that is none of what its name says is not taken for raw bytes. */
function sourceOf(name: string, file: Uint8Array): ImageFormat {
  const found = formatOf(file);
  const extension = path.extname(name).slice(1).toLowerCase();
  const named = FORMATS.find((format) => format.extension === extension);
  if (!named || named === found || found.addressed || found.keeps.length > 0) return found;
  throw new ProblemError({
    code: "convert-not-so",
    message: `${path.basename(name)} is called ${named.title}, and is none`,
    hint: "Fetch the file again; --from raw takes it as the bytes that it holds",
  });
}

function put(name: string, bytes: Uint8Array): void {
  try {
    writeFileSync(name, bytes);
  } catch (error) {
    throw new ProblemError({
      code: "convert-write",
      message: `${name} cannot be written`,
      detail: error instanceof Error ? error.message : String(error),
      hint: "Name a file in a folder that is there and that you may write to",
    });
  }
}

/** By its name, else by the extension of the file that it is for. */
function formatFor(name: string | undefined, file: string): ImageFormat {
  const extension = path.extname(file).slice(1).toLowerCase();
  const found = FORMATS.find((format) => (name === undefined ? format.extension === extension : format.id === name));
  if (found) return found;
  throw new ProblemError({
    code: "convert-format",
    message: `There is no format “${name ?? extension}”`,
    detail: `There are: ${names}`,
    hint: "Name it with --to, or give the file one of these extensions",
  });
}

/** Text takes three characters a byte, with addresses and checks; no image makes a larger file. */
const MAX_FILE_BYTES = 64_000_000;

function fileOf(name: string): Uint8Array {
  const found = statSync(name, { throwIfNoEntry: false });
  if (!found)
    throw new ProblemError({
      code: "convert-missing",
      message: `There is no file ${name}`,
      hint: "Name the file that is to be converted first, then the one that is made",
    });
  if (!found.isFile()) throw new ProblemError({ code: "convert-file", message: `${name} is no file` });
  if (found.size > MAX_FILE_BYTES)
    throw new ProblemError({
      code: "convert-size",
      message: `${name} is too large for an image`,
      detail: `${found.size} bytes; the limit is ${MAX_FILE_BYTES}`,
    });
  return new Uint8Array(readFileSync(name));
}

const hex = (value: number, digits: number): string => `0x${value.toString(16).padStart(digits, "0")}`;
/** How each fact is told. */
const FACTS: Readonly<Record<keyof FileFacts, (facts: FileFacts) => string>> = {
  familyId: ({ familyId = 0 }) => `family ${hex(familyId, 8)}`,
  vendorId: ({ vendorId = 0 }) => `vendor ${hex(vendorId, 4)}`,
  productId: ({ productId = 0 }) => `product ${hex(productId, 4)}`,
  deviceVersion: ({ deviceVersion = 0 }) => `device version ${hex(deviceVersion, 4)}`,
  entry: ({ entry = 0 }) => `entry address ${hex(entry, 8)}`,
  heading: ({ heading = "" }) => `heading “${heading}”`,
};

/** What the file says beside its bytes, and what becomes of it in the other format. */
function factLines(facts: FileFacts, target: ImageFormat): string[] {
  const said = (Object.keys(FACTS) as (keyof FileFacts)[]).filter((fact) => facts[fact] !== undefined);
  return said.map((fact) =>
    target.keeps.includes(fact)
      ? `  kept: ${FACTS[fact](facts)}`
      : `  not kept, ${target.title} cannot say it: ${FACTS[fact](facts)}`,
  );
}

const usage = (message: string) => new ProblemError({ code: "convert-usage", message, hint: "bin/convert --help" });

function words() {
  const text = { type: "string" } as const;
  try {
    return parseArgs({
      allowPositionals: true,
      options: {
        from: text,
        to: text,
        address: text,
        vendor: text,
        product: text,
        family: text,
        over: { type: "boolean" },
      },
    });
  } catch (error) {
    throw usage(error instanceof Error ? error.message : "The command is not understood");
  }
}

/** Converts an image file from one format to another. */
function main(): void {
  const { values, positionals } = words();
  const [from, to] = positionals;
  if (from === undefined || to === undefined || positionals.length > 2)
    throw usage("Two files are wanted: the one that is there and the one that is made");
  if (existsSync(to) && values.over !== true)
    throw new ProblemError({
      code: "convert-there",
      message: `${to} is there already, and was left as it is`,
      hint: "Give another name, or --over to write over it",
    });
  const file = fileOf(from);
  const source = values.from === undefined ? sourceOf(from, file) : formatFor(values.from, from);
  const target = formatFor(values.to, to);
  const address = number(values.address, "--address");
  if (!source.addressed && target.addressed && address === undefined)
    throw new ProblemError({
      code: "convert-address",
      message: `${path.basename(from)} is ${source.title}: it does not say where it belongs`,
      hint: "Say where its first byte lies, for instance --address 0x08004000",
    });
  const [vendorId, productId] = [number(values.vendor, "--vendor", 16), number(values.product, "--product", 16)];
  const familyId = number(values.family, "--family");
  const asked: FileFacts = {
    ...(vendorId === undefined ? {} : { vendorId }),
    ...(productId === undefined ? {} : { productId }),
    ...(familyId === undefined ? {} : { familyId }),
  };
  const start = address ?? 0;
  const { chunks, facts, notes } = valueOf(source.read(file, { start, ...asked }));
  if (chunks.length === 0)
    throw new ProblemError({
      code: "convert-empty",
      message: `${path.basename(from)} holds no data`,
      detail: `Read as ${source.title}`,
      hint: "Fetch the file again",
    });
  const all = { ...facts, ...asked };
  put(to, valueOf(target.write(chunks, { start, ...all })));
  const bytes = chunks.reduce((sum, chunk) => sum + chunk.bytes.length, 0);
  console.log(
    `${source.title} → ${target.title}: ${bytes} bytes in ${chunks.length} ${chunks.length === 1 ? "run" : "runs"}`,
  );
  for (const line of factLines(all, target)) console.log(line);
  for (const note of notes) console.log(`  passed over: ${note}`);
  for (const chunk of chunks)
    console.log(`  0x${chunk.start.toString(16).padStart(8, "0")}  ${chunk.bytes.length} bytes`);
}

try {
  main();
} catch (error) {
  const { message, detail, where, hint } = problemOf(error);
  const at = where?.line === undefined ? "" : ` (line ${where.line})`;
  console.error(`Nothing was converted: ${message}${at}${detail === undefined ? "" : `. ${detail}`}`);
  if (hint !== undefined) console.error(`  What to do: ${hint}`);
  process.exit(1);
}
