import { object, string } from "yup";
import { name } from "@/core/job/actions/fields";
import { behindOf, ofPart, partAction } from "@/core/job/action";
import { YES, factsOf } from "@/core/job/fact";

export const knowTarget = partAction(
  "know-target",
  (wish, part) => ({
    title: `Know the target${ofPart(wish, part)}`,
    why: behindOf(wish, part)
      ? "What its firmware is for, by its own word, decides which image fits."
      : "After the erase the board can no longer say which one it is.",
    needs: factsOf(part, { known: YES }),
    gives: factsOf(part, { "target known": YES, "image fits": YES }),
    costS: 1,
  }),
  object({
    target: name(),
    toRelease: string().max(100),
    imageSha: string().max(100),
    /** Of the release that is written in between. */
    detourSha: string().max(100),
    /** Of a part without a console: what it runs, by the block of its image. */
    fromRelease: string().max(100),
  }),
);
