import { ACTIONS } from "@/core/job/actions";
import type { JobState } from "@/core/job/state";

/** Steps are looked at for what they leave; what a job is about changes nothing of that. */
const ANY_WISH = { tag: "", release: { id: "", title: "" } };

/**
 * What is left on the board when the job is stopped as it stands: by the last step that wrote to it, done or begun. Undefined
 * where nothing was written.
 */
export function leftOnBoard({ steps }: Pick<JobState, "steps">): string | undefined {
  const wrote = steps.flatMap(({ id, status }) => {
    const leaves = ACTIONS.find(({ kind }) => kind === id)?.moveFor(ANY_WISH).leaves;
    if (!leaves || status === "to-do") return [];
    return [status === "done" ? leaves.done : leaves.begun];
  });
  return wrote.at(-1);
}
