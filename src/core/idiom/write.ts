import { columnsOf, defaultOf, indexOf, scopesOf, type Release } from "@/core/catalog";
import {
  addressId,
  equalValues,
  formatValue,
  profileScope,
  rowId,
  settingsByAddress,
  type Configuration,
  type Identity,
  type Value,
} from "@/core/config";
import { type Idiom } from "@/core/idiom/definition";
import { checkOf } from "@/core/idiom/recital";
import { writeStatement, type Statement } from "@/core/idiom/statement";

/** `all`: every profile; `active`: the active ones only; `moved`: what differs from the defaults. */
export type Extent = "all" | "active" | "moved";

/** The statement that sets one value. */
export function setStatement(key: string, value: Value, release: Release, idiom: Idiom): Statement {
  const setting = indexOf(release).settings.get(key);
  if (!setting) throw new Error(`${release.id} has no setting ${key}`);
  return { kind: "set", key, value: formatValue(value, setting.type, idiom.spelling) };
}

/** The statement that writes one table row, every column named. */
export function rowStatement(
  table: string,
  key: string,
  cells: Readonly<Record<string, Value>>,
  release: Release,
  idiom: Idiom,
): Statement {
  const definition = indexOf(release).tables.get(table);
  if (!definition) throw new Error(`${release.id} has no table ${table}`);
  const written: Record<string, string> = {};
  for (const column of definition.columns) {
    const value = cells[column.name] ?? column.default;
    written[column.name] = formatValue(value, column.type, idiom.spelling);
  }
  return { kind: "row", table, keys: key.split(" "), cells: written };
}

function factStatements(identity: Identity, idiom: Idiom): Statement[] {
  return Object.entries(idiom.facts).flatMap(([field, name]): Statement[] => {
    const value = (identity as Record<string, string | undefined>)[field];
    return value === undefined ? [] : [{ kind: "fact", name, value }];
  });
}

/** The statements of a read-out, without facts and closing line. */
export function bodyStatements(
  configuration: Configuration,
  release: Release,
  idiom: Idiom,
  extent: Extent,
): Statement[] {
  const values = settingsByAddress(configuration);
  const target = configuration.identity.target;
  const wanted = (scope: Parameters<typeof addressId>[0]["scope"], key: string): Statement[] => {
    const entry = values.get(addressId({ scope, key }));
    const setting = indexOf(release).settings.get(key);
    if (!entry || !setting) return [];
    if (extent === "moved" && equalValues(entry.value, defaultOf(setting, target), setting.type)) return [];
    return [setStatement(key, entry.value, release, idiom)];
  };
  const statements: Statement[] = release.settings
    .filter((s) => s.scope === "system")
    .flatMap((s) => wanted("system", s.key));
  for (const table of release.tables) {
    const rows = configuration.rows.filter((row) => row.table === table.name);
    if (extent === "moved" && sameRows(rows, table.rows, table)) continue;
    statements.push({ kind: "clear", table: table.name });
    for (const row of rows) statements.push(rowStatement(table.name, row.key, row.cells, release, idiom));
  }
  for (const profile of release.profiles) {
    const active = configuration.active[profile.kind] ?? 1;
    for (let number = 1; number <= profile.count; number++) {
      if (extent === "active" && number !== active) continue;
      const scope = profileScope(profile.kind, number);
      const inScope = release.settings
        .filter((s) => s.scope === profile.kind && scopesOf(release, s).includes(scope))
        .flatMap((s) => wanted(scope, s.key));
      if (inScope.length > 0) statements.push({ kind: "select", profile: profile.kind, number }, ...inScope);
    }
  }
  for (const profile of release.profiles)
    statements.push({ kind: "select", profile: profile.kind, number: configuration.active[profile.kind] ?? 1 });
  return statements;
}

function sameRows(
  rows: readonly { key: string; table: string; cells: Readonly<Record<string, Value>> }[],
  defaults: readonly { key: string; cells: Readonly<Record<string, Value>> }[],
  table: Release["tables"][number],
): boolean {
  if (rows.length !== defaults.length) return false;
  const own = new Map(rows.map((row) => [rowId(row), row]));
  return defaults.every((row) => {
    const mine = own.get(`${table.name}/${row.key}`);
    return (
      mine !== undefined &&
      table.columns.every((c) => equalValues(mine.cells[c.name] ?? c.default, row.cells[c.name] ?? c.default, c.type))
    );
  });
}

/** The read-out that a board with this configuration prints, with facts and closing line; lines without line ends. */
export function reciteLines(configuration: Configuration, release: Release, idiom: Idiom, extent: Extent): string[] {
  const identity = { ...configuration.identity };
  delete (identity as { extent?: string }).extent;
  const facts = factStatements(extent === "moved" ? { ...identity, extent: idiom.recital.movedWord } : identity, idiom);
  const lines = [...facts, ...bodyStatements(configuration, release, idiom, extent)].map((s) =>
    writeStatement(s, idiom),
  );
  if (idiom.recital.end) lines.push(writeStatement({ kind: "end", lines: lines.length, check: checkOf(lines) }, idiom));
  return lines;
}

/** What a board of this release holds after it was erased: every default, as a configuration. */
export function defaultConfiguration(
  release: Release,
  target: string | undefined,
  identity: Identity = {},
): Configuration {
  return {
    identity,
    settings: release.settings.flatMap((setting) =>
      scopesOf(release, setting).map((scope) => ({
        scope,
        key: setting.key,
        value: defaultOf(setting, target),
        raw: "",
        line: 0,
      })),
    ),
    rows: release.tables.flatMap((table) =>
      table.rows.map((row) => ({
        table: table.name,
        key: row.key,
        cells: Object.fromEntries(
          columnsOf(table)
            .filter((c) => !table.keys.includes(c))
            .map((c) => [c.name, row.cells[c.name] ?? c.default]),
        ),
        line: 0,
      })),
    ),
    active: Object.fromEntries(release.profiles.map((profile) => [profile.kind, 1])),
    unknown: [],
  };
}
