import { object, string } from "yup";
import { name } from "@/core/job/actions/fields";
import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const knowTarget = action(
  "know-target",
  () => ({
    title: "Know the target",
    why: "After the erase the board can no longer say which one it is.",
    needs: { "board: known": YES },
    gives: { "board: target known": YES, "image: fits": YES },
    costS: 1,
  }),
  object({ target: name(), toRelease: name(), imageSha: string().max(100) }),
);
