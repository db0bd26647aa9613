import { object, string } from "yup";
import { name } from "@/core/job/actions/fields";
import { behindOf, partAction, type Wish } from "@/core/job/action";
import type { Part } from "@/core/job/subject";
import { partTitle } from "@/core/part";
import { YES, factsOf } from "@/core/job/fact";

function toldOf(wish: Wish, part: Part) {
  const behind = behindOf(wish, part);
  return behind
    ? { title: `Know ${partTitle(behind)}`, why: "What answers has to be a part of this kind." }
    : {
        title: "Know the board by its loader",
        why: `What its loader derives from the chip must be what the board of ${wish.tag} would give.`,
      };
}

export const knowLoader = partAction(
  "know-loader",
  (wish, part) => ({
    ...toldOf(wish, part),
    needs: factsOf(part, { shows: "loader" }),
    gives: factsOf(part, { known: YES }),
  }),
  object({
    chipId: name(),
    model: string().max(100),
    /** Of a part behind a line: as its loader says it. */
    processor: string().max(100),
  }),
);
