import { backwardsWhy, type Passed, type Passing, type RuleKind, type ValueWay } from "@/core/catalog/rules/kind";
import { NAME } from "@/core/catalog/rules/schema";
import { profileScope } from "@/core/config";

export interface MoveRule {
  readonly rule: "move";
  readonly key: string;
  readonly to: string;
  readonly why: string;
}

/**
 * A value of the system into each profile of a kind; of those in profiles, the one that flies into the system; from one kind
 * of profile to another, by their numbers.
 */
export function moveTo(
  to: string,
  passing: Passing,
  { scopes, active }: Pick<ValueWay, "scopes" | "active">,
): Passed[] {
  const before = passing.scope;
  const [kind = "", number] = passing.scope.split(" ");
  if (to !== "system") {
    const there = scopes(to);
    const scope = number === undefined ? undefined : there.find((each) => each === profileScope(to, Number(number)));
    if (number === undefined) return there.map((each) => ({ ...passing, scope: each, before, after: each }));
    return scope === undefined
      ? [{ ...passing, before, after: to, ended: `There is no ${to} ${number}`, loss: "lost" }]
      : [{ ...passing, scope, before, after: scope }];
  }
  return passing.scope === profileScope(kind, active[kind] ?? 1)
    ? [{ ...passing, scope: "system", before, after: "system" }]
    : [
        {
          ...passing,
          before,
          after: "system",
          ended: "Only the active profile's value moves into the system",
          loss: "lost",
        },
      ];
}

export const move: RuleKind<MoveRule> = {
  rule: "move",
  about:
    "A setting is kept elsewhere: in `system`, where the active profile's value goes, or in a kind of profile, into each of which it goes; from one kind to another the numbers stay.",
  schema: { properties: { key: NAME, to: NAME }, required: ["key", "to", "why"] },
  example: { rule: "move", key: "lamp.level", to: "tune", why: "Each tune has its own lamp" },
  phase: "place",
  effect: "converted",
  sentence: ({ key, to }) => `${key} to ${to}`,
  keys: ({ key }) => [key],
  define: ({ to }, setting) => ({ ...setting, scope: to }),
  value: ({ to }, passing, way) => moveTo(to, passing, way),
  loss: () => "none",
  backwards: ({ key, to, why }, { before, laterKey }) => ({
    // into profiles each has the value, and the active one's comes back
    reach: to === "system" ? "part" : "whole",
    rules: [{ rule: "move", key: laterKey(key), to: before(key)?.scope ?? "system", why: backwardsWhy(why) }],
  }),
};
