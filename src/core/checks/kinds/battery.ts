import type { CheckKind } from "@/core/checks/kind";

export const battery: CheckKind = {
  id: "battery",
  title: "Battery reading",
  before: ["propellers off", "battery in"],
  does: "Hold a meter to the battery, and what the board says beside it.",
  shows: "What it says of the battery is right, within two in a hundred.",
  showsNot: "How the voltage falls under load.",
  calls: ({ area }) => area === "power",
};
