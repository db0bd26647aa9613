import fc from "fast-check";
import { scopesOf, type Release, type TableDefinition } from "@/core/catalog";
import { limitValue, type Configuration, type Identity, type Value, type ValueType } from "@/core/config";
import { defaultConfiguration } from "@/core/idiom";

/** Any value of a type; texts hold quotes, escapes, marks and blanks on purpose. */
export function valueOfType(type: ValueType): fc.Arbitrary<Value> {
  switch (type.kind) {
    case "number":
      return fc.double({ min: type.min, max: type.max, noNaN: true }).map((v) => limitValue(v, type) ?? type.min);
    case "switch":
      return fc.boolean();
    case "choice":
      return fc.constantFrom(...type.options);
    case "flags":
      return fc.subarray([...type.options]);
    case "text":
      return fc
        .string({
          maxLength: type.maxLength,
          unit: fc.constantFrom("a", "Z", "7", " ", '"', "'", "\\", ";", "#", "=", "!", "/", "*", "é"),
        })
        .map((text) => text.trim())
        .filter((text) => !["nil", "none", "nothing"].includes(text));
  }
}

/** Rows under some of the keys that the table may have, with any cells. */
function rowsOfTable(table: TableDefinition) {
  const [key] = table.keys;
  const type = key?.type;
  const keys =
    type?.kind === "number" && table.keys.length === 1
      ? fc.uniqueArray(fc.integer({ min: type.min, max: Math.min(type.max, type.min + 7) }).map(String), {
          maxLength: 4,
        })
      : fc.subarray(table.rows.map((row) => row.key));
  const cells = fc.record(Object.fromEntries(table.columns.map((column) => [column.name, valueOfType(column.type)])));
  return keys.chain((drawn) =>
    fc.tuple(...drawn.map((each) => cells.map((own) => ({ table: table.name, key: each, cells: own, line: 0 })))),
  );
}

/** Any configuration of a release: all values in all profiles, any rows, any profile active. */
export function configurations(release: Release, identity: Identity): fc.Arbitrary<Configuration> {
  const entries = release.settings.flatMap((setting) =>
    scopesOf(release, setting).map((scope) =>
      valueOfType(setting.type).map((value) => ({ scope, key: setting.key, value, raw: "", line: 0 })),
    ),
  );
  const active = fc.record(
    Object.fromEntries(release.profiles.map(({ kind, count }) => [kind, fc.integer({ min: 1, max: count })])),
  );
  return fc
    .tuple(fc.tuple(...entries), fc.tuple(...release.tables.map(rowsOfTable)), active)
    .map(([settings, rows, chosen]) => ({
      ...defaultConfiguration(release, identity.target, identity),
      settings,
      rows: rows.flat(),
      active: chosen,
    }));
}
