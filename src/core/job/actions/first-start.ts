import { type Behind, behindOf, faceOf, ofPart, releaseWished, partAction } from "@/core/job/action";
import { isBattery } from "@/core/catalog";
import { batteries, factsOf, type Facts } from "@/core/job/fact";

/** What has to be so for a part behind a line to be woken. */
const reachable = ({ part, supply }: Behind): Facts => ({
  ...factsOf("main", { line: part }),
  ...(isBattery(supply) ? batteries([supply], "in") : {}),
});

export const firstStart = partAction("first-start", (wish, part) => {
  const behind = behindOf(wish, part);
  return {
    title: `First start${ofPart(wish, part)}`,
    why: "The new release must speak before it is given anything.",
    needs: {
      ...factsOf(part, { holds: releaseWished(wish, part).id, "settings region": "sound" }),
      ...(behind ? reachable(behind) : {}),
    },
    gives: factsOf(part, { runs: releaseWished(wish, part).id, shows: faceOf(wish, part) }),
    restarts: true,
  };
});
