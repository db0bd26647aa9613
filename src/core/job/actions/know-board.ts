import { object, string } from "yup";
import { name } from "@/core/job/actions/fields";
import { partAction } from "@/core/job/action";
import { YES, factsOf } from "@/core/job/fact";

export const knowBoard = partAction(
  "know-board",
  (_, part) => ({
    title: "Know the board",
    why: "Its own word and its chip must say the same.",
    needs: factsOf(part, { shows: "console" }),
    gives: factsOf(part, { known: YES }),
  }),
  object({ chipId: name(), fromRelease: name(), target: string().max(100), model: string().max(100) }),
);
