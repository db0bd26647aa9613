import { checkPapers, readArchive } from "@/core/papers";
import { valueOf } from "@/core/problem";

/** A session of the first of these accounts that are let in. */
async function signedIn(origin: string, passwords: Readonly<Record<string, string>>): Promise<string | undefined> {
  for (const [name, password] of Object.entries(passwords)) {
    const answer = await fetch(`${origin}/api/sign-in`, {
      method: "POST",
      headers: { origin, "content-type": "application/json" },
      body: JSON.stringify({ name, password }),
    });
    if (answer.ok)
      return answer.headers
        .getSetCookie()
        .map((each) => each.split(";")[0])
        .join("; ");
  }
  return undefined;
}

/**
 * What is wrong with the papers of the visits of a workshop, whatever each was for and however it ended; sentences.
 * `passwords`: by account. A file's tests may have locked some out, never all.
 */
export async function faultsOfVisits(origin: string, passwords: Readonly<Record<string, string>>): Promise<string[]> {
  const cookie = await signedIn(origin, passwords);
  if (cookie === undefined) return ["nobody is let in who could ask for the papers of the visits"];
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
