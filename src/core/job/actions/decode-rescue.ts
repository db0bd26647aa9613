import { number, object } from "yup";
import { behindOf, partAction } from "@/core/job/action";
import { YES, factsOf } from "@/core/job/fact";

export const decodeRescue = partAction(
  "decode-rescue",
  (wish, part) => ({
    title: `Read the rescued settings of ${behindOf(wish, part)?.place ?? wish.tag}`,
    why: behindOf(wish, part)
      ? "It has no console: what its settings region holds is its read-out."
      : "No backup of it is on file: what its settings region holds is all there is.",
    needs: {
      // whoever can speak is asked: a read-out by console says more
      ...factsOf(part, { speaks: "not", "settings rescued": YES, "rescue holds": "settings", "target known": YES }),
    },
    gives: factsOf(part, { "settings chosen": YES }),
  }),
  object({ backupId: number().integer().positive() }),
);
