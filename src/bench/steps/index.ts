import type { StepId } from "@/core/job";
import { checkAttitude, checkReceiver } from "@/bench/steps/checks";
import type { StepRunner } from "@/bench/steps/context";
import { firstStart, flash, rescue } from "@/bench/steps/flash";
import { enterLoader, makeSafe } from "@/bench/steps/hands";
import { backUp, knowBoard, knowLoader, knowTarget } from "@/bench/steps/know";
import { planStep } from "@/bench/steps/plan";
import { prove, restore } from "@/bench/steps/restore";
import { signOff } from "@/bench/steps/sign";

export const STEP_RUNNERS: Readonly<Record<StepId, StepRunner>> = {
  "know-board": knowBoard,
  "know-loader": knowLoader,
  "back-up": backUp,
  "know-target": knowTarget,
  plan: planStep,
  "make-safe": makeSafe,
  "enter-loader": enterLoader,
  rescue,
  flash,
  "first-start": firstStart,
  restore,
  prove,
  "check-attitude": checkAttitude,
  "check-receiver": checkReceiver,
  "sign-off": signOff,
};
