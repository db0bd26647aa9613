import { backwardsWhy, type Passed, type Passing, type RuleKind, type PassingContext } from "@/core/catalog/rules/kind";
import { speaksOf } from "@/core/catalog/rules/parts";
import { NAME } from "@/core/catalog/rules/schema";
import { profileOf, profileScope } from "@/core/config";

export interface MoveRule {
  readonly rule: "move";
  readonly key: string;
  readonly to: string;
  /** Of what a split makes of the setting, only this. */
  readonly part?: string;
  readonly why: string;
}

declare module "@/core/catalog/rules/kind" {
  interface RuleShapes {
    readonly move: MoveRule;
  }
}

/**
 * A value into every scope of its new place: the system's, or each profile of a kind. Of values in profiles the one that
 * flies goes there; the others stand beside it.
 */
export function moveTo(
  to: string,
  passing: Passing,
  { scopes, active }: Pick<PassingContext, "scopes" | "active">,
): Passed[] {
  const before = passing.scope;
  const kind = profileOf(before)?.kind;
  const flies = kind === undefined || before === profileScope(kind, active[kind] ?? 1);
  return scopes(to).map((scope) => ({
    ...passing,
    scope,
    before,
    after: scope,
    ...(flies ? {} : { beside: true as const }),
  }));
}

export const move: RuleKind<MoveRule> = {
  rule: "move",
  about:
    "A setting is kept elsewhere: in `system`, or in a kind of profile. Of values in profiles the active one's goes there, into each profile of the new kind.",
  exactly: [
    "From `system` into a kind: the value goes into each of its profiles.",
    "Out of a kind: the value of the profile that is active in the read-out (1, where it does not say) goes to each scope of the new place. Where other profiles were set by hand to something else, a person decides between all of them; values that nobody set are not asked about.",
    "`part` names the one of a split's parts that it speaks of.",
    "Backwards: the same, to where the setting was kept.",
  ],
  schema: { properties: { key: NAME, to: NAME, part: NAME }, required: ["key", "to", "why"] },
  example: { rule: "move", key: "lamp.level", to: "tune", why: "Each tune has its own lamp" },
  phase: "place",
  effect: "converted",
  sentence: ({ key, to }) => `${key} to ${to}`,
  keys: ({ key }) => [key],
  define: ({ to }, setting) => ({ ...setting, scope: to }),
  value: (rule, passing, context) => (speaksOf(rule, passing) ? moveTo(rule.to, passing, context) : undefined),
  loss: () => "none",
  backwards: ({ key, to, part, why }, { before, later }) => ({
    // into profiles each has the value, and the active one's comes back
    reach: to === "system" ? "part" : "whole",
    rules: later(key, part).map((place) => ({
      rule: "move" as const,
      ...place,
      to: before(key)?.scope ?? "system",
      why: backwardsWhy(why),
    })),
  }),
};
