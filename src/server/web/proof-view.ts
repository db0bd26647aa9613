import {
  choiceOf,
  offGroups,
  proofSentence,
  type OffGroup,
  type PlanItem,
  type Proof,
  type ProofLine,
} from "@/core/carryover";
import { signerOf, type JobState, resultOf, backupOf } from "@/core/job";
import { getJson } from "@/server/repositories/blobs";
import { catalogueOf } from "@/server/repositories/catalogue";
import { csvOf } from "@/server/csv";
import { paperTime } from "@/server/web/paper-time";
import { planOfJob, sourceBackupOf, type JobView } from "@/server/web/job-view";

export interface ProofView {
  readonly proof: Proof;
  readonly lines: readonly ProofLine[];
  /** What came out otherwise than planned, by what lies behind it. */
  readonly off: readonly OffGroup[];
}

/** The chain of reasons for one value: the rules on its way, and whose decision it was. */
function reasonsOf(item: PlanItem | undefined, state: JobState, timeText: (at: number) => string): string[] {
  if (!item) return [];
  const rules = item.trail.map(
    (step) =>
      `${step.why.replace(/\.$/, "")}${step.before !== undefined && step.after !== undefined ? `: ${step.before} → ${step.after}` : ""}`,
  );
  const choice = choiceOf(item, state.decisions);
  const by = state.decidedBy[item.id];
  return choice && by
    ? [
        ...rules,
        `“${choice.label}”, decided by ${by.account}${by.after === undefined ? "" : ` after ${by.after}`} on ${timeText(by.at)}`,
      ]
    : rules;
}

const shownBefore = (item: PlanItem | undefined) =>
  item?.kind === "setting" ? (item.from?.shown ?? "") : item?.kind === "row" ? (item.from?.key ?? "") : "";

/** The proof of a job, line by line; undefined before there is one. */
export async function proofOfJob(
  view: JobView,
  timeText: (at: number) => string = paperTime,
): Promise<ProofView | undefined> {
  const { state } = view;
  const plan = await planOfJob(view);
  const { proofSha } = resultOf(state, "prove");
  if (proofSha === undefined || !plan) return undefined;
  const proof = (await getJson(proofSha)) as Proof;
  const items = new Map(plan.items.map((item) => [item.id, item]));
  const lines = proof.values.map((value): ProofLine => {
    const item = items.get(value.id);
    return {
      id: value.id,
      title: value.title,
      area: value.area,
      result: value.result,
      planned: value.planned ?? "",
      found: value.found ?? "",
      before: shownBefore(item),
      why: reasonsOf(item, state, timeText),
      backupLine: item?.from?.line ?? 0,
      backupId: item?.ofBoard ? (backupOf(state) ?? 0) : sourceBackupOf(view),
      sentLine: value.sentLine,
      readLine: value.readLine,
      cause: value.by === undefined ? (value.cause ?? null) : `Left behind by ${value.by}`,
    };
  });
  const release = (await catalogueOf(view.job.documents)).releases.get(plan.to.release);
  return { proof, lines, off: release ? offGroups(proof, release) : [] };
}

/** A proof for other programs (RFC 4180): the lines as the page shows them. */
export const proofCsv = ({ lines }: ProofView): string =>
  csvOf(lines.map(({ id, why, cause, ...line }) => ({ ...line, cause: cause ?? "", why: why.join("; "), place: id })));

/** The same as JSON, with the visit that it is of, the files that it rests on by their hashes, and who signed. */
export function proofJson({ job, state }: JobView, { proof, lines }: ProofView): string {
  const { planSha, scriptSha, twinSha } = resultOf(state, "plan");
  const { answersSha } = resultOf(state, "restore");
  const { proofSha, readBackId } = resultOf(state, "prove");
  const backupId = backupOf(state);
  return JSON.stringify(
    {
      aircraft: job.tag,
      visit: job.id,
      headline: job.headline,
      says: proofSentence(proof),
      counts: proof.counts,
      activeAsPlanned: proof.activeAsPlanned,
      signed: state.signed ? { by: signerOf(state.signed), at: new Date(state.signed.at).toISOString() } : null,
      papers: { backupId, readBackId, planSha, scriptSha, answersSha, proofSha, twinSha },
      lines,
    },
    null,
    2,
  );
}
