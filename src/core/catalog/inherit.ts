import { limitValue, type Value } from "@/core/config";
import type {
  ColumnDefinition,
  PassageRule,
  Release,
  SettingDefinition,
  TableDefinition,
} from "@/core/catalog/release";
import { typeOf, type ReleaseDocument } from "@/core/catalog/written";

/** The defaults of targets under a change of what values are written as. */
const byTarget = (
  setting: SettingDefinition | undefined,
  change: (value: Value) => Value,
): Partial<SettingDefinition> =>
  setting?.defaultByTarget === undefined
    ? {}
    : {
        defaultByTarget: Object.fromEntries(
          Object.entries(setting.defaultByTarget).map(([target, value]) => [target, change(value)]),
        ),
      };

/** A rescaled setting keeps its meaning: its concept's factor follows. The new type stands in the release's changes. */
function rescaled(
  setting: SettingDefinition | undefined,
  rule: Extract<PassageRule, { rule: "rescale" }>,
): Partial<SettingDefinition> {
  const scaled = (value: Value) =>
    typeof value === "number" ? Number((value * rule.factor + (rule.offset ?? 0)).toPrecision(12)) : value;
  const key = { ...(rule.to === undefined ? {} : { key: rule.to }), ...byTarget(setting, scaled) };
  const concept = setting?.concept;
  if (!concept) return key;
  const factor = (concept.factor ?? 1) / rule.factor;
  const offset = (concept.offset ?? 0) - (rule.offset ?? 0) * factor;
  return { ...key, concept: { ...concept, factor, offset } };
}

function mapped(
  setting: SettingDefinition | undefined,
  rule: Extract<PassageRule, { rule: "map" }>,
): Partial<SettingDefinition> {
  const mappedWord = (value: Value) => rule.words[String(value)] ?? value;
  const key = { ...(rule.to === undefined ? {} : { key: rule.to }), ...byTarget(setting, mappedWord) };
  const concept = setting?.concept;
  if (!concept) return key;
  const words = Object.fromEntries(
    Object.entries(rule.words).map(([old, word]) => [word, concept.words?.[old] ?? old]),
  );
  return { ...key, concept: { ...concept, words } };
}

/**
 * What the ancestor's settings become under the rules, before the release's own changes are laid over them. Rules name
 * settings as the ancestor does, also when an earlier rule has renamed them.
 */
export function passSettings(
  settings: readonly SettingDefinition[],
  rules: readonly PassageRule[],
): SettingDefinition[] {
  let passed = settings.map((setting) => ({ origin: setting.key, setting }));
  const change = (origin: string, fields: Partial<SettingDefinition>) => {
    passed = passed.map((entry) =>
      entry.origin === origin ? { origin, setting: { ...entry.setting, ...fields } } : entry,
    );
  };
  const drop = (origins: readonly string[]) => {
    passed = passed.filter((entry) => !origins.includes(entry.origin));
  };
  for (const rule of rules) {
    switch (rule.rule) {
      case "rename":
        change(rule.key, { key: rule.to });
        break;
      case "rescale":
        change(rule.key, rescaled(passed.find((entry) => entry.origin === rule.key)?.setting, rule));
        break;
      case "map":
        change(rule.key, mapped(passed.find((entry) => entry.origin === rule.key)?.setting, rule));
        break;
      case "retire":
      case "split":
        drop([rule.key]);
        break;
      case "merge":
        drop(rule.keys);
        break;
      case "move":
        change(rule.key, { scope: rule.to });
        break;
      case "behaviour":
      case "column":
      case "cells":
      case "renumber":
      case "restrict":
      case "ranges":
        break;
    }
  }
  return passed.map((entry) => entry.setting);
}

type StarterValue = Release["starters"][number]["values"][number];

/** A starter set's values under the rules: renamed, converted, moved; what was retired is dropped. */
export function passStarter(
  value: StarterValue,
  rules: readonly PassageRule[],
  settings: readonly SettingDefinition[],
): StarterValue[] {
  let passed: StarterValue[] = [value];
  const each = (change: (v: StarterValue) => StarterValue) => {
    passed = passed.map(change);
  };
  for (const rule of rules) {
    if ("keys" in rule ? !rule.keys.includes(value.key) : !("key" in rule) || rule.key !== value.key) continue;
    switch (rule.rule) {
      case "rename":
        each((v) => ({ ...v, key: rule.to }));
        break;
      case "rescale":
        each((v) => ({
          ...v,
          key: rule.to ?? v.key,
          value: typeof v.value === "number" ? v.value * rule.factor + (rule.offset ?? 0) : v.value,
        }));
        break;
      case "map":
        each((v) => ({ ...v, key: rule.to ?? v.key, value: rule.words[String(v.value)] ?? v.value }));
        break;
      case "move":
        each((v) => ({ ...v, scope: rule.to === "system" ? "system" : `${rule.to} 1` }));
        break;
      case "split":
        passed = passed.flatMap((v) => rule.into.map((key) => ({ ...v, key })));
        break;
      case "merge":
        each((v) => ({ ...v, key: rule.to }));
        break;
      case "retire":
        passed = [];
        break;
      default:
        break;
    }
  }
  return passed.flatMap((v) => {
    const setting = settings.find((s) => s.key === v.key);
    const limited = setting && limitValue(v.value, setting.type);
    return limited === undefined ? [] : [{ ...v, value: limited }];
  });
}

export function passTables(tables: readonly TableDefinition[], document: ReleaseDocument): TableDefinition[] {
  const renames = (document.rules ?? []).filter((rule) => rule.rule === "column");
  const maps = (document.rules ?? []).filter((rule) => rule.rule === "cells");
  return tables.map((table) => {
    const newName = (column: string) =>
      renames.find((r) => r.table === table.name && r.column === column)?.to ?? column;
    const newCell = (column: string, value: Value): Value => {
      const words = maps.find((m) => m.table === table.name && m.column === column)?.words;
      return typeof value === "string" ? (words?.[value] ?? value) : value;
    };
    const changed = (column: ColumnDefinition): ColumnDefinition => {
      const name = newName(column.name);
      const change = document.changeColumns?.find((c) => c.table === table.name && c.column === name);
      return {
        name,
        title: change?.title ?? column.title,
        type: change?.type ? typeOf(change.type) : column.type,
        default: change?.default ?? newCell(column.name, column.default),
      };
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
          key: row.key,
          cells: Object.fromEntries(Object.entries(row.cells).map(([c, value]) => [newName(c), newCell(c, value)])),
        })),
    };
  });
}
