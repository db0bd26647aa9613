import { object } from "yup";
import { name } from "@/core/job/actions/fields";
import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const restore = action(
  "restore",
  ({ release }) => ({
    title: "Restore the settings in order",
    why: "Each line waits for its answer; nothing is lost on the way.",
    needs: { "board: shows": "console", "main: runs": release.id, "plan: taken": YES },
    gives: { "settings: restored": YES },
    destroys: ["settings"],
    restarts: true,
    writes: true,
    leaves: {
      begun: "a part of its settings: the rest stand at their defaults",
      done: "its settings, written and not proved",
    },
  }),
  object({ answersSha: name() }),
);
