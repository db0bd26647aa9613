import { homeOf, type Results, type StepKind } from "@/core/job/actions";
import type { Subject } from "@/core/job/subject";
import type { StepState } from "@/core/job/state";

/** What is looked through: the steps of a job, in their order. */
type Steps = Pick<{ readonly steps: readonly StepState[] }, "steps">;

/** What a step found out when it was done last; nothing of it before that, or where the job has none of the kind. */
export const resultOf = <K extends StepKind>({ steps }: Steps, kind: K, subject: Subject = homeOf(kind)): Results[K] =>
  (steps.findLast((step) => step.kind === kind && step.subject === subject && step.result)?.result ?? {}) as Results[K];

/** The read-out that the job took of a part: by its console, or out of its rescued settings region. */
export const backupOf = (job: Steps, part: Subject = "main"): number | undefined =>
  resultOf(job, "decode-rescue", part).backupId ?? resultOf(job, "back-up", part).backupId;

/** The model that a board was known as when the job knew it. */
export const modelOf = (job: Steps, part: Subject = "main"): string | undefined =>
  resultOf(job, "know-loader", part).model ?? resultOf(job, "know-board", part).model;

/** The target that the job goes by; before it is settled, the one that the board names itself. */
export const targetOf = (job: Steps, part: Subject = "main"): string | undefined =>
  resultOf(job, "know-target", part).target ?? resultOf(job, "know-board", part).target;
