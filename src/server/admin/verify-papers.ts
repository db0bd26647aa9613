import { readFileSync } from "node:fs";
import { checkPapers, papersSentence, readArchive } from "@/core/papers";
import { valueOf } from "@/core/problem";

/** Run by bin/verify FILE: holds a visit's papers against their own hashes; 1 when anything does not agree. No database. */
async function main() {
  const [file] = process.argv.slice(2);
  if (file === undefined) throw new Error("which file");
  const report = await checkPapers(valueOf(readArchive(readFileSync(file))));
  for (const { says } of report.faults) console.log(`papers: ${says}`);
  if (report.faults.length > 0) process.exitCode = 1;
  else console.log(papersSentence(report));
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : String(error));
  process.exit(2);
});
