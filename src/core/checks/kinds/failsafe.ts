import type { CheckKind } from "@/core/checks/kind";

export const failsafe: CheckKind = {
  id: "failsafe",
  title: "Failsafe, off and on again",
  before: ["propellers off", "battery in", "transmitter on"],
  does: "Arm it, switch the transmitter off and wait; switch it on again. Note both times.",
  shows: "It notices that nobody steers, does what it should, and gives the sticks back.",
  showsNot: "Whether it comes home, or sinks softly, from where it is.",
  calls: ({ area, receives }) => receives === true || ["failsafe", "receiver", "firmware"].includes(area),
};
