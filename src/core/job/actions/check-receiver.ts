import { checkAction } from "@/core/job/action";
import { settingsChange } from "@/core/job/actions/calls";
import { YES } from "@/core/job/fact";

export const checkReceiver = checkAction("receiver", settingsChange, () => ({
  title: "Check: receiver ends",
  why: "Shows that all four sticks arrive and reach their ends. Does not show what the failsafe does.",
  needs: { "main: settings proved": YES },
  shows: "receiver ends",
}));
