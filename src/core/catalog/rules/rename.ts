import { backwardsWhy, type RuleKind } from "@/core/catalog/rules/kind";
import { NAME } from "@/core/catalog/rules/schema";

export interface RenameRule {
  readonly rule: "rename";
  readonly key: string;
  readonly to: string;
  readonly why?: string;
}

declare module "@/core/catalog/rules/kind" {
  interface RuleShapes {
    readonly rename: RenameRule;
  }
}

export const rename: RuleKind<RenameRule> = {
  rule: "rename",
  about: "A setting has another name; its value stays as it is.",
  exactly: ["In each scope by itself. Whether somebody set the value goes along.", "Backwards: the old name again."],
  schema: { properties: { key: NAME, to: NAME }, required: ["key", "to"] },
  example: { rule: "rename", key: "lamp.level", to: "lamp.share" },
  phase: "name",
  effect: "renamed",
  why: "Renamed",
  sentence: ({ key, to }) => `${key} → ${to}`,
  keys: ({ key }) => [key],
  becomes: ({ to }) => [to],
  define: ({ to }, setting) => ({ ...setting, key: to }),
  value: ({ to }, passing) => [{ ...passing, key: to, before: passing.key, after: to }],
  loss: () => "none",
  backwards: ({ key, to, why = "Renamed" }) => ({
    reach: "whole",
    rules: [{ rule: "rename", key: to, to: key, why: backwardsWhy(why) }],
  }),
};
