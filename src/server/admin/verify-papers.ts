import { readFileSync } from "node:fs";
import { parseArgs } from "node:util";
import { checkPapers, papersSentence, readArchive, type Known } from "@/core/papers";
import { valueOf } from "@/core/problem";
import { readWitnesses, sealsFrom } from "@/server/witness";

/** Whole in itself; whose papers they are was held against nothing. */
const ORIGIN_UNKNOWN = 3;

/** A key's name may begin with a dash: what follows `--key` is its value, whatever it looks like. */
function wordsGiven(words: readonly string[]): string[] {
  const [word, next, ...rest] = words;
  if (word === undefined) return [];
  return word === "--key" && next !== undefined
    ? [`${word}=${next}`, ...wordsGiven(rest)]
    : [word, ...wordsGiven(words.slice(1))];
}

/**
 * Run by bin/verify FILE: holds a visit's papers against themselves, and against keys and seals that are known by another
 * way. Ends with 0 where all agrees and a key or a seal shows whose they are, with 3 where nothing does, with 1 where
 * something does not agree. No database.
 */
async function main() {
  const { values, positionals } = parseArgs({
    args: wordsGiven(process.argv.slice(2)),
    allowPositionals: true,
    options: { key: { type: "string", multiple: true }, seal: { type: "string", multiple: true } },
  });
  const [file] = positionals;
  if (file === undefined) throw new Error("which file");
  const known: Known = {
    seals: [...readWitnesses(), ...sealsFrom(values.seal ?? [])],
    ...(values.key ? { keys: values.key } : {}),
  };
  const report = await checkPapers(valueOf(readArchive(readFileSync(file))), known);
  for (const { says } of report.faults) console.log(`papers: ${says}`);
  if (report.faults.length > 0) process.exitCode = 1;
  else {
    console.log(papersSentence(report));
    if (report.origin === undefined) process.exitCode = ORIGIN_UNKNOWN;
  }
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : String(error));
  process.exit(2);
});
