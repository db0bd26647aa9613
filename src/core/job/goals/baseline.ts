import { baselinePlan, planUpdate, withStarter, type Parts } from "@/core/carryover";
import { defaultConfiguration } from "@/core/idiom";
import { YES } from "@/core/job/fact";
import { BACK_IN_SERVICE, running, type GoalKind, type Releases } from "@/core/job/goals/goal";
import { refuse } from "@/core/problem";

/** The board goes back to what its type, or its release, is meant to be; chosen parts stay as the board holds them. */
export interface Baseline {
  readonly kind: "baseline";
  /** The release that it runs. */
  readonly runs: Releases;
  /** The type's standard; without it, the release's defaults. */
  readonly backupId?: number;
  /** Starter set that is laid over the defaults. */
  readonly starter?: string;
  readonly parts: Parts;
  /** Places that stay as the board holds them, by their address on the baseline's release: differences that are allowed. */
  readonly keep?: readonly string[];
}

export const baseline: GoalKind<Baseline> = {
  kind: "baseline",
  given: ({ runs }) => ({ ...running(runs), "main: calibrated": YES }),
  wanted: () => ({ "main: settings kept": YES, ...BACK_IN_SERVICE }),
  plan({ starter: name, parts, keep = [] }, { chosen, board }, to, target, catalogue) {
    if (!board) throw new Error("a baseline needs a backup of the board");
    const starter = to.starters.find((each) => each.name === name);
    if (name !== undefined && !starter)
      return refuse({
        code: "starter-none",
        message: `There is no starter set “${name}” in ${to.family} ${to.version}`,
      });
    const defaults = defaultConfiguration(to, target, { target });
    const from = chosen ?? { configuration: starter ? withStarter(defaults, starter) : defaults, release: to };
    const base = planUpdate(from, to, target, catalogue, "another");
    if (!base.ok) return base;
    const own = planUpdate(board, to, target, catalogue);
    return own.ok ? { ok: true, value: baselinePlan(base.value, own.value, { parts, keep, to }) } : own;
  },
};
