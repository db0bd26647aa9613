import type { CheckKind } from "@/core/checks/kind";

export const load: CheckKind = {
  id: "load",
  title: "Load of the processor",
  before: ["propellers off", "battery in"],
  does: "Read the load, armed and with all that it drives switched on.",
  shows: "The processor has time left for all that it is asked to do.",
  showsNot: "What a log or a screen that is added later costs.",
  calls: ({ loads }) => loads === true,
};
