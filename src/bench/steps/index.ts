import type { StepKind } from "@/core/job";
import { fitBatteryStep, takeBatteryStep } from "@/bench/steps/battery";
import { backUp } from "@/bench/steps/back-up";
import { calibrate } from "@/bench/steps/calibrate";
import { checkAttitude } from "@/bench/steps/check-attitude";
import { checkReceiver } from "@/bench/steps/check-receiver";
import { clearSettings } from "@/bench/steps/clear-settings";
import { closeLineStep } from "@/bench/steps/close-line";
import type { StepRunner } from "@/bench/steps/context";
import { decodeRescue } from "@/bench/steps/decode-rescue";
import { enterLoader } from "@/bench/steps/enter-loader";
import { firstStart, startDetour } from "@/bench/steps/first-start";
import { flash, flashDetour } from "@/bench/steps/flash";
import { knowBoard } from "@/bench/steps/know-board";
import { knowLoader } from "@/bench/steps/know-loader";
import { knowTarget } from "@/bench/steps/know-target";
import { liftProtection } from "@/bench/steps/lift-protection";
import { makeSafe } from "@/bench/steps/make-safe";
import { openLineStep } from "@/bench/steps/open-line";
import { planStep } from "@/bench/steps/plan";
import { prove } from "@/bench/steps/prove";
import { replaceLoader } from "@/bench/steps/replace-loader";
import { rescue } from "@/bench/steps/rescue";
import { restore } from "@/bench/steps/restore";
import { rest } from "@/bench/steps/rest";
import { seeLoader } from "@/bench/steps/see-loader";
import { signOff } from "@/bench/steps/sign-off";
import { wayRound } from "@/bench/steps/way-round";

/** Who does each kind of step at the bench. */
export const STEP_RUNNERS: Readonly<Record<StepKind, StepRunner>> = {
  "know-board": knowBoard,
  "know-loader": knowLoader,
  "back-up": backUp,
  "know-target": knowTarget,
  plan: planStep,
  "make-safe": makeSafe,
  "open-line": openLineStep,
  "fit-battery": fitBatteryStep,
  "take-battery": takeBatteryStep,
  "close-line": closeLineStep,
  "enter-loader": enterLoader,
  rescue,
  "decode-rescue": decodeRescue,
  "lift-protection": liftProtection,
  "clear-settings": clearSettings,
  "see-loader": seeLoader,
  "way-round": wayRound,
  "replace-loader": replaceLoader,
  rest,
  "flash-detour": flashDetour,
  "start-detour": startDetour,
  flash,
  "first-start": firstStart,
  restore,
  prove,
  "check-attitude": checkAttitude,
  "check-receiver": checkReceiver,
  calibrate,
  "sign-off": signOff,
};
