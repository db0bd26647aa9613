import type { CheckKind } from "@/core/checks/kind";

export const level: CheckKind = {
  id: "level",
  title: "Level at rest",
  before: ["propellers off"],
  does: "Set it on a level plate and read what it feels; calibrate it where that is more than a degree.",
  shows: "The level sensor says level where it is level.",
  showsNot: "How it holds that in flight, when it is warm or shaken.",
  calls: ({ area, mounts }) => mounts === true || area === "calibration",
};
