import { loaderAction } from "@/core/job/action";
import { YES, factsOf } from "@/core/job/fact";

export const wayRound = loaderAction("way-round", ({ tag }, loader) => ({
  title: "Know another way in",
  why: `Should the power go while the loader of ${tag} is replaced, only the one in ROM can bring it back.`,
  needs: factsOf(loader, { seen: YES }),
  gives: factsOf(loader, { "way round it": YES }),
  hands: 1,
}));
