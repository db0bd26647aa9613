import { onBoard, planUpdate, type OnBoard, type Plan } from "@/core/carryover";
import { releaseById } from "@/core/catalog";
import {
  currentStep,
  fittedOf,
  itemPrefix,
  type Part,
  foldJob,
  leftOnBoard,
  ownPlanOf,
  sourceOf,
  sourcesOf,
  stepSpec,
  type JobState,
  planOfJobParts,
  type PlanOrder,
  resultOf,
  backupOf,
  targetOf,
} from "@/core/job";
import { ProblemError, valueOf, type Problem } from "@/core/problem";
import { recitalOf } from "@/server/repositories/backups";
import { getJson } from "@/server/repositories/blobs";
import { catalogueOf } from "@/server/repositories/catalogue";
import { planFor } from "@/server/repositories/job-plans";
import { entriesOfJob } from "@/server/repositories/journal";
import { jobById, type JobRow } from "@/server/repositories/jobs";

export interface JobView {
  readonly job: JobRow;
  readonly state: JobState;
  readonly begun: boolean;
  readonly stopReason: string | null;
}

/** A job with its state folded from its journal. */
export async function readJob(id: number): Promise<JobView | undefined> {
  const job = Number.isSafeInteger(id) ? await jobById(id) : undefined;
  if (!job) return undefined;
  const entries = await entriesOfJob(job.id);
  const stopped = entries.map((e) => e.entry).find((entry) => entry.kind === "stopped");
  return {
    job,
    state: foldJob(job.steps, entries),
    begun: entries.length > 0,
    stopReason: stopped?.kind === "stopped" ? stopped.reason : null,
  };
}

/** A job whose record cannot be read: what it is, and why. */
export interface TroubledJob {
  readonly job: JobRow;
  readonly trouble: Problem;
}

/** The same; where its record cannot be read, the job with what is wrong. */
export async function readJobAnyway(id: number): Promise<JobView | TroubledJob | undefined> {
  try {
    return await readJob(id);
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    const job = await jobById(id);
    return job && { job, trouble: error.problem };
  }
}

export function cardOf({ job, state, begun, stopReason }: JobView) {
  const on = currentStep(state);
  const at = on ? state.steps.indexOf(on) : -1;
  return {
    id: job.id,
    tag: job.tag,
    headline: job.headline,
    bayNo: job.bay_no,
    orderedBy: job.ordered_by,
    phase: state.phase,
    begun,
    stopReason,
    at: at < 0 ? null : at,
    places: Object.fromEntries(fittedOf(job.goal).map((part) => [part.name, `${part.title}, ${part.place}`])),
    backupId: backupOf(state) ?? null,
    left: leftOnBoard(state, job.goal),
    steps: state.steps.map((step) => {
      const { title, why, writes = false, shows } = stepSpec(job.steps, step);
      return { title, why, writes, checks: shows !== undefined, state: step };
    }),
    cameIn: state.steps.flatMap(({ spec }) => (spec ? [spec.title] : [])),
    struck: state.struck.map((step) => ({ title: stepSpec(job.steps, step).title, because: step.because })),
  };
}

/** The backup that the values of a job's plan come from; 0 before there is one. */
export const sourceBackupOf = ({ job, state }: JobView, part: Part = "main"): number =>
  sourceOf(job.goal, part) ?? backupOf(state, part) ?? 0;

/** The parts of a plan beside the main one: by what their items begin with, where they are and what they come from. */
export const planParts = ({ job, state }: JobView) =>
  fittedOf(job.goal).map(({ name, place }) => ({
    prefix: itemPrefix(name),
    place,
    backupId: backupOf(state, name) ?? 0,
  }));

const orderOf = ({ job, state }: JobView): PlanOrder => ({
  goal: job.goal,
  target: targetOf(state),
  taken: backupOf(state),
});

/** The plan of a job: the taken one, or what it would be by the backup; undefined before there is a backup. */
export async function planOfJob(view: JobView): Promise<Plan | undefined> {
  const { planSha } = resultOf(view.state, "plan");
  if (planSha !== undefined) return (await getJson(planSha)) as Plan;
  const catalogue = await catalogueOf(view.job.documents);
  return planOfJobParts(view.job.goal, view.state, (order) => planFor(order, catalogue));
}

/**
 * What a plan would change of what the board holds, by the read-out that its job took; undefined where the plan is made from
 * that read-out alone, and so says it itself.
 */
export async function onBoardOfJob(view: JobView, plan: Plan): Promise<OnBoard | undefined> {
  const { job, state } = view;
  if (sourceOf(job.goal) === undefined && ownPlanOf(job.goal) === undefined) return undefined;
  const catalogue = await catalogueOf(job.documents);
  const { board } = (await sourcesOf(orderOf(view), (id) => recitalOf(id, catalogue))) ?? {};
  if (!board) return undefined;
  const release = valueOf(releaseById(catalogue, job.goal.runs.main));
  const own = planUpdate(board, release, targetOf(state) ?? "", catalogue);
  return own.ok ? onBoard(plan, own.value, state.decisions, release) : undefined;
}
