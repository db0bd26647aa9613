import type { SettingDefinition } from "@/core/catalog/definition";
import type { Value } from "@/core/config";
import { after, type Linear } from "@/core/catalog/rules/linear";
import {
  inPhases,
  kindOf,
  tableOf,
  type LaterPlace,
  type Passed,
  type Passing,
  type PassageRule,
  type PassingContext,
} from "@/core/catalog/rules";

/** The rules of a passage by what they speak of, in the order in which they act. Made once for each list of rules. */
export interface RuleIndex {
  readonly bySetting: ReadonlyMap<string, readonly PassageRule[]>;
  readonly byTable: ReadonlyMap<string, readonly PassageRule[]>;
}

const indexes = new WeakMap<readonly PassageRule[], RuleIndex>();

export function ruleIndex(rules: readonly PassageRule[]): RuleIndex {
  const known = indexes.get(rules);
  if (known) return known;
  const [bySetting, byTable] = [new Map<string, PassageRule[]>(), new Map<string, PassageRule[]>()];
  const put = (map: Map<string, PassageRule[]>, name: string, rule: PassageRule) => {
    const list = map.get(name);
    if (list) list.push(rule);
    else map.set(name, [rule]);
  };
  for (const rule of inPhases(rules)) {
    for (const key of kindOf(rule).keys(rule)) put(bySetting, key, rule);
    const table = tableOf(rule);
    if (table !== undefined) put(byTable, table, rule);
  }
  const index = { bySetting, byTable };
  indexes.set(rules, index);
  return index;
}

const NONE: readonly PassageRule[] = [];

/** The rules that speak of a setting, by its key on the release before. */
export const rulesFor = (key: string, rules: readonly PassageRule[]): readonly PassageRule[] =>
  ruleIndex(rules).bySetting.get(key) ?? NONE;

export const rulesOn = (table: string, rules: readonly PassageRule[]): readonly PassageRule[] =>
  ruleIndex(rules).byTable.get(table) ?? NONE;

/** The rule that gives a setting its name, or names, on the release after. */
const namerOf = (key: string, rules: readonly PassageRule[]): PassageRule | undefined =>
  rulesFor(key, rules).find((rule) => kindOf(rule).becomes?.(rule) !== undefined);

/** The keys of a setting after the rules. */
export function laterKeys(key: string, rules: readonly PassageRule[]): readonly string[] {
  const namer = namerOf(key, rules);
  return (namer && kindOf(namer).becomes?.(namer)) ?? [key];
}

/** Where a setting, or one part of it, stands after the rules; where several settings became one, with which of them is meant. */
export function laterPlaces(key: string, rules: readonly PassageRule[], part?: string): readonly LaterPlace[] {
  if (part !== undefined) return [{ key: part }];
  const namer = namerOf(key, rules);
  const joined = namer !== undefined && kindOf(namer).keys(namer).length > 1;
  return laterKeys(key, rules).map((later) => (joined ? { key: later, part: key } : { key: later }));
}

/** The key of a setting after the rules: of its parts the first, and the old one where it ended. */
export const laterKey = (key: string, rules: readonly PassageRule[]): string => laterKeys(key, rules)[0] ?? key;

/** What the rules do to the number of a setting, or of one part of it, altogether. */
export const linearOf = (key: string, rules: readonly PassageRule[], part?: string): Linear =>
  rulesFor(key, rules).reduce<Linear>(
    (sum, rule) => {
      const own = kindOf(rule).linear?.(rule, part);
      return own ? after(sum, own) : sum;
    },
    { factor: 1 },
  );

/** The name of a column after the rules. */
export const laterColumn = (table: string, column: string, rules: readonly PassageRule[]): string =>
  rulesOn(table, rules).reduce((now, rule) => kindOf(rule).table?.column?.(rule, column) ?? now, column);

/** What rules make of a value that is asked about beside the one that goes: of the same setting, in the same place. */
export type Another = (value: Value) => Value | undefined;

/** The same for the n-th of what a rule makes of the value. */
export const anotherBy =
  (rule: PassageRule, { scope, key }: Passing, context: PassingContext, n: number): Another =>
  (value) => {
    const same = kindOf(rule).value?.(rule, { scope, key, value }, context)?.[n];
    return same === undefined || same.unmatched ? undefined : same.value;
  };

/**
 * One value through the rules that speak of its setting, told of each of them; what ended is not passed on. `tell` gets the
 * rule's own answer, which of its answers it is, and what the rule was asked by. Nothing is made here for a value and a rule
 * but what the rule itself makes: a plan runs through this for every rule of every value.
 */
export function passThrough<T extends Passing>(
  origin: SettingDefinition,
  start: T,
  rules: readonly PassageRule[],
  context: Omit<PassingContext, "origin" | "named">,
  tell: (from: T, passed: Passed, rule: PassageRule, n: number, context: PassingContext) => T,
  hasEnded: (one: T) => boolean,
): T[] {
  const asked = {
    origin,
    definition: context.definition,
    scopes: context.scopes,
    active: context.active,
    named: false,
  };
  let all = [start];
  for (const rule of rulesFor(origin.key, rules)) {
    const { value, becomes, phase } = kindOf(rule);
    if (!value) continue;
    const next: T[] = [];
    for (const one of all) {
      const passed = hasEnded(one)
        ? undefined
        : value(rule, { scope: one.scope, key: one.key, value: one.value }, asked);
      if (!passed) next.push(one);
      else for (let n = 0; n < passed.length; n++) next.push(tell(one, passed[n] ?? one, rule, n, asked));
    }
    all = next;
    if (phase === "name" && becomes?.(rule) !== undefined) asked.named = true;
  }
  return all;
}
