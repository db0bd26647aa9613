import { object, string } from "yup";
import { name } from "@/core/job/actions/fields";
import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const knowBoard = action(
  "know-board",
  () => ({
    title: "Know the board",
    why: "Its own word and its chip must say the same.",
    needs: { "board: shows": "console" },
    gives: { "board: known": YES },
  }),
  object({ chipId: name(), fromRelease: name(), target: string().max(100), model: string().max(100) }),
);
