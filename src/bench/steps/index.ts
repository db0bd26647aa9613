import type { StepId } from "@/core/job";
import { backUp } from "@/bench/steps/back-up";
import { checkAttitude } from "@/bench/steps/check-attitude";
import { checkReceiver } from "@/bench/steps/check-receiver";
import { clearSettings } from "@/bench/steps/clear-settings";
import type { StepRunner } from "@/bench/steps/context";
import { decodeRescue } from "@/bench/steps/decode-rescue";
import { enterLoader } from "@/bench/steps/enter-loader";
import { firstStart } from "@/bench/steps/first-start";
import { flash } from "@/bench/steps/flash";
import { knowBoard } from "@/bench/steps/know-board";
import { knowLoader } from "@/bench/steps/know-loader";
import { knowTarget } from "@/bench/steps/know-target";
import { makeSafe } from "@/bench/steps/make-safe";
import { planStep } from "@/bench/steps/plan";
import { prove } from "@/bench/steps/prove";
import { rescue } from "@/bench/steps/rescue";
import { restore } from "@/bench/steps/restore";
import { signOff } from "@/bench/steps/sign-off";

/** Who does each kind of step at the bench. */
export const STEP_RUNNERS: Readonly<Record<StepId, StepRunner>> = {
  "know-board": knowBoard,
  "know-loader": knowLoader,
  "back-up": backUp,
  "know-target": knowTarget,
  plan: planStep,
  "make-safe": makeSafe,
  "enter-loader": enterLoader,
  rescue,
  "decode-rescue": decodeRescue,
  "clear-settings": clearSettings,
  flash,
  "first-start": firstStart,
  restore,
  prove,
  "check-attitude": checkAttitude,
  "check-receiver": checkReceiver,
  "sign-off": signOff,
};
