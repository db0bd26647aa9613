import { abilityFault } from "@/core/catalog/abilities";
import { limitValue, type Value, type ValueType } from "@/core/config";
import {
  columnsOf,
  type ColumnDefinition,
  type SettingDefinition,
  type TableDefinition,
} from "@/core/catalog/definition";
import { inconsistent } from "@/core/catalog/later";
import { laterColumn } from "@/core/catalog/passing";
import { pinsFault } from "@/core/catalog/pins";
import type { FirmwareTarget, Picture, Release } from "@/core/catalog/release";
import { saysKey } from "@/core/catalog/rule-faults";
import { columnNamed, type PassageRule } from "@/core/catalog/rules";
import type { Problem } from "@/core/problem";

/** A picture's names of columns and words after the rules. Settings it names by what they mean, which no rule changes. */
function passPicture(picture: Picture, rules: readonly PassageRule[]): Picture {
  switch (picture.kind) {
    case "levers": {
      const { table } = picture;
      const [channel, from, to] = [picture.channel, picture.from, picture.to].map((c) => laterColumn(table, c, rules));
      return { ...picture, channel: channel ?? "", from: from ?? "", to: to ?? "" };
    }
    case "display": {
      const [line, column] = [picture.line, picture.column].map((c) => laterColumn(picture.table, c, rules));
      return { ...picture, line: line ?? "", column: column ?? "" };
    }
    default:
      return picture;
  }
}

const fits = (value: Value, type: ValueType) => JSON.stringify(limitValue(value, type)) === JSON.stringify(value);

/** What a picture names and the release does not have. */
function pictureFault(
  picture: Picture,
  { settings, tables, pins }: Pick<Release, "settings" | "tables" | "pins">,
): Problem | undefined {
  const lacking = (names: readonly (string | undefined)[]) =>
    names.find((name) => name !== undefined && !settings.some(({ concept }) => concept?.id === name));
  const column = (table: string, name: string): ColumnDefinition | undefined => {
    const found = tables.find((each) => each.name === table);
    return found && columnNamed(found, name);
  };
  const odd = (detail: string | undefined) =>
    detail === undefined
      ? undefined
      : inconsistent("A picture names what the release does not have", `pictures/${picture.title}`, detail);
  const oddColumn = (pairs: readonly (readonly [string, string])[]) => {
    const found = pairs.find(([table, name]) => !column(table, name));
    return odd(found?.join("/"));
  };
  switch (picture.kind) {
    case "stick-feel":
      return odd(lacking([picture.rate, picture.bend]));
    case "smoothing":
      return odd(lacking([picture.frequency, picture.order]));
    case "levers": {
      const { table, channel, from, to } = picture;
      return oddColumn([channel, from, to].map((name) => [table, name]));
    }
    case "display": {
      const { table, line } = picture;
      return oddColumn([line, picture.column].map((name) => [table, name]));
    }
    case "pads":
      return odd(pins ? undefined : "pins");
  }
}

/** An ancestor's pictures in the words of this release; one whose subject has ended is none of its pictures any more. */
export const passPictures = (
  ancestor: Release,
  rules: readonly PassageRule[],
  release: Pick<Release, "settings" | "tables" | "pins">,
): Picture[] =>
  ancestor.pictures
    .map((picture) => passPicture(picture, rules))
    .filter((picture) => pictureFault(picture, release) === undefined);

/** Defaults by target under the names that the targets have now; those of targets that are gone go with them. */
export function underTargets<S extends Pick<SettingDefinition, "defaultByTarget">>(
  setting: S,
  targets: readonly FirmwareTarget[],
): S {
  const { defaultByTarget } = setting;
  if (defaultByTarget === undefined) return setting;
  const now = Object.entries(defaultByTarget).flatMap(([name, value]) => {
    const target = targets.find(({ id }) => id === name) ?? targets.find(({ aliases }) => aliases.includes(name));
    return target ? [[target.id, value] as const] : [];
  });
  return { ...setting, defaultByTarget: Object.fromEntries(now) };
}

function tableFault({ name, columns, keys, rows, maxRows, without = [] }: TableDefinition): Problem | undefined {
  const path = `tables/${name}`;
  const all = columnsOf({ keys, columns } as TableDefinition);
  const odd = all.find((column) => !fits(column.default, column.type));
  if (odd) return inconsistent("A default is outside its column's range", `${path}/${odd.name}`, String(odd.default));
  if (rows.length > maxRows)
    return inconsistent("An erased board would hold more rows than fit", path, `${rows.length}, and ${maxRows} fit`);
  const seen = new Set<string>();
  for (const { key, cells } of rows) {
    if (seen.has(key)) return inconsistent("A row stands twice on an erased board", path, key);
    seen.add(key);
    if (!saysKey({ keys } as TableDefinition, key))
      return inconsistent("A row of an erased board has a key that there cannot be", path, key);
    for (const [column, value] of Object.entries(cells)) {
      const type = columns.find((each) => each.name === column)?.type;
      if (!type) return inconsistent("A row of an erased board names a column that there is not", path, column);
      if (!fits(value, type))
        return inconsistent(
          "A row of an erased board holds what its column does not take",
          path,
          `${column}: ${String(value)}`,
        );
    }
  }
  const lacks = without.find(({ column, value }) => {
    const type = all.find((each) => each.name === column)?.type;
    return !type || !fits(value, type);
  });
  return (
    lacks &&
    inconsistent(
      "What does not work without a row speaks of no such row",
      path,
      `${lacks.column}: ${String(lacks.value)}`,
    )
  );
}

function starterFault({ starters, settings, profiles }: Release): Problem | undefined {
  const known = new Map(settings.map((setting) => [setting.key, setting]));
  const counts = new Map(profiles.map(({ kind, count }) => [kind, count]));
  for (const starter of starters)
    for (const { key, scope, value } of starter.values) {
      const path = `starters/${starter.name}`;
      const setting = known.get(key);
      if (!setting) return inconsistent("A starter set names an unknown setting", path, key);
      const [kind = "", no] = scope.split(" ");
      const there =
        setting.scope === "system"
          ? scope === "system"
          : kind === setting.scope && Number(no) <= (counts.get(kind) ?? 0);
      if (!there)
        return inconsistent("A starter set speaks of a place that its setting does not have", path, `${scope}/${key}`);
      if (!fits(value, setting.type))
        return inconsistent(
          "A starter set gives a value that its setting cannot hold",
          path,
          `${key}: ${String(value)}`,
        );
    }
  return undefined;
}

/** What a release, as computed, names and does not have: in pictures, tables, starter sets and values beside defaults. */
export function referenceFaultOf(release: Release): Problem | undefined {
  const odd = release.settings.find(({ doneBy, type }) => doneBy && !fits(doneBy.value, type));
  if (odd)
    return inconsistent(
      "What another part does is no value of the setting",
      `settings/${odd.key}`,
      String(odd.doneBy?.value),
    );
  for (const table of release.tables) {
    const fault = tableFault(table);
    if (fault) return fault;
  }
  const pinFault = release.pins && pinsFault(release.pins, release);
  if (pinFault) return pinFault;
  for (const picture of release.pictures) {
    const fault = pictureFault(picture, release);
    if (fault) return fault;
  }
  for (const ability of release.abilities) {
    const fault = abilityFault(ability, release);
    if (fault) return fault;
  }
  return starterFault(release);
}
