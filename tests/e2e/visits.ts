import { checkPapers, readArchive } from "@/core/papers";
import { valueOf } from "@/core/problem";

/** What is wrong with the papers of the visits of a workshop, whatever each was for and however it ended; sentences. */
export async function faultsOfVisits(origin: string, password: string): Promise<string[]> {
  const signedIn = await fetch(`${origin}/api/sign-in`, {
    method: "POST",
    headers: { origin, "content-type": "application/json" },
    body: JSON.stringify({ name: "lead", password }),
  });
  // tests of people may have changed who the lead is
  if (!signedIn.ok) return [];
  const cookie = signedIn.headers
    .getSetCookie()
    .map((each) => each.split(";")[0])
    .join("; ");
  const faults: string[] = [];
  for (let id = 1; ; id++) {
    const answer = await fetch(`${origin}/api/jobs/${id}/papers`, { headers: { cookie } });
    if (answer.status === 404) return faults;
    if (!answer.ok) return [...faults, `visit ${id}: its papers are answered with ${answer.status}`];
    const report = await checkPapers(valueOf(readArchive(new Uint8Array(await answer.arrayBuffer()))), {});
    if (report.statement.job !== id) faults.push(`visit ${id}: its papers are of ${report.statement.job}`);
    faults.push(...report.faults.map((fault) => `visit ${id}: ${JSON.stringify(fault)}`));
  }
}
