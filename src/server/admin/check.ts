import { closeDb, getDb } from "@/server/db";
import { damagedBlobs } from "@/server/repositories/blobs";

/** Run by bin/backup and bin/restore: what a database holds, and whether all that is kept by its hash is as it was kept. */
async function main() {
  const { Aircraft, Backup, Blob, Job, JournalRow } = getDb();
  const [aircraft, backups, jobs, journal, blobs] = [
    await Aircraft.count(),
    await Backup.count(),
    await Job.count(),
    await JournalRow.count(),
    await Blob.count(),
  ];
  const damaged = await damagedBlobs();
  for (const { sha256, usedBy } of damaged) console.log(`damaged: ${sha256}, ${usedBy}`);
  if (damaged.length > 0) process.exitCode = 1;
  else
    console.log(
      `${aircraft} aircraft, ${backups} backups, ${jobs} jobs, ${journal} entries of the journal; ${blobs} papers held against their hashes`,
    );
  await closeDb();
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : String(error));
  process.exit(1);
});
