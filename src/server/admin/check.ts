import { closeDb } from "@/server/db";
import { damagedBlobs } from "@/server/repositories/blobs";
import { one } from "@/server/sql";

/** Run by bin/backup and bin/restore: what a database holds, and whether all that is kept by its hash is as it was kept. */
async function main() {
  const counts = await one<Record<"aircraft" | "backups" | "jobs" | "journal" | "blobs", string>>(
    `select (select count(*) from aircraft) as aircraft, (select count(*) from backups) as backups,
       (select count(*) from jobs) as jobs, (select count(*) from journal) as journal, (select count(*) from blobs) as blobs`,
  );
  const damaged = await damagedBlobs();
  for (const { sha256, usedBy } of damaged) console.log(`damaged: ${sha256}, ${usedBy}`);
  if (damaged.length > 0) process.exitCode = 1;
  else
    console.log(
      `${counts?.aircraft} aircraft, ${counts?.backups} backups, ${counts?.jobs} jobs, ${counts?.journal} entries of the journal; ${counts?.blobs} papers held against their hashes`,
    );
  await closeDb();
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : String(error));
  process.exit(1);
});
