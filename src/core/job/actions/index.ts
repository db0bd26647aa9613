import { partsOfName, type ResultOf } from "@/core/job/action";
import type { Subject } from "@/core/job/subject";
import { backUp } from "@/core/job/actions/back-up";
import { fitBattery, takeBattery } from "@/core/job/actions/battery";
import { calibrate } from "@/core/job/actions/calibrate";
import { checkAttitude } from "@/core/job/actions/check-attitude";
import { checkReceiver } from "@/core/job/actions/check-receiver";
import { closeLine } from "@/core/job/actions/close-line";
import { clearSettings } from "@/core/job/actions/clear-settings";
import { decodeRescue } from "@/core/job/actions/decode-rescue";
import { enterLoader } from "@/core/job/actions/enter-loader";
import { firstStart } from "@/core/job/actions/first-start";
import { flashDetour } from "@/core/job/actions/flash-detour";
import { flash } from "@/core/job/actions/flash";
import { knowBoard } from "@/core/job/actions/know-board";
import { knowLoader } from "@/core/job/actions/know-loader";
import { knowTarget } from "@/core/job/actions/know-target";
import { liftProtection } from "@/core/job/actions/lift-protection";
import { makeSafe } from "@/core/job/actions/make-safe";
import { openLine } from "@/core/job/actions/open-line";
import { plan } from "@/core/job/actions/plan";
import { prove } from "@/core/job/actions/prove";
import { rescue } from "@/core/job/actions/rescue";
import { replaceLoader } from "@/core/job/actions/replace-loader";
import { rest } from "@/core/job/actions/rest";
import { restore } from "@/core/job/actions/restore";
import { seeLoader } from "@/core/job/actions/see-loader";
import { startDetour } from "@/core/job/actions/start-detour";
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
  openLine,
  fitBattery,
  enterLoader,
  rescue,
  decodeRescue,
  liftProtection,
  clearSettings,
  seeLoader,
  wayRound,
  replaceLoader,
  rest,
  flashDetour,
  startDetour,
  flash,
  firstStart,
  restore,
  prove,
  checkAttitude,
  checkReceiver,
  calibrate,
  takeBattery,
  closeLine,
  signOff,
] as const;

type AnyAction = (typeof ACTIONS)[number];
export type StepKind = AnyAction["kind"];
/** What a step of each kind finds out. */
export type Results = { readonly [K in StepKind]: Readonly<Partial<ResultOf<Extract<AnyAction, { kind: K }>>>> };
export type AnyResult = Results[StepKind];

/** A step is one thing done to one subject: of a kind there may be several in a job. */
export interface StepId {
  readonly kind: StepKind;
  readonly subject: Subject;
}
/** A step's name in the record: its kind, and its subject where that is not the usual one. */
export type StepName = StepKind | `${StepKind} of ${Subject}`;

const HOMES: ReadonlyMap<string, Subject> = new Map(ACTIONS.map(({ kind, home }) => [kind, home]));
export const homeOf = (kind: StepKind): Subject => HOMES.get(kind) ?? "main";

/** The step that a name speaks of, whichever version of the product wrote it. */
export function stepOf(name: string): StepId {
  const { kind, subject } = partsOfName(name);
  return { kind: kind as StepKind, subject: subject ?? HOMES.get(kind) ?? "main" };
}
