import { proofSentence, type ScriptLine } from "@/core/carryover";
import { backupOf, resultOf, sourceOf, stepOf, stepSpec, type Entered } from "@/core/job";
import type { PartName } from "@/core/part";
import { ProblemError } from "@/core/problem";
import { backupById } from "@/server/repositories/backups";
import { getJson } from "@/server/repositories/blobs";
import { csvOf } from "@/server/csv";
import { entriesOfJob } from "@/server/repositories/journal";
import { planOfJob, type JobView } from "@/server/web/job-view";
import { decidedLines, planCsv, planExport, planText, releasesText } from "@/server/web/plan-export";
import { paperTime } from "@/server/web/paper-time";
import { proofCsv, proofOfJob, type ProofView } from "@/server/web/proof-view";
import { visitPage, type VisitPage } from "@/server/web/visit-page";
import { toldEntries } from "@/server/web/visit-words";

/** Files by their names, as somebody reads them who has not the product. */
export type Reading = Readonly<Record<string, Uint8Array>>;

const encoder = new TextEncoder();
const safe = (name: string) => name.replace(/[^A-Za-z0-9 ._-]/g, "-");

/** Makes what can be made. What is damaged here is missed in the papers themselves, and named on the page. */
class Made {
  readonly unread: string[] = [];

  async of<T>(what: string, make: () => Promise<T>): Promise<T | undefined> {
    try {
      return await make();
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      this.unread.push(what);
      return undefined;
    }
  }
}

/** The read-outs of a visit, each as it was received: the one before, what was set up from, and the one after. */
async function readOuts({ job, state }: JobView, made: Made): Promise<Record<string, Uint8Array>> {
  const parts = Object.keys(job.goal.runs).filter((part) => part !== "main");
  const wanted = [
    ["before", backupOf(state)],
    ["source", sourceOf(job.goal)],
    ...parts.map((part) => ["source", sourceOf(job.goal, part as PartName)] as const),
    ["after", resultOf(state, "prove").readBackId],
  ] as const;
  const files: Record<string, Uint8Array> = {};
  for (const [when, id] of wanted) {
    if (typeof id !== "number") continue;
    const found = await made.of(`the read-out ${when}`, () => backupById(id));
    if (found)
      files[safe(`read-out ${when} ${found.row.name}.${found.row.source === "rescue" ? "bin" : "txt"}`)] = found.raw;
  }
  return files;
}

/** How far the restore came. What was put right after a check is written again: between the two it has begun. */
function restoreOf({ state }: JobView, entries: readonly Entered[]): VisitPage["restore"] {
  if (state.steps.some(({ kind, status }) => kind === "restore" && status === "done")) return "done";
  const begun = entries.some(({ entry }) => entry.kind === "started" && stepOf(entry.step).kind === "restore");
  return begun ? "begun" : "not-begun";
}

/** A visit in files that need no program of their own: a page in words, plan, decisions and proof, script and read-outs. */
export async function visitReading(view: JobView): Promise<Reading> {
  const { job, state } = view;
  const files: Record<string, Uint8Array> = {};
  const put = (name: string, text: string) => (files[name] = encoder.encode(text));
  const made = new Made();
  const plan = await made.of("the plan", () => planOfJob(view));
  const lines = plan && (await made.of("what the plan rests on", () => planExport(view, plan)));
  if (plan && lines) {
    put("plan.csv", planCsv(lines));
    put("plan.txt", planText(view, plan, lines));
    put("decisions.csv", planCsv(decidedLines(lines)));
  }
  const proof: ProofView | undefined = await made.of("the proof", () => proofOfJob(view));
  if (proof) put("proof.csv", proofCsv(proof));
  const { scriptSha } = resultOf(state, "plan");
  const script =
    scriptSha === undefined
      ? undefined
      : await made.of("the script", async () => (await getJson(scriptSha)) as readonly ScriptLine[]);
  if (script) put("script.txt", script.map(({ text }) => `${text}\n`).join(""));
  const entries = await entriesOfJob(job.id);
  const entriesInWords = toldEntries(entries, (step) => {
    const found = state.steps.find(({ id }) => id === step) ?? state.struck.find(({ id }) => id === step);
    return found ? stepSpec(job.steps, found).title : step;
  });
  put("record.csv", csvOf(entriesInWords.map(({ at, by, says }) => ({ at: paperTime(at), by, says }))));
  Object.assign(files, await readOuts(view, made));
  const page = visitPage({
    tag: job.tag,
    visit: job.id,
    headline: job.headline,
    ordered: { by: job.ordered_by, at: paperTime(job.ordered_at.getTime()) },
    ended:
      view.stopReason === null ? (job.state === "finished" ? "Finished" : "Still open") : `Stopped: ${view.stopReason}`,
    endedAt: job.ended_at ? paperTime(job.ended_at.getTime()) : "",
    chipId: job.chip_id,
    ...(plan ? { way: { releases: releasesText(plan), target: plan.to.target } } : {}),
    lines: lines ?? [],
    unread: made.unread,
    accepted: state.accepted.map(({ at, ...each }) => ({ ...each, at: paperTime(at) })),
    scriptLines: script?.length ?? 0,
    restore: restoreOf(view, entries),
    ...(proof ? { proof: { says: proofSentence(proof.proof), lines: proof.lines } } : {}),
    ...(state.signed
      ? { signed: { by: state.signed.person, at: paperTime(state.signed.at), statement: state.signed.statement } }
      : {}),
    record: entriesInWords.map(({ at, ...each }) => ({ ...each, at: paperTime(at) })),
    files: Object.keys(files),
  });
  return { "visit.html": encoder.encode(page), ...files };
}
