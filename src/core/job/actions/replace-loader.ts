import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const replaceLoader = action("replace-loader", ({ release, loader }) => ({
  title: "Replace the loader",
  why: `${loader?.wants === undefined ? "Without one, only its pads lead into it." : `${release.title} wants ${loader.wants}.`} The sector that makes it start is written last.`,
  needs: {
    "board: shows": "loader",
    "loader: seen": YES,
    "settings: rescued": YES,
    "plan: taken": YES,
    "board: reads": YES,
  },
  gives: { "loader: written": YES },
  costS: 15,
  risk: 0.02,
  destroys: ["loader"],
  restarts: true,
  writes: true,
  leaves: {
    begun: "a loader that is half written: only its boot pads may lead into it",
    done: "the new loader, and the firmware that was on it",
  },
}));
