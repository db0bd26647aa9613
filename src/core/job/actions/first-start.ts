import { releaseWished, partAction } from "@/core/job/action";
import { factsOf } from "@/core/job/fact";

export const firstStart = partAction("first-start", (wish, part) => ({
  title: "First start",
  why: "The new release must speak before it is given anything.",
  needs: factsOf(part, { holds: releaseWished(wish, part).id, "settings region": "sound" }),
  gives: factsOf(part, { runs: releaseWished(wish, part).id, shows: "console" }),
  restarts: true,
}));
