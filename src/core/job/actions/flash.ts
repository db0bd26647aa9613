import { behindOf, ofPart, isCarried, releaseWished, partAction } from "@/core/job/action";
import { partTitle } from "@/core/part";
import { loaderOfPart } from "@/core/job/subject";
import { YES, factsOf } from "@/core/job/fact";

export const flash = partAction("flash", (wish, part) => {
  const loader = loaderOfPart(part);
  const release = releaseWished(wish, part);
  const behind = behindOf(wish, part);
  const again = wish.parts[part]?.detour !== undefined;
  return {
    title: `Write ${release.title}${behind ? ` to ${partTitle(behind)}` : again ? " again" : ""}`,
    why: "The segment that makes it start is written last: half an image can never start.",
    needs: {
      ...factsOf(part, { shows: "loader", known: YES, "settings rescued": YES }),
      "visit: plan taken": YES,
      ...factsOf(part, { reads: YES }),
      // what is behind the board follows the firmware that drives it
      ...(behind && isCarried(wish, "main") && !wish.parts.main?.detour
        ? factsOf("main", { runs: releaseWished(wish, "main").id })
        : {}),
      ...(wish.parts[loader] ? factsOf(loader, { seen: YES, serves: YES }) : {}),
    },
    gives: factsOf(part, { holds: release.id }),
    undoes: [`${part}: shows`, `${part}: runs`],
    costS: 20,
    risk: 0.01,
    destroys: [{ of: part, what: "firmware" }],
    restarts: true,
    writes: true,
    leaves: {
      begun: `a firmware${ofPart(wish, part)} that is half written: it does not start`,
      done: `${again ? "its own" : "the new"} firmware${ofPart(wish, part)} on its defaults: none of its settings are restored`,
    },
  };
});
