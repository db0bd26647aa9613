import { behaviour } from "@/core/catalog/rules/behaviour";
import { cells } from "@/core/catalog/rules/cells";
import { column } from "@/core/catalog/rules/column";
import { PHASES, type PassageRule, type RuleKind } from "@/core/catalog/rules/kind";
import { map } from "@/core/catalog/rules/map";
import { merge } from "@/core/catalog/rules/merge";
import { move } from "@/core/catalog/rules/move";
import { ranges } from "@/core/catalog/rules/ranges";
import { rename } from "@/core/catalog/rules/rename";
import { renumber } from "@/core/catalog/rules/renumber";
import { rescale } from "@/core/catalog/rules/rescale";
import { restrict } from "@/core/catalog/rules/restrict";
import { retire } from "@/core/catalog/rules/retire";
import { TEXT } from "@/core/catalog/rules/schema";
import { split } from "@/core/catalog/rules/split";

export * from "@/core/catalog/rules/kind";
export { cellText, columnNamed } from "@/core/catalog/rules/cell-text";
export { isNearly, linearText, scaled, type Linear } from "@/core/catalog/rules/linear";
export { moveTo } from "@/core/catalog/rules/move";

/** Every kind of rule: one file each, one row here. */
const KINDS: { readonly [K in PassageRule["rule"]]: RuleKind<Extract<PassageRule, { rule: K }>> } = {
  rename,
  rescale,
  map,
  retire,
  behaviour,
  move,
  split,
  merge,
  column,
  cells,
  renumber,
  restrict,
  ranges,
};

export const kindOf = (rule: PassageRule): RuleKind<PassageRule> => KINDS[rule.rule] as RuleKind<PassageRule>;
export const RULE_KINDS = Object.values(KINDS) as readonly RuleKind<PassageRule>[];

export const ruleSentence = (rule: PassageRule): string => kindOf(rule).sentence(rule);
export const ruleWhy = (rule: PassageRule): string => rule.why ?? kindOf(rule).why ?? "";
export const tableOf = (rule: PassageRule): string | undefined => ("table" in rule ? rule.table : undefined);

const phaseOf = (rule: PassageRule) => PHASES.indexOf(kindOf(rule).phase);
/** Rules in the order in which they act on one thing; those of one phase as the document has them. */
export const inPhases = (rules: readonly PassageRule[]): PassageRule[] =>
  rules.toSorted((a, b) => phaseOf(a) - phaseOf(b));

/** The format of a rule (JSON Schema 2020-12), of all kinds. */
export const rulesSchema = () => ({
  $schema: "https://json-schema.org/draft/2020-12/schema",
  $id: "rule.schema.json",
  title: "Passage rule",
  description:
    "One thing that happens to settings or tables on the way from one release to another; `rule` names its kind.",
  type: "object",
  required: ["rule"],
  discriminator: { propertyName: "rule" },
  oneOf: RULE_KINDS.map(({ rule, about, schema }) => ({
    description: about,
    type: "object",
    required: ["rule", ...schema.required],
    additionalProperties: false,
    properties: { rule: { const: rule }, ...schema.properties, why: TEXT },
  })),
});
