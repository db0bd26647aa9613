import { columnsOf, defaultOf, scopesOf, type Firmware } from "@/core/catalog";
import {
  addressId,
  equalValues,
  profileScope,
  rowId,
  settingsByAddress,
  type Configuration,
  type Identity,
  type ScopeId,
  type Value,
} from "@/core/config";
import { adorn, closeText } from "@/core/idiom/reading/adorn";
import { bytesOf } from "@/core/idiom/definition/check";
import type { Idiom } from "@/core/idiom/definition/definition";
import { PARTS, type Part } from "@/core/idiom/definition/document";
import { lineWriter, type LineWriter, type WrittenValue } from "@/core/idiom/writing/lines";

/** `all`: every profile; `active`: the active ones only; `moved`: what differs from the defaults. */
export type Extent = "all" | "active" | "moved";

function factPairs(identity: Identity, idiom: Idiom): [string, string][] {
  return [...idiom.factFields].flatMap(([name, field]): [string, string][] => {
    const value = identity[field];
    return value === undefined || idiom.given?.[field] !== undefined ? [] : [[name, value]];
  });
}

/** The lines of a read-out, without facts and closing line. */
function bodyLines(
  configuration: Configuration,
  release: Firmware,
  extent: Extent,
  write: LineWriter,
  order: readonly Part[],
): string[] {
  const active = Object.fromEntries(release.profiles.map((p) => [p.kind, configuration.active[p.kind] ?? 1]));
  const values = settingsByAddress(configuration);
  const target = configuration.identity.target;
  const wanted = (scope: ScopeId, settings: readonly Firmware["settings"][number][]): WrittenValue[] =>
    settings.flatMap((setting) => {
      const entry = values.get(addressId({ scope, key: setting.key }));
      if (!entry) return [];
      if (extent === "moved" && equalValues(entry.value, defaultOf(setting, target), setting.type)) return [];
      return [{ key: setting.key, value: entry.value }];
    });
  const place = (scope: ScopeId, area: string, settings: readonly Firmware["settings"][number][]): string[] => {
    const found = wanted(scope, settings);
    if (found.length === 0) return [];
    return [...write.enter(scope, area, active), ...write.set(scope, area, found), ...write.leave(scope, area)];
  };
  /** Values of all profiles of a kind, a line for each setting. */
  const across = (kind: string, numbers: readonly number[], settings: readonly Firmware["settings"][number][]) =>
    settings.flatMap((setting) => {
      const { key, type } = setting;
      const fallback = defaultOf(setting, target);
      const entries = numbers.map((number) => values.get(addressId({ scope: profileScope(kind, number), key })));
      const moved = entries.some((entry) => entry && !equalValues(entry.value, fallback, type));
      if (entries.every((entry) => entry === undefined) || (extent === "moved" && !moved)) return [];
      const said = entries.map((entry) => entry?.value ?? fallback);
      return write.across(kind, key, said);
    });
  const system = release.settings.filter((setting) => setting.scope === "system");
  const parts: Readonly<Record<Part, () => string[]>> = {
    system: () =>
      write.byKeys
        ? place("system", "", system)
        : [...new Set(system.map((setting) => setting.area))].flatMap((area) =>
            place(
              "system",
              area,
              system.filter((setting) => setting.area === area),
            ),
          ),
    tables: () =>
      release.tables.flatMap((table) => {
        const rows = configuration.rows.filter((row) => row.table === table.name);
        if (extent === "moved" && sameRows(rows, table.rows, table)) return [];
        return [...write.clear(table.name), ...rows.flatMap((row) => write.row(table.name, row.key, row.cells))];
      }),
    profiles: () =>
      release.profiles.flatMap((profile) => {
        const settings = release.settings.filter((setting) => setting.scope === profile.kind);
        const numbers = Array.from({ length: profile.count }, (_, i) => i + 1);
        if (numbers.length > 1 && write.saysAcross(profile.kind)) return across(profile.kind, numbers, settings);
        return numbers
          .filter((number) => extent !== "active" || number === active[profile.kind])
          .flatMap((number) => {
            const lines = place(profileScope(profile.kind, number), profile.kind, settings);
            const unsaid = lines.length === 0 && write.marksActive && number === active[profile.kind];
            return unsaid ? write.activate({ [profile.kind]: number }) : lines;
          });
      }),
    active: () => (write.marksActive ? [] : write.activate(active)),
  };
  return order.flatMap((part) => parts[part]());
}

function sameRows(
  rows: readonly { key: string; table: string; cells: Readonly<Record<string, Value>> }[],
  defaults: readonly { key: string; cells: Readonly<Record<string, Value>> }[],
  table: Firmware["tables"][number],
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
export function reciteLines(configuration: Configuration, release: Firmware, idiom: Idiom, extent: Extent): string[] {
  const write = lineWriter(release, idiom);
  const identity: Record<string, string | undefined> = { ...configuration.identity };
  delete identity.extent;
  if (extent === "moved") identity.extent = idiom.recital.movedWord;
  if (extent === "active") identity.extent = idiom.recital.activeWord;
  const lines = [
    ...write.facts("identity", factPairs(identity, idiom)),
    ...bodyLines(configuration, release, extent, write, idiom.recital.order ?? PARTS),
  ];
  return closeText(adorn(lines, idiom), (covered) => write.end(covered), idiom);
}

/** The same as a file of this language: with its encoding, its line ends and its byte-order mark. */
export function reciteBytes(configuration: Configuration, release: Firmware, idiom: Idiom, extent: Extent): Uint8Array {
  const { lineEnds = "lf", encoding = "utf-8", byteOrderMark = false } = idiom.text;
  const end = lineEnds === "crlf" ? "\r\n" : "\n";
  const text = reciteLines(configuration, release, idiom, extent)
    .map((line) => line + end)
    .join("");
  const bytes = bytesOf(text, encoding);
  if (!byteOrderMark || encoding !== "utf-8") return bytes;
  const marked = new Uint8Array(bytes.length + 3);
  marked.set([0xef, 0xbb, 0xbf]);
  marked.set(bytes, 3);
  return marked;
}

/** What a board of this release holds after it was erased: every default, as a configuration. */
export function defaultConfiguration(
  release: Firmware,
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
