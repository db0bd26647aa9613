import { object } from "yup";
import { name } from "@/core/job/actions/fields";
import { behindOf, faceOf, ofPart, releaseWished, partAction } from "@/core/job/action";
import { YES, factsOf } from "@/core/job/fact";

export const restore = partAction(
  "restore",
  (wish, part) => ({
    title: behindOf(wish, part) ? `Write the settings${ofPart(wish, part)}` : "Restore the settings in order",
    why: behindOf(wish, part)
      ? "Into its settings region, as its new release keeps them."
      : "Each line waits for its answer; nothing is lost on the way.",
    needs: {
      ...factsOf(part, { shows: faceOf(wish, part), runs: releaseWished(wish, part).id }),
      "visit: plan taken": YES,
    },
    gives: factsOf(part, { "settings restored": YES }),
    destroys: [{ of: part, what: "settings" }],
    restarts: true,
    writes: true,
    leaves: {
      begun: `a part of the settings${ofPart(wish, part)}: the rest stand at their defaults`,
      done: `the settings${ofPart(wish, part)}, written and not proved`,
    },
  }),
  object({ answersSha: name() }),
);
