import type { CheckKind } from "@/core/checks/kind";

export const receiver: CheckKind = {
  id: "receiver",
  title: "Receiver",
  before: ["transmitter on", "antenna on", "battery in if USB does not feed the receiver"],
  does: "Move each stick alone to both ends and let go of it.",
  shows:
    "The receiver is heard on its port; each stick arrives on its channel, reaches its ends and rests in the middle.",
  showsNot: "What the levers switch, and how far it is heard.",
  calls: ({ area, receives }) => receives === true || area === "firmware" || area === "receiver",
};
