import { checkPapers, readArchive } from "@/core/papers";
import { valueOf } from "@/core/problem";
import { closeDb } from "@/server/db";
import { listJobs } from "@/server/repositories/jobs";
import { visitPapers } from "@/server/repositories/visit-papers";
import { signingKeys } from "@/server/signing";
import { workOn } from "../support/database";

/**
 * What is wrong with the papers of the visits in a database, whatever each was for and however it ended: sentences. They
 * are made by this process, whatever a file's tests have done to the doors of the product.
 */
export async function faultsOfVisits(database: string): Promise<string[]> {
  await workOn(database);
  try {
    const keys = (await signingKeys()).map(({ thumbprint }) => thumbprint);
    const faults: string[] = [];
    for (const { id } of await listJobs()) {
      const report = await checkPapers(valueOf(readArchive((await visitPapers(id)).bytes)), { keys });
      if (report.statement.job !== id) faults.push(`visit ${id}: its papers are of ${report.statement.job}`);
      faults.push(...report.faults.map((fault) => `visit ${id}: ${JSON.stringify(fault)}`));
    }
    return faults;
  } finally {
    await closeDb();
  }
}
