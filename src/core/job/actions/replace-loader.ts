import { loaderAction, planFirst, releaseWished } from "@/core/job/action";
import { partOf } from "@/core/job/subject";
import { YES, factsOf } from "@/core/job/fact";

export const replaceLoader = loaderAction("replace-loader", (wish, loader) => {
  const part = partOf(loader);
  const { wants } = wish.parts[loader] ?? {};
  return {
    title: "Replace the loader",
    why: `${wants === undefined ? "Without one, only its pads lead into it." : `${releaseWished(wish, part).title} wants ${wants}.`} The sector that makes it start is written last.`,
    needs: {
      ...factsOf(part, { shows: "loader" }),
      ...factsOf(loader, { seen: YES }),
      ...factsOf(part, { "settings rescued": YES }),
      ...planFirst(wish),
      ...factsOf(part, { reads: YES }),
    },
    gives: factsOf(loader, { written: YES }),
    costS: 15,
    risk: 0.02,
    destroys: [{ of: loader, what: "firmware" }],
    restarts: true,
    writes: true,
    leaves: {
      begun: "a loader that is half written: only its boot pads may lead into it",
      done: "the new loader, and the firmware that was on it",
    },
  };
});
