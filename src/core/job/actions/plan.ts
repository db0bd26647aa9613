import { boolean, object, string } from "yup";
import { name } from "@/core/job/actions/fields";
import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const plan = action(
  "plan",
  () => ({
    title: "Plan the carry-over",
    why: "What changes is known, and decided, before it changes.",
    needs: { "settings: chosen": YES, "board: target known": YES },
    gives: { "plan: taken": YES },
    hands: 1,
  }),
  object({
    planSha: name(),
    /** The lines that the restore sends, written when the plan was taken. */
    scriptSha: name(),
    /** How its twin ended with these lines. */
    twinSha: string().max(64),
    /** Nobody tuned what the aircraft flies on afterwards. */
    untuned: boolean(),
  }),
);
