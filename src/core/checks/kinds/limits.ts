import type { CheckKind } from "@/core/checks/kind";

export const limits: CheckKind = {
  id: "limits",
  title: "Limits, read aloud",
  before: [],
  does: "Read each of them aloud to whoever flies it.",
  shows: "Whoever flies it knows what it will refuse to do, and where it turns back.",
  showsNot: "That they fit the place where it flies.",
  calls: ({ area, flies, restricts }) =>
    restricts !== undefined || area === "lines" || (area === "navigation" && flies),
};
