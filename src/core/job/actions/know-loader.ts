import { object } from "yup";
import { name } from "@/core/job/actions/fields";
import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const knowLoader = action(
  "know-loader",
  ({ tag }) => ({
    title: "Know the board by its loader",
    why: `What its loader derives from the chip must be what the board of ${tag} would give.`,
    needs: { "board: shows": "loader" },
    gives: { "board: known": YES },
  }),
  object({ chipId: name(), model: name() }),
);
