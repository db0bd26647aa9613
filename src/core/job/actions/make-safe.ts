import { aircraftAction } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const makeSafe = aircraftAction("make-safe", () => ({
  title: "Propellers off, battery out",
  why: "The board restarts several times.",
  needs: { "visit: plan taken": YES },
  gives: { "aircraft: propellers off": YES, "aircraft: battery out": YES },
  hands: 1,
}));
