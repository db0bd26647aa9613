import { aircraftAction, partsBehind, planFirst } from "@/core/job/action";
import { shownBehind } from "@/core/job/actions/open-line";
import { YES } from "@/core/job/fact";

export const makeSafe = aircraftAction("make-safe", (wish) => ({
  title: "Propellers off, battery out",
  why: "The board restarts several times.",
  // what the battery feeds is read before there can be a plan, and may turn something
  needs: partsBehind(wish).some(({ supply }) => supply === "battery") ? {} : planFirst(wish),
  gives: { "aircraft: propellers off": YES, "aircraft: battery out": YES },
  undoes: ["aircraft: battery in", ...shownBehind(wish, { supply: "battery" })],
  costS: 10,
  hands: 1,
}));
