import { partAction } from "@/core/job/action";
import { YES, factsOf } from "@/core/job/fact";

export const clearSettings = partAction("clear-settings", ({ tag }, part) => ({
  title: `Clear the settings region of ${tag}`,
  why: "It is damaged: firmware that starts on it restarts for ever. A raw copy of it is on disk.",
  needs: factsOf(part, { shows: "loader", "settings rescued": YES }),
  gives: factsOf(part, { "settings region": "sound" }),
  destroys: [{ of: part, what: "settings" }],
  writes: true,
  leaves: {
    begun: "a settings region that is being cleared",
    done: "a settings region that is cleared",
  },
}));
