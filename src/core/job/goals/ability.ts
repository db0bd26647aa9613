import { planUpdate, withAbility } from "@/core/carryover";
import { YES } from "@/core/job/fact";
import { BACK_IN_SERVICE, partsProved, readParts, running, type GoalKind, type Releases } from "@/core/job/goals/goal";
import { refuse } from "@/core/problem";
import type { FittedPart } from "@/core/part";

/** The aircraft can do something that it could not: its release says what that wants of settings, of a lever, of other parts. */
export interface AbilityGoal {
  readonly kind: "ability";
  readonly runs: Releases;
  /** As the release of the main part names it. */
  readonly ability: string;
  /** That release is written to the board first. */
  readonly flashes?: true;
  /** The parts behind the board that it is asked of. */
  readonly fitted?: readonly FittedPart[];
}

export const ability: GoalKind<AbilityGoal> = {
  kind: "ability",
  given: ({ runs, flashes }) => ({
    ...(flashes ? {} : running({ main: runs.main })),
    "main: calibrated": YES,
  }),
  wanted: ({ runs, flashes, fitted = [] }) => ({
    ...(flashes ? running({ main: runs.main }) : {}),
    "main: settings kept": YES,
    ...partsProved(runs),
    ...readParts(fitted),
    ...BACK_IN_SERVICE,
  }),
  plan({ ability: id }, { board }, to, target, catalogue) {
    const wanted = to.abilities.find((each) => each.id === id);
    if (!board) throw new Error("an ability needs a backup of the board");
    if (!wanted)
      return refuse({ code: "ability-none", message: `${to.family} ${to.version} knows no ability “${id}”` });
    const own = planUpdate(board, to, target, catalogue);
    return own.ok ? withAbility(own.value, wanted, to) : own;
  },
};
