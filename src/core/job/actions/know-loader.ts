import { object } from "yup";
import { name } from "@/core/job/actions/fields";
import { partAction } from "@/core/job/action";
import { YES, factsOf } from "@/core/job/fact";

export const knowLoader = partAction(
  "know-loader",
  ({ tag }, part) => ({
    title: "Know the board by its loader",
    why: `What its loader derives from the chip must be what the board of ${tag} would give.`,
    needs: factsOf(part, { shows: "loader" }),
    gives: factsOf(part, { known: YES }),
  }),
  object({ chipId: name(), model: name() }),
);
