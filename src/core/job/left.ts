import { ACTIONS, stepOf, type StepKind } from "@/core/job/actions";
import type { Wish } from "@/core/job/action";
import { batteriesIn, detourOf, fittedOf, type Goal } from "@/core/job/goals";
import type { JobState, StepState } from "@/core/job/state";
import { saidByName } from "@/core/part";
import { partOf } from "@/core/job/subject";

/** What a job is about, as far as it matters for what its steps leave: where its parts are. */
const wishOf = (goal: Goal, detour = detourOf(goal)): Wish => ({
  tag: "",
  parts: {
    ...(detour ? { main: { detour: { id: detour.releaseId, title: detour.title } } } : {}),
    ...Object.fromEntries(fittedOf(goal).map((part) => [part.name, { behind: { ...part, unfed: false } }])),
  },
  batteries: batteriesIn(goal),
  owed: {},
});

const lastDone = (steps: readonly StepState[], kind: StepKind) =>
  Math.max(-1, ...steps.flatMap((step) => (step.kind === kind && step.status === "done" ? [step.endedAt ?? 0] : [])));
/** Whether a line to parts was opened, and not closed since. */
export const isLineOpen = ({ steps }: Pick<JobState, "steps">): boolean =>
  lastDone(steps, "open-line") > lastDone(steps, "close-line");

/** The kind of parts that the open line leads to, as far as the job knows; undefined where none is open. */
export function lineLeadsTo({ steps }: Pick<JobState, "steps">): string | undefined {
  if (!isLineOpen({ steps })) return undefined;
  const opened = steps.filter(({ kind, status }) => kind === "open-line" && status === "done");
  const last = opened.toSorted((a, b) => (a.endedAt ?? 0) - (b.endedAt ?? 0)).at(-1);
  return last && saidByName(last.subject).part;
}

const PROVED = "what was written, proved and not signed off";
const OTHERS_PROVED = "what else was written, proved and not signed off";
const lineOpen = (goal: Goal) =>
  `an open line, which keeps its console from being heard: pull its cable and ${batteriesIn(goal).length > 1 ? "both its batteries" : "its battery"}`;

/**
 * What is left on the board when the job is stopped as it stands: by the last step that wrote to it, or to a part behind it, and
 * was not proved, and by a line that is open. Undefined where there is nothing.
 */
export function leftOnBoard(state: Pick<JobState, "steps">, goal: Goal): string | undefined {
  const wish = wishOf(goal);
  // of each part what was written to it last
  const wrote = new Map<string, string | undefined>();
  for (const { id, status } of state.steps) {
    const { kind, subject } = stepOf(id);
    const part = partOf(subject);
    if (kind === "prove" && status === "done") wrote.set(part, undefined);
    const leaves = ACTIONS.find((each) => each.kind === kind)?.moveFor(wish, subject).leaves;
    if (leaves && status !== "to-do") wrote.set(part, status === "done" ? leaves.done : leaves.begun);
  }
  const open = [...wrote.values()].filter((each) => each !== undefined);
  const proved = wrote.size > open.length ? (open.length === 0 ? [PROVED] : [OTHERS_PROVED]) : [];
  const left = [...open, ...proved, ...(isLineOpen(state) ? [lineOpen(goal)] : [])];
  return left.length === 0 ? undefined : left.join("; ");
}
