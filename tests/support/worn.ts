import type { Release } from "@/core/catalog";
import { limitValue, type Configuration, type Identity, type Value, type ValueType } from "@/core/config";
import { defaultConfiguration } from "@/core/idiom";

/** Another value of a type than the one given, the same at every call. */
function another(type: ValueType, value: Value, turn: number): Value {
  switch (type.kind) {
    case "number":
      return limitValue(type.min + ((type.max - type.min) * ((turn % 7) + 1)) / 8, type) ?? value;
    case "switch":
      return value !== true;
    case "choice":
      return type.options[(type.options.indexOf(String(value)) + 1) % type.options.length] ?? value;
    case "flags":
      return type.options.filter((_, i) => (i + turn) % 2 === 0);
    case "text":
      return `no ${turn}`.slice(0, type.maxLength);
  }
}

/**
 * A configuration as years of use leave it, the same at every call: every fifth value moved, every eleventh unwritten, a
 * value and a table in doubt, rows changed, gone and added, a line that nobody understands.
 */
export function worn(release: Release, identity: Identity, seed = 0): Configuration {
  const whole = defaultConfiguration(release, identity.target, identity);
  const types = new Map(release.settings.map((setting) => [setting.key, setting.type]));
  const settings = whole.settings.flatMap((entry, i) => {
    const type = types.get(entry.key);
    const turn = i + seed;
    if (!type || turn % 11 === 3) return [];
    return [{ ...entry, line: i + 10, value: turn % 5 === 0 ? another(type, entry.value, turn) : entry.value }];
  });
  const rows = whole.rows.flatMap((row, i) => {
    const table = release.tables.find(({ name }) => name === row.table);
    const turn = i + seed;
    if (turn % 9 === 4) return [];
    const column = table?.columns[turn % (table.columns.length || 1)];
    const cells =
      column && turn % 4 === 1
        ? { ...row.cells, [column.name]: another(column.type, row.cells[column.name] ?? column.default, turn) }
        : row.cells;
    return [{ ...row, cells, line: 900 + i }];
  });
  const [first, second] = [settings[20 + seed], settings[33 + seed]];
  return {
    ...whole,
    settings: settings.filter((entry) => entry !== second),
    rows,
    active: Object.fromEntries(release.profiles.map(({ kind, count }, i) => [kind, ((i + seed) % count) + 1])),
    unknown: [{ line: 7, text: "glow 3", scope: first?.scope ?? "system", reason: "No such word" }],
    doubts: {
      values: second
        ? [{ scope: second.scope, key: second.key, cause: "misplaced", reason: "Damage", raw: "?", line: 44 }]
        : [],
      rows: [],
      active: [],
    },
  };
}
