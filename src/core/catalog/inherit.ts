import { limitValue, type Value } from "@/core/config";
import { columnsOf, scopesOf } from "@/core/catalog/definition";
import type { ColumnDefinition, SettingDefinition, TableDefinition, Wants } from "@/core/catalog/definition";
import { laterColumn, passThrough, rulesFor } from "@/core/catalog/passing";
import { laterCell, laterRow } from "@/core/catalog/later";
import type { Release } from "@/core/catalog/release";
import { kindOf, type PassageRule, type Passed } from "@/core/catalog/rules";
import { typeOf, type ReleaseDocument } from "@/core/catalog/written";

/**
 * What the ancestor's settings become under the rules, before the release's own changes are laid over them. Rules name
 * settings as the ancestor does, also when an earlier rule has renamed them.
 */
export function passSettings(
  settings: readonly SettingDefinition[],
  rules: readonly PassageRule[],
): SettingDefinition[] {
  return settings.flatMap((setting) => {
    let passed: SettingDefinition | undefined = setting;
    for (const rule of rulesFor(setting.key, rules)) {
      const { define } = kindOf(rule);
      if (define && passed) passed = define(rule, passed);
    }
    return passed ?? [];
  });
}

/** What something wants of a setting, after the rules; nothing, where that setting has ended. */
export function passWants<T extends { readonly wants?: Wants }>(
  { wants, ...rest }: T,
  rules: readonly PassageRule[],
  ancestor: readonly SettingDefinition[],
  release: Pick<Release, "settings" | "profiles">,
): T {
  const [passed] = wants
    ? passStarter({ scope: "system", key: wants.key, value: wants.is }, rules, ancestor, release)
    : [];
  return { ...rest, ...(wants && passed ? { wants: { ...wants, key: passed.key, is: passed.value } } : {}) } as T;
}

type StarterValue = Release["starters"][number]["values"][number];

/** A starter set's values under the rules: renamed, converted, moved; what was retired is dropped. */
export function passStarter(
  start: StarterValue,
  rules: readonly PassageRule[],
  ancestor: readonly SettingDefinition[],
  release: Pick<Release, "settings" | "profiles">,
): StarterValue[] {
  const definition = (key: string) => release.settings.find((setting) => setting.key === key);
  const origin = ancestor.find((setting) => setting.key === start.key);
  const context = { definition, scopes: (scope: string) => scopesOf(release, { scope }), active: {} };
  const first: Passed = start;
  const passed = origin
    ? passThrough(
        origin,
        first,
        rules,
        context,
        (_, next) => next,
        ({ ended }) => ended !== undefined,
      )
    : [first];
  return passed.flatMap(({ scope, key, value, ended, beside, unmatched }) => {
    const setting = definition(key);
    const limited =
      setting && ended === undefined && !beside && !unmatched ? limitValue(value, setting.type) : undefined;
    return limited === undefined ? [] : [{ scope, key, value: limited }];
  });
}

/** What the ancestor's tables become: columns, words, numbers and keys under the rules, the document's own changes laid over them. */
export function passTables(tables: readonly TableDefinition[], document: ReleaseDocument): TableDefinition[] {
  const rules = document.rules ?? [];
  return tables.map((table) => {
    const newName = (column: string) => laterColumn(table.name, column, rules);
    const typed = new Map(
      columnsOf(table).map((before) => {
        const name = newName(before.name);
        const change = document.changeColumns?.find((c) => c.table === table.name && c.column === name);
        const after = {
          ...before,
          name,
          title: change?.title ?? before.title,
          type: change?.type ? typeOf(change.type) : before.type,
        };
        return [before.name, { before, after, stated: change?.default }] as const;
      }),
    );
    const newCell = (column: string, value: Value): Value =>
      laterCell(table.name, column, value, rules, typed.get(column) ?? { before: undefined, after: undefined });
    const changed = (column: ColumnDefinition): ColumnDefinition => {
      const { after = column, stated } = typed.get(column.name) ?? {};
      return { ...after, default: stated ?? newCell(column.name, column.default) };
    };
    return {
      ...table,
      ...(table.without
        ? {
            without: table.without.map(({ column, value, says }) => ({
              column: newName(column),
              value: newCell(column, value),
              says,
            })),
          }
        : {}),
      keys: table.keys.map(changed),
      columns: table.columns.map(changed),
      rows:
        document.changeRows
          ?.find((change) => change.table === table.name)
          ?.rows.map(({ key, cells = {} }) => ({ key, cells })) ??
        table.rows.map((row) => ({
          key: laterRow(table.name, row.key, rules),
          cells: Object.fromEntries(Object.entries(row.cells).map(([c, value]) => [newName(c), newCell(c, value)])),
        })),
    };
  });
}
