import { partAction } from "@/core/job/action";
import { detourWished, whereDetour } from "@/core/job/actions/flash-detour";
import { factsOf } from "@/core/job/fact";

export const startDetour = partAction(
  "start-detour",
  (wish, part) => {
    const { id, title } = detourWished(wish);
    return {
      title: `First start of ${title}`,
      why: "It must speak before it is asked for the line. It runs on its defaults, and nothing of the aircraft is on it.",
      needs: factsOf(part, { holds: id, "settings region": "sound" }),
      gives: factsOf(part, { runs: id, shows: "console" }),
      restarts: true,
    };
  },
  undefined,
  { subjects: whereDetour },
);
