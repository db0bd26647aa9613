import { number, object } from "yup";
import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const decodeRescue = action(
  "decode-rescue",
  ({ tag }) => ({
    title: `Read the rescued settings of ${tag}`,
    why: "No backup of it is on file: what its settings region holds is all there is.",
    needs: {
      // whoever can speak is asked: a read-out by console says more
      "board: speaks": "not",
      "settings: rescued": YES,
      "rescue: holds": "settings",
      "board: target known": YES,
    },
    gives: { "settings: chosen": YES },
  }),
  object({ backupId: number().integer().positive().required() }),
);
