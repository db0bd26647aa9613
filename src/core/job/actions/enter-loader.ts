import { object, string } from "yup";
import { partAction, planFirst } from "@/core/job/action";
import { YES, factsOf } from "@/core/job/fact";

export const enterLoader = partAction(
  "enter-loader",
  (wish, part) => ({
    title: "Into its loader",
    why: "Only the loader can write firmware.",
    needs: { ...factsOf(part, { shows: "console", "settings kept": YES }), ...planFirst(wish) },
    gives: factsOf(part, { shows: "loader" }),
    restarts: true,
  }),
  object({ wayIn: string().max(100) }),
);
