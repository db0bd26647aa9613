import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const checkAttitude = action("check-attitude", () => ({
  title: "Check: attitude signs",
  why: "Shows that the board knows how it stands in the airframe. Does not show that the motors answer rightly.",
  needs: { "settings: proved": YES },
  gives: { "attitude: shown": YES },
  hands: 1,
  shows: "attitude signs",
}));
