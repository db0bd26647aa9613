import { aircraftAction, partsBehind, planFirst } from "@/core/job/action";
import { shownBehind } from "@/core/job/actions/open-line";
import { batteries, CLOSED, YES } from "@/core/job/fact";

export const makeSafe = aircraftAction("make-safe", (wish) => ({
  title: `Propellers off, ${wish.batteries.length > 1 ? "both batteries" : "battery"} out`,
  why: "The board restarts several times.",
  // what a battery feeds is read before there can be a plan, and may turn something; while a line to it is open, it shows by
  // itself whether its battery is out
  needs: partsBehind(wish).some(({ supply }) => supply !== "board") ? { "main: line": CLOSED } : planFirst(wish),
  gives: { "aircraft: propellers off": YES, ...batteries(wish.batteries, "out") },
  undoes: wish.batteries.flatMap((each) => shownBehind(wish, { supply: each })),
  costS: 10,
  hands: 1,
}));
