import { array, boolean, object, string } from "yup";
import { name } from "@/core/job/actions/fields";
import { isCarried, partsIn, visitAction } from "@/core/job/action";
import { YES, factsOf, type Facts } from "@/core/job/fact";

export const plan = visitAction(
  "plan",
  (wish) => ({
    title: "Plan the carry-over",
    why: "What changes is known, and decided, before it changes.",
    // every part whose settings go over
    needs: Object.assign(
      {},
      ...partsIn(wish)
        .filter((part) => isCarried(wish, part))
        .map((part) => factsOf(part, { "settings chosen": YES, "target known": YES })),
    ) as Facts,
    gives: { "visit: plan taken": YES },
    hands: 1,
  }),
  object({
    planSha: name(),
    /** The lines that the restore sends, written when the plan was taken. */
    scriptSha: name(),
    /** How its twin ended with these lines. */
    twinSha: string().max(64),
    /** The same for each part behind the board: what it goes to, and the lines as they would be written down. */
    parts: array(
      object({
        part: name(),
        scriptSha: name(),
        to: object({ release: name(), title: name(), target: name() }).required(),
      }),
    ).max(64),
    /** Nobody tuned what the aircraft flies on afterwards. */
    untuned: boolean(),
  }),
);
