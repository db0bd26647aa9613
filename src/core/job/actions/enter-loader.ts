import { object, string } from "yup";
import { partAction } from "@/core/job/action";
import { YES, factsOf } from "@/core/job/fact";

export const enterLoader = partAction(
  "enter-loader",
  (_, part) => ({
    title: "Into its loader",
    why: "Only the loader can write firmware.",
    needs: { ...factsOf(part, { shows: "console", "settings kept": YES }), "visit: plan taken": YES },
    gives: factsOf(part, { shows: "loader" }),
    restarts: true,
  }),
  object({ wayIn: string().max(100) }),
);
