import { number, object } from "yup";
import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const backUp = action(
  "back-up",
  ({ tag }) => ({
    title: `Read out everything on ${tag}`,
    why: "Nothing is erased before the whole of it is on disk.",
    needs: { "board: known": YES, "board: shows": "console" },
    gives: { "settings: kept": YES, "settings: chosen": YES },
  }),
  object({ backupId: number().integer().positive().required() }),
);
