import { number, object, string } from "yup";
import { name } from "@/core/job/actions/fields";
import { behindOf, faceOf, partAction } from "@/core/job/action";
import { YES, factsOf } from "@/core/job/fact";

export const prove = partAction(
  "prove",
  (wish, part) => ({
    title: `Read back and prove${behindOf(wish, part) ? `: ${behindOf(wish, part)?.place ?? ""}` : ""}`,
    why: "What was sent is held against what the board holds now.",
    needs: factsOf(part, { shows: faceOf(wish, part), "settings restored": YES }),
    gives: factsOf(part, { "settings proved": YES }),
  }),
  object({
    readBackId: number().integer().positive().required(),
    proofSha: name(),
    proved: string().max(4000).required(),
    offCount: number().integer().min(0).required(),
    /** Why the board is likely to have another target than the one that was written. */
    suspicion: string().max(1000),
  }),
);
