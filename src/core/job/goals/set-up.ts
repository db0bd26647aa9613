import { baselinePlan, KEEPS, planUpdate, type Parts, type Plan, type Scope, type Whose } from "@/core/carryover";
import type { Catalogue, Firmware } from "@/core/catalog";
import { YES } from "@/core/job/fact";
import {
  BACK_IN_SERVICE,
  running,
  type GoalKind,
  type Instead,
  type Releases,
  type Sources,
} from "@/core/job/goals/goal";
import type { Result } from "@/core/problem";

/**
 * The board is set up as in this backup: of itself, of the board that the aircraft had before, or of another aircraft. It
 * stays on the release that it runs, or is given one first: the way back is the release that the backup was taken on.
 */
export interface SetUp {
  readonly kind: "set-up";
  readonly runs: Releases;
  readonly backupId: number;
  /** The release is written to it first. */
  readonly flashes?: true;
  /** Whose board the backup was taken of; this one where nobody says otherwise. */
  readonly whose?: Whose;
  /** Of another board's backup: areas that somebody decided on. */
  readonly parts?: Parts;
  readonly instead?: Instead;
  /** What is on it is of another target than its model takes: that of its model is written. */
  readonly asModel?: true;
  /** Why the backup is taken, although it is not complete. */
  readonly although?: string;
  /** The part of the settings that comes along. */
  readonly scope?: Scope;
}

const isOwn = ({ whose = "this-board" }: SetUp) => whose === "this-board";

export const setUp: GoalKind<SetUp> = {
  kind: "set-up",
  given: (goal) => ({
    ...(goal.flashes ? {} : running(goal.runs)),
    ...(isOwn(goal) ? { "main: settings chosen": YES, "main: calibrated": YES } : {}),
  }),
  wanted: ({ runs, flashes }) => ({
    ...(flashes ? running(runs) : {}),
    "main: settings kept": YES,
    ...BACK_IN_SERVICE,
  }),
  keepsOwn: (goal) => !isOwn(goal),
  plan: ({ whose = "another", parts = {} }, sources, to, target, catalogue) =>
    planOnto({ whose, parts }, sources, to, target, catalogue),
};

/** A plan that sets something up as another one was: what belongs to it alone, or to the airframe that it is on, stays its own. */
export function planOnto(
  { whose, parts }: { readonly whose: Whose; readonly parts: Parts },
  { chosen, board }: Sources,
  to: Firmware,
  target: string,
  catalogue: Catalogue,
): Result<Plan> {
  if (!board || !chosen) throw new Error("setting up from another board's backup needs both");
  const base = planUpdate(chosen, to, target, catalogue, whose);
  if (!base.ok) return base;
  const own = planUpdate(board, to, target, catalogue);
  return own.ok ? { ok: true, value: baselinePlan(base.value, own.value, { parts, belongs: KEEPS[whose], to }) } : own;
}
