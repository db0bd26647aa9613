import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const wayRound = action("way-round", ({ tag }) => ({
  title: "Know another way in",
  why: `Should the power go while the loader of ${tag} is replaced, only the one in ROM can bring it back.`,
  needs: { "loader: seen": YES },
  gives: { "loader: way round it": YES },
  hands: 1,
}));
