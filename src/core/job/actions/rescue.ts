import { object, string } from "yup";
import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const rescue = action(
  "rescue",
  () => ({
    title: "Read the settings region as it is",
    why: "A raw copy, taken through the loader before anything is erased.",
    needs: { "board: shows": "loader", "board: known": YES, "board: target known": YES },
    gives: { "settings: rescued": YES },
  }),
  object({ rescueSha: string().max(100) }),
);
