import type { CheckKind } from "@/core/checks/kind";

export const levers: CheckKind = {
  id: "levers",
  title: "Levers",
  before: ["propellers off", "transmitter on"],
  does: "Put each lever into each of its positions, and read what the board says that it switches.",
  shows: "Each position switches what it should, and nothing else.",
  showsNot: "Whether what is switched works in flight.",
  calls: ({ area }) => area === "switches",
};
