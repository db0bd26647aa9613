import { number, object } from "yup";
import { partAction } from "@/core/job/action";
import { YES, factsOf } from "@/core/job/fact";

export const backUp = partAction(
  "back-up",
  ({ tag }, part) => ({
    title: `Read out everything on ${tag}`,
    why: "Nothing is erased before the whole of it is on disk.",
    needs: factsOf(part, { known: YES, shows: "console" }),
    gives: factsOf(part, { "settings kept": YES, "settings chosen": YES }),
  }),
  object({ backupId: number().integer().positive().required() }),
);
