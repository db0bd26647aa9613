import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const makeSafe = action("make-safe", () => ({
  title: "Propellers off, battery out",
  why: "The board restarts several times.",
  needs: { "plan: taken": YES },
  gives: { "propellers: off": YES, "battery: out": YES },
  hands: 1,
}));
