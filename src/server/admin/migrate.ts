import { ensureFirstAccount } from "@/server/accounts";
import { closeDb } from "@/server/db";
import { migrate } from "@/server/migrate";
import { ensureBench } from "@/server/repositories/bench";

/** Run by bin/start: schema, bench, and a first account in an empty workshop. */
async function main() {
  await migrate();
  await ensureBench();
  const empty = process.argv.includes("--empty");
  const first = empty ? await ensureFirstAccount() : undefined;
  if (first) console.log(`First account: ${first.name}, password ${first.password} (shown this once)`);
  await closeDb();
}

main().catch((error: unknown) => {
  console.error(`The database could not be prepared: ${error instanceof Error ? error.message : String(error)}`);
  process.exit(1);
});
