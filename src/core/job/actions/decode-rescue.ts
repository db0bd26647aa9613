import { number, object } from "yup";
import { partAction } from "@/core/job/action";
import { YES, factsOf } from "@/core/job/fact";

export const decodeRescue = partAction(
  "decode-rescue",
  ({ tag }, part) => ({
    title: `Read the rescued settings of ${tag}`,
    why: "No backup of it is on file: what its settings region holds is all there is.",
    needs: {
      // whoever can speak is asked: a read-out by console says more
      ...factsOf(part, { speaks: "not", "settings rescued": YES, "rescue holds": "settings", "target known": YES }),
    },
    gives: factsOf(part, { "settings chosen": YES }),
  }),
  object({ backupId: number().integer().positive().required() }),
);
