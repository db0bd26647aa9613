import { parseArgs } from "node:util";
import { closeDb } from "@/server/db";
import { verifyAll } from "@/server/keeping";
import { readWitnesses, sealsFrom, witnessFile } from "@/server/witness";

/** Run by bin/verify: says what of the kept does not agree with its seals and hashes; 1 when anything does not. */
async function main() {
  const { values } = parseArgs({ options: { seal: { type: "string", multiple: true } } });
  const { report, damaged } = await verifyAll(sealsFrom(values.seal ?? []));
  for (const { says } of report.faults) console.log(`record: ${says}`);
  for (const says of report.notes) console.log(`note: ${says}`);
  for (const { sha256, usedBy } of damaged) console.log(`damaged: ${sha256}, ${usedBy}`);
  const witnesses = readWitnesses();
  const held =
    witnesses.length === 0
      ? "no seal was written down outside yet"
      : `${witnesses.length} seals written down in ${witnessFile()}`;
  if (report.faults.length + damaged.length > 0) process.exitCode = 1;
  else
    console.log(
      `Whole: ${report.seals} seals on everything that is kept for good, every stored file against its hash; held against ${held}. Last seal: ${report.head.no} ${report.head.sha256}`,
    );
  await closeDb();
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : String(error));
  process.exit(2);
});
