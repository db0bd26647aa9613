import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const liftProtection = action("lift-protection", ({ tag }) => ({
  title: "Lift the protection against reading",
  why: `Nothing that is written to the board of ${tag} could be read back and proved before that.`,
  needs: { "board: shows": "loader", "board: known": YES, "settings: rescued": YES, "plan: taken": YES },
  gives: { "board: reads": YES, "settings region: is": "sound" },
  undoes: ["main: runs"],
  costS: 15,
  risk: 0.01,
  hands: 1,
  destroys: ["firmware", "settings"],
  restarts: true,
  writes: true,
  leaves: {
    begun: "a flash that is being erased",
    done: "a flash that is erased: neither firmware nor settings are on it",
  },
}));
