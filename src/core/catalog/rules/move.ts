import { backwardsWhy, type Passed, type Passing, type RuleKind, type ValueWay } from "@/core/catalog/rules/kind";
import { NAME } from "@/core/catalog/rules/schema";
import { profileScope } from "@/core/config";

export interface MoveRule {
  readonly rule: "move";
  readonly key: string;
  readonly to: string;
  readonly why: string;
}

/** A value into each profile of a kind; or, of those in profiles, the one that flies into the system. */
export function moveTo(
  to: string,
  passing: Passing,
  { scopes, active }: Pick<ValueWay, "scopes" | "active">,
): Passed[] {
  const before = passing.scope;
  if (to !== "system") return scopes(to).map((scope) => ({ ...passing, scope, before, after: scope }));
  const kind = passing.scope.split(" ")[0] ?? "";
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
    "A setting is kept elsewhere: in `system`, where the active profile's value goes, or in a kind of profile, into each of which it goes.",
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
