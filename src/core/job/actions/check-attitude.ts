import { checkAction } from "@/core/job/action";
import { settingsChange } from "@/core/job/actions/calls";
import { YES } from "@/core/job/fact";

export const checkAttitude = checkAction("attitude", settingsChange, () => ({
  title: "Check: attitude signs",
  why: "Shows that the board knows how it stands in the airframe. Does not show that the motors answer rightly.",
  needs: { "main: settings proved": YES },
  shows: "attitude signs",
}));
