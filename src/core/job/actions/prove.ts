import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const prove = action("prove", () => ({
  title: "Read back and prove",
  why: "What was sent is held against what the board holds now.",
  needs: { "board: shows": "console", "settings: restored": YES },
  gives: { "settings: proved": YES },
}));
