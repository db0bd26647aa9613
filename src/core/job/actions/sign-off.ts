import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const signOff = action("sign-off", () => ({
  title: "Sign off",
  why: "A person answers for the aircraft's return to service.",
  needs: { "settings: proved": YES, "attitude: shown": YES, "receiver: shown": YES, "board: calibrated": YES },
  gives: { "job: signed off": YES },
  hands: 1,
}));
