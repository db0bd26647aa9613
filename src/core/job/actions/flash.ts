import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const flash = action("flash", ({ release, loader }) => ({
  title: `Write ${release.title}`,
  why: "The segment that makes it start is written last: half an image can never start.",
  needs: {
    "board: shows": "loader",
    "board: known": YES,
    "settings: rescued": YES,
    "plan: taken": YES,
    "board: reads": YES,
    ...(loader ? { "loader: seen": YES, "loader: serves": YES } : {}),
  },
  gives: { "main: holds": release.id },
  undoes: ["board: shows", "main: runs"],
  costS: 20,
  risk: 0.01,
  destroys: ["firmware"],
  restarts: true,
  writes: true,
  leaves: {
    begun: "a firmware that is half written: it does not start",
    done: "the new firmware on its defaults: none of its settings are restored",
  },
}));
