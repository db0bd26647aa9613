import type { CheckKind } from "@/core/checks/kind";

export const arms: CheckKind = {
  id: "arms",
  title: "Each arm",
  before: ["propellers off", "battery in"],
  does: "Let each output turn once, alone; say which arm moved and which way. Then all together at rest.",
  shows: "Each motor and servo is where it should be, turns the right way, and all start together.",
  showsNot: "How they answer to a tilt.",
  calls: ({ area }) => ["outputs", "mixer", "firmware"].includes(area),
};
