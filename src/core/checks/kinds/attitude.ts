import type { CheckKind } from "@/core/checks/kind";

export const attitude: CheckKind = {
  id: "attitude",
  title: "Attitude signs",
  before: ["propellers off"],
  does: "Lift the nose, lower the right side, turn it clockwise; set it level in between.",
  shows: "The board knows how it stands in the airframe.",
  showsNot: "Whether the motors answer correctly.",
  calls: ({ area, flies, mounts }) => mounts === true || area === "firmware" || (area === "sensors" && flies),
};
