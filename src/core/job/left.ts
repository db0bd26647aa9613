import { ACTIONS, stepOf } from "@/core/job/actions";
import type { Wish } from "@/core/job/action";
import type { JobState } from "@/core/job/state";

/** Steps are looked at for what they leave; what a job is about changes nothing of that. */
const ANY_WISH: Wish = { tag: "", parts: {}, owed: {} };

/**
 * What is left on the board when the job is stopped as it stands: by the last step that wrote to it, done or begun. Undefined
 * where nothing was written.
 */
export function leftOnBoard({ steps }: Pick<JobState, "steps">): string | undefined {
  const wrote = steps.flatMap(({ id, status }) => {
    const step = stepOf(id);
    const leaves = ACTIONS.find(({ kind }) => kind === step.kind)?.moveFor(ANY_WISH, step.subject).leaves;
    if (!leaves || status === "to-do") return [];
    return [status === "done" ? leaves.done : leaves.begun];
  });
  return wrote.at(-1);
}
