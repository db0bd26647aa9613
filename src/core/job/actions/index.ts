import type { ResultOf } from "@/core/job/action";
import { backUp } from "@/core/job/actions/back-up";
import { calibrate } from "@/core/job/actions/calibrate";
import { checkAttitude } from "@/core/job/actions/check-attitude";
import { checkReceiver } from "@/core/job/actions/check-receiver";
import { clearSettings } from "@/core/job/actions/clear-settings";
import { decodeRescue } from "@/core/job/actions/decode-rescue";
import { enterLoader } from "@/core/job/actions/enter-loader";
import { firstStart } from "@/core/job/actions/first-start";
import { flash } from "@/core/job/actions/flash";
import { knowBoard } from "@/core/job/actions/know-board";
import { knowLoader } from "@/core/job/actions/know-loader";
import { knowTarget } from "@/core/job/actions/know-target";
import { liftProtection } from "@/core/job/actions/lift-protection";
import { makeSafe } from "@/core/job/actions/make-safe";
import { plan } from "@/core/job/actions/plan";
import { prove } from "@/core/job/actions/prove";
import { rescue } from "@/core/job/actions/rescue";
import { replaceLoader } from "@/core/job/actions/replace-loader";
import { rest } from "@/core/job/actions/rest";
import { restore } from "@/core/job/actions/restore";
import { seeLoader } from "@/core/job/actions/see-loader";
import { signOff } from "@/core/job/actions/sign-off";
import { wayRound } from "@/core/job/actions/way-round";

/** Every kind of step, in the order in which a person would take them where a plan leaves the choice. */
export const ACTIONS = [
  knowBoard,
  knowLoader,
  backUp,
  knowTarget,
  plan,
  makeSafe,
  enterLoader,
  rescue,
  decodeRescue,
  liftProtection,
  clearSettings,
  seeLoader,
  wayRound,
  replaceLoader,
  rest,
  flash,
  firstStart,
  restore,
  prove,
  checkAttitude,
  checkReceiver,
  calibrate,
  signOff,
] as const;

type AnyAction = (typeof ACTIONS)[number];
export type StepId = AnyAction["kind"];

type Together<U> = (U extends unknown ? (each: U) => void : never) extends (all: infer I) => void ? I : never;

/** What the steps of a job have found out so far. */
export type JobData = Readonly<Partial<Together<ResultOf<AnyAction>>>>;
