import type { SettingDefinition } from "@/core/catalog/definition";
import {
  inPhases,
  kindOf,
  tableOf,
  type Passed,
  type Passing,
  type PassageRule,
  type ValueWay,
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

/** The keys of a setting after the rules. */
export const laterKeys = (key: string, rules: readonly PassageRule[]): readonly string[] =>
  rulesFor(key, rules).reduce<readonly string[]>((now, rule) => kindOf(rule).becomes?.(rule) ?? now, [key]);

/** The key of a setting after the rules: of its parts the first, and the old one where it ended. */
export const laterKey = (key: string, rules: readonly PassageRule[]): string => laterKeys(key, rules)[0] ?? key;

/** The name of a column after the rules. */
export const laterColumn = (table: string, column: string, rules: readonly PassageRule[]): string =>
  rulesOn(table, rules).reduce((now, rule) => kindOf(rule).table?.column?.(rule, column) ?? now, column);

/** One value through the rules that speak of its setting, told of each of them; what ended is not passed on. */
export function passThrough<T extends Passing>(
  origin: SettingDefinition,
  start: T,
  rules: readonly PassageRule[],
  way: Omit<ValueWay, "origin">,
  tell: (from: T, passed: Passed, rule: PassageRule) => T,
  hasEnded: (one: T) => boolean,
): T[] {
  const asked: ValueWay = { origin, definition: way.definition, scopes: way.scopes, active: way.active };
  let all = [start];
  for (const rule of rulesFor(origin.key, rules)) {
    const { value } = kindOf(rule);
    if (!value) continue;
    const next: T[] = [];
    for (const one of all) {
      if (hasEnded(one)) next.push(one);
      else
        for (const passed of value(rule, { scope: one.scope, key: one.key, value: one.value }, asked))
          next.push(tell(one, passed, rule));
    }
    all = next;
  }
  return all;
}
