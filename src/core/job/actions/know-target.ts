import { object, string } from "yup";
import { name } from "@/core/job/actions/fields";
import { partAction } from "@/core/job/action";
import { YES, factsOf } from "@/core/job/fact";

export const knowTarget = partAction(
  "know-target",
  (_, part) => ({
    title: "Know the target",
    why: "After the erase the board can no longer say which one it is.",
    needs: factsOf(part, { known: YES }),
    gives: factsOf(part, { "target known": YES, "image fits": YES }),
    costS: 1,
  }),
  object({ target: name(), toRelease: name(), imageSha: string().max(100) }),
);
