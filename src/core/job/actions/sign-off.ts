import { visitAction } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const signOff = visitAction("sign-off", ({ owed }) => ({
  title: "Sign off",
  why: "A person answers for the aircraft's return to service.",
  needs: owed,
  gives: { "visit: signed off": YES },
  hands: 1,
}));
