import type { CheckKind } from "@/core/checks/kind";

export const hover: CheckKind = {
  id: "hover",
  title: "First hover",
  before: ["propellers on", "nobody within ten metres"],
  does: "Hover low for a minute, with a hand on the switch that stops it; then feel the motors.",
  shows: "It flies with these values without shaking, and the motors stay cool.",
  showsNot: "How it flies in wind, or with a load.",
  calls: ({ flies }) => flies,
};
