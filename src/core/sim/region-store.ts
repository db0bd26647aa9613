import { scopesOf, type Release } from "@/core/catalog";
import { addressId, formatValue, limitValue, parseValue, profileOf, type ScopeId } from "@/core/config";
import { quoteWord, splitWords, type Idiom } from "@/core/idiom";
import { decodeRecords, decodeRegion, encodeRecords, encodeRegion, markOf, type RegionRecord } from "@/core/image";
import { startApplication } from "@/core/sim/application";
import type { Application } from "@/core/sim/running";

/** Ordinals of what is not a setting: rows by table, tables that were written at all, active profiles. */
const ROWS = 0x8000;
const TABLES = 0x9000;
const ACTIVE = 0xf000;

/** The settings region that an application writes when it is told to keep. */
export function regionOf(app: Application): Uint8Array {
  const { release, idiom } = app;
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
    records.push({ ordinal: TABLES + i, profile: 0, text: "" });
    for (const row of app.rows.values()) {
      if (row.table !== table.name) continue;
      const cells = table.columns.map(
        (c) => `${c.name}=${formatValue(row.cells[c.name] ?? c.default, c.type, idiom.spelling)}`,
      );
      records.push({
        ordinal: ROWS + i,
        profile: 0,
        text: [row.key, ...cells].map((word) => quoteWord(word, '"')).join(" "),
      });
    }
  });
  release.profiles.forEach((profile, i) =>
    records.push({ ordinal: ACTIVE + i, profile: app.active[profile.kind] ?? 1, text: "" }),
  );
  return encodeRegion(release.region.format, encodeRecords(records));
}

/** Settings with a whole head that says there are more of them than the region holds: the firmware runs over its end, and restarts. */
export function tripsOver(bytes: Uint8Array): boolean {
  const content = decodeRegion(bytes);
  if (content.state !== "damaged" || content.overruns !== true) return false;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  // a head that was cut off in the writing is seen as such
  return [8, 12].every((at) => view.getUint32(at, true) < 0x8000_0000);
}

/** An application as it starts on what its flash holds: kept settings, or defaults with the reason why. */
export function startOnRegion(
  release: Release,
  idiom: Idiom,
  target: Application["target"],
  bytes: Uint8Array,
): Application {
  const content = decodeRegion(bytes);
  const fresh = (kept: string) => startApplication(release, idiom, target, kept);
  if (content.state === "blank") return fresh("none, defaults taken");
  if (content.state === "damaged") return fresh("damaged, defaults taken");
  const own = content.formatMark === markOf(release.region.format);
  if (!own && release.region.stale === "refuse") return fresh("of another release, defaults taken");
  const app = fresh("kept");
  for (const record of decodeRecords(content.payload)) applyRecord(app, record);
  return app;
}

function applyRecord(app: Application, record: RegionRecord): void {
  const { release, idiom } = app;
  if (record.ordinal >= ACTIVE) {
    const profile = release.profiles[record.ordinal - ACTIVE];
    if (profile && record.profile >= 1 && record.profile <= profile.count) app.active[profile.kind] = record.profile;
  } else if (record.ordinal >= TABLES) {
    const table = release.tables[record.ordinal - TABLES];
    for (const [id, row] of app.rows) if (row.table === table?.name) app.rows.delete(id);
  } else if (record.ordinal >= ROWS) {
    const table = release.tables[record.ordinal - ROWS];
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
