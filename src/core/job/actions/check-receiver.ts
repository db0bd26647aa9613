import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const checkReceiver = action("check-receiver", () => ({
  title: "Check: receiver ends",
  why: "Shows that all four sticks arrive and reach their ends. Does not show what the failsafe does.",
  needs: { "settings: proved": YES },
  gives: { "receiver: shown": YES },
  hands: 1,
  shows: "receiver ends",
}));
