import { scopesOf, type Layout } from "@/core/catalog";
import { addressId, formatValue, limitValue, parseValue, profileOf, type ScopeId } from "@/core/config";
import { quoteWord, splitWords } from "@/core/idiom";
import {
  decodeRecords,
  decodeRegion,
  encodeRecords,
  encodeRegion,
  markOf,
  numbersIn,
  type RegionRecord,
} from "@/core/image";
import { startApplication, type Program } from "@/core/sim/application";
import type { Application } from "@/core/sim/running";

/** The settings region that an application writes when it is told to keep. */
export function regionOf(app: Application): Uint8Array {
  const { release, idiom, layout } = app;
  const { rows, tables, active } = layout.region.numbers;
  const records: RegionRecord[] = [];
  release.settings.forEach((setting, ordinal) => {
    for (const scope of scopesOf(release, setting)) {
      const value = app.values.get(addressId({ scope, key: setting.key }));
      if (value !== undefined)
        records.push({
          ordinal,
          profile: profileOf(scope)?.number ?? 0,
          text: formatValue(value, setting.type, idiom.spelling),
        });
    }
  });
  release.tables.forEach((table, i) => {
    records.push({ ordinal: tables + i, profile: 0, text: "" });
    for (const row of app.rows.values()) {
      if (row.table !== table.name) continue;
      const cells = table.columns.map(
        (c) => `${c.name}=${formatValue(row.cells[c.name] ?? c.default, c.type, idiom.spelling)}`,
      );
      records.push({
        ordinal: rows + i,
        profile: 0,
        text: [row.key, ...cells].map((word) => quoteWord(word, '"')).join(" "),
      });
    }
  });
  release.profiles.forEach((profile, i) =>
    records.push({ ordinal: active + i, profile: app.active[profile.kind] ?? 1, text: "" }),
  );
  return encodeRegion(release.region.format, encodeRecords(records, layout), layout);
}

/** Settings with a whole head that says there are more of them than the region holds: the firmware runs over its end, and restarts. */
export function tripsOver(bytes: Uint8Array, layout: Layout): boolean {
  const content = decodeRegion(bytes, [layout]);
  if (content.state !== "damaged" || content.overruns !== true) return false;
  const numbers = numbersIn(bytes, layout);
  // a head that was cut off in the writing is seen as such
  return [layout.region.length, layout.region.check].every((place) => numbers.get(place) < 0x8000_0000);
}

/** An application as it starts on what its flash holds: kept settings, or defaults with the reason why. */
export function startOnRegion(program: Program, bytes: Uint8Array): Application {
  const { release, layout } = program;
  const content = decodeRegion(bytes, [layout]);
  const fresh = (kept: string) => startApplication(program, kept);
  if (content.state === "blank") return fresh("none, defaults taken");
  if (content.state === "damaged") return fresh("damaged, defaults taken");
  const own = content.formatMark === markOf(release.region.format);
  if (!own && release.region.stale === "refuse") return fresh("of another release, defaults taken");
  const app = fresh("kept");
  for (const record of decodeRecords(content.payload, layout)) applyRecord(app, record);
  app.begun = new Map(app.values);
  return app;
}

function applyRecord(app: Application, record: RegionRecord): void {
  const { release, idiom, layout } = app;
  const { rows, tables, active } = layout.region.numbers;
  if (record.ordinal >= active) {
    const profile = release.profiles[record.ordinal - active];
    if (profile && record.profile >= 1 && record.profile <= profile.count) app.active[profile.kind] = record.profile;
  } else if (record.ordinal >= tables) {
    const table = release.tables[record.ordinal - tables];
    for (const [id, row] of app.rows) if (row.table === table?.name) app.rows.delete(id);
  } else if (record.ordinal >= rows) {
    const table = release.tables[record.ordinal - rows];
    const [key = "", ...cells] = splitWords(record.text, '"') ?? [];
    if (!table) return;
    const values = Object.fromEntries(
      table.columns.map((column) => {
        const text = cells.find((cell) => cell.startsWith(`${column.name}=`))?.slice(column.name.length + 1) ?? "";
        const value = parseValue(text, column.type, idiom.spelling);
        return [column.name, value.ok ? value.value : column.default];
      }),
    );
    app.rows.set(`${table.name}/${key}`, { table: table.name, key, cells: values });
  } else {
    const setting = release.settings[record.ordinal];
    if (!setting) return;
    const value = parseValue(record.text, setting.type, idiom.spelling);
    const limited = value.ok ? limitValue(value.value, setting.type) : undefined;
    const scope: ScopeId = setting.scope === "system" ? "system" : `${setting.scope} ${record.profile}`;
    const id = addressId({ scope, key: setting.key });
    if (limited !== undefined && app.values.has(id)) app.values.set(id, limited);
  }
}
