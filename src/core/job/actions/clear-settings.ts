import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const clearSettings = action("clear-settings", ({ tag }) => ({
  title: `Clear the settings region of ${tag}`,
  why: "It is damaged: firmware that starts on it restarts for ever. A raw copy of it is on disk.",
  needs: { "board: shows": "loader", "settings: rescued": YES },
  gives: { "settings region: is": "sound" },
  destroys: ["settings"],
  writes: true,
  leaves: {
    begun: "a settings region that is being cleared",
    done: "a settings region that is cleared",
  },
}));
