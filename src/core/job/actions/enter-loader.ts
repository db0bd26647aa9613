import { object, string } from "yup";
import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const enterLoader = action(
  "enter-loader",
  () => ({
    title: "Into its loader",
    why: "Only the loader can write firmware.",
    needs: { "board: shows": "console", "settings: kept": YES, "plan: taken": YES },
    gives: { "board: shows": "loader" },
    restarts: true,
  }),
  object({ wayIn: string().max(100) }),
);
