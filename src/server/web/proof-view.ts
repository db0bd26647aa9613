import {
  choiceOf,
  offGroups,
  PROOF_RESULTS,
  proofSentence,
  type OffGroup,
  type PlanItem,
  type Proof,
  type ProofLine,
} from "@/core/carryover";
import { firmwareById } from "@/core/catalog";
import {
  backupOf,
  carriedBy,
  fittedOf,
  itemPrefix,
  releaseFor,
  resultOf,
  signerOf,
  type JobState,
  type Part,
} from "@/core/job";
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

/** What was proved of each part of a job, the main one first; those that are not proved yet are not among them. */
async function proofsOfJob({ job, state }: JobView): Promise<{ part: Part; proof: Proof }[]> {
  const found: { part: Part; proof: Proof }[] = [];
  for (const part of carriedBy(job.goal)) {
    const { proofSha } = resultOf(state, "prove", part);
    if (proofSha !== undefined) found.push({ part, proof: (await getJson(proofSha)) as Proof });
  }
  return found;
}

const placeOf = ({ job }: JobView, part: Part): string =>
  fittedOf(job.goal)
    .filter(({ name }) => name === part)
    .map(({ place }) => `, ${place}`)
    .join("");

/** All that was proved as one: values by the names that the plan of the job has for them, each told by its place. */
const wholeProof = (proofs: readonly { readonly part: Part; readonly proof: Proof }[], view: JobView): Proof => ({
  values: proofs.flatMap(({ part, proof }) =>
    proof.values.map((value) => ({
      ...value,
      id: itemPrefix(part) + value.id,
      title: `${value.title}${placeOf(view, part)}`,
    })),
  ),
  counts: Object.fromEntries(
    PROOF_RESULTS.map((result) => [result, proofs.reduce((sum, { proof }) => sum + proof.counts[result], 0)]),
  ) as Proof["counts"],
  activeAsPlanned: proofs.every(({ proof }) => proof.activeAsPlanned),
});

/** The proof of a job, line by line; undefined before there is one. */
export async function proofOfJob(
  view: JobView,
  timeText: (at: number) => string = paperTime,
): Promise<ProofView | undefined> {
  const { state, job } = view;
  const plan = await planOfJob(view);
  const proofs = await proofsOfJob(view);
  if (proofs.length === 0 || !plan) return undefined;
  const proof = wholeProof(proofs, view);
  const items = new Map(plan.items.map((item) => [item.id, item]));
  const sources = new Map(proofs.map(({ part }) => [itemPrefix(part), sourceBackupOf(view, part)]));
  const sourceOfValue = (id: string) => [...sources].find(([prefix]) => prefix !== "" && id.startsWith(prefix))?.[1];
  const lines = proof.values.map((value): ProofLine => {
    const item = items.get(value.id);
    const source = sourceOfValue(value.id) ?? sources.get("") ?? 0;
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
      backupId: item?.ofBoard ? (backupOf(state) ?? 0) : source,
      sentLine: value.sentLine,
      readLine: value.readLine,
      cause: value.by === undefined ? (value.cause ?? null) : `Left behind by ${value.by}`,
    };
  });
  const catalogue = await catalogueOf(job.documents);
  const off = proofs.flatMap(({ part, proof: own }) => {
    const release = firmwareById(catalogue, releaseFor(job.goal, part) ?? "");
    return release ? offGroups(own, release) : [];
  });
  return { proof, lines, off };
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
  const parts = fittedOf(job.goal).map(({ name, place }) => ({
    part: name,
    place,
    backupId: backupOf(state, name) ?? null,
    readBackId: resultOf(state, "prove", name).readBackId ?? null,
    proofSha: resultOf(state, "prove", name).proofSha ?? null,
  }));
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
      ...(parts.length === 0 ? {} : { parts }),
      lines,
    },
    null,
    2,
  );
}
