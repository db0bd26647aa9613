import type { CheckKind } from "@/core/checks/kind";

export const answer: CheckKind = {
  id: "answer",
  title: "Answer to a tilt",
  before: ["propellers off", "battery in"],
  does: "Arm the aircraft, hold it, and tilt it by hand to each side: the lower side must turn faster.",
  shows: "What the board feels reaches the right motors with the right sign.",
  showsNot: "How strongly it should answer.",
  calls: ({ area, mounts, flies }) =>
    mounts === true || area === "mixer" || (flies && ["outputs", "sensors"].includes(area)),
};
