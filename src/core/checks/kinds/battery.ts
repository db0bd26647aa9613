import type { CheckKind } from "@/core/checks/kind";

export const battery: CheckKind = {
  id: "battery",
  title: "Battery reading",
  before: ["propellers off", "battery in"],
  does: "Measure the battery with a meter, and compare that with what the board says.",
  shows: "The voltage that the board says is right, within 2 %.",
  showsNot: "How the voltage falls under load.",
  calls: ({ area }) => area === "power",
};
