import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const knowBoard = action("know-board", () => ({
  title: "Know the board",
  why: "Its own word and its chip must say the same.",
  needs: { "board: shows": "console" },
  gives: { "board: known": YES },
}));
