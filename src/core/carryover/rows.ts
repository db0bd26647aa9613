import { columnsOf, indexOf, releaseTitle, rowsOf, type Firmware, type TableDefinition } from "@/core/catalog";
import { limitValue, quantize, showValue, type Configuration, type TableRow, type Value } from "@/core/config";
import type { RowItem, TrailStep } from "@/core/carryover/plan";
import type { Hop } from "@/core/carryover/route";

/** A row on its way: what it has become, and why it ends here if it does. */
interface RowTraveller {
  readonly key: string;
  readonly cells: Readonly<Record<string, Value>>;
  readonly trail: readonly TrailStep[];
  readonly ended?: { readonly outcome: "retired" | "cannot-be-here"; readonly why: string };
}

const end = (row: RowTraveller, outcome: "retired" | "cannot-be-here", why: string): RowTraveller => ({
  ...row,
  trail: [...row.trail, { rule: outcome === "retired" ? "retire" : "none", why }],
  ended: { outcome, why },
});

/** The cells under the rules of one hop: columns renamed, words mapped, positions converted. */
function passCells(row: RowTraveller, table: TableDefinition, hop: Hop): RowTraveller {
  const rules = hop.rules.filter((rule) => "table" in rule && rule.table === table.name);
  const trail: TrailStep[] = [...row.trail];
  const cells: Record<string, Value> = {};
  for (const [name, value] of Object.entries(row.cells)) {
    let column = name;
    let next = value;
    for (const rule of rules) {
      if (rule.rule === "column" && rule.column === name) {
        column = rule.to;
        trail.push({ rule: "column", why: rule.why, before: name, after: column });
      } else if (rule.rule === "cells" && rule.column === name) {
        const word = rule.words[String(value)];
        if (word !== undefined && word !== value) {
          trail.push({ rule: "cells", why: rule.why, before: String(value), after: word });
          next = word;
        }
      } else if (rule.rule === "ranges" && rule.columns.includes(name) && typeof value === "number") {
        const type = columnsOf(table).find((c) => c.name === column)?.type;
        const moved = value * rule.factor + (rule.offset ?? 0);
        next = type?.kind === "number" ? (limitValue(quantize(moved, type.step), type) ?? moved) : moved;
        const was = indexOf(hop.from)
          .tables.get(table.name)
          ?.columns.find((c) => c.name === name)?.type;
        const shown = (v: Value, of: typeof type) => (of ? showValue(v, of) : String(v));
        trail.push({
          rule: "ranges",
          why: rule.why,
          before: `${name} ${shown(value, was)}`,
          after: `${column} ${shown(next, type)}`,
        });
      }
    }
    const definition = columnsOf(table).find((c) => c.name === column);
    if (!definition || (definition.type.kind === "choice" && !definition.type.options.includes(next as string)))
      return end(
        { ...row, trail },
        "cannot-be-here",
        `${releaseTitle(hop.to)} does not offer ${column}: ${String(next)}`,
      );
    cells[column] = next;
  }
  return { ...row, cells, trail };
}

function passRow(row: RowTraveller, name: string, hop: Hop): RowTraveller {
  if (row.ended) return row;
  const table = indexOf(hop.to).tables.get(name);
  if (!table) return end(row, "retired", `${releaseTitle(hop.to)} has no such table`);
  let passed = passCells(row, table, hop);
  for (const rule of hop.rules) {
    if (passed.ended || !("table" in rule) || rule.table !== name) continue;
    if (rule.rule === "renumber") {
      const key = rule.rows[passed.key];
      if (key !== undefined && key !== passed.key)
        passed = {
          ...passed,
          key,
          trail: [...passed.trail, { rule: "renumber", why: rule.why, before: passed.key, after: key }],
        };
    } else if (rule.rule === "restrict" && passed.cells[rule.column] === rule.value && !rule.on.includes(passed.key))
      passed = end(passed, "cannot-be-here", `${rule.why} It stands on ${passed.key}; possible: ${rule.on.join(", ")}`);
  }
  return passed;
}

/** What becomes of each row of each table along the way. */
export function rowItems(source: Configuration, from: Firmware, way: readonly Hop[], to: Firmware): RowItem[] {
  return rowsOf(source, from).map((row) => rowItem(row, way, to));
}

function rowItem(row: TableRow, way: readonly Hop[], to: Firmware): RowItem {
  const table = indexOf(to).tables.get(row.table);
  let traveller: RowTraveller = { key: row.key, cells: row.cells, trail: [] };
  for (const hop of way) traveller = passRow(traveller, row.table, hop);
  if (!table && !traveller.ended) traveller = end(traveller, "retired", `${releaseTitle(to)} has no such table`);
  const common = {
    kind: "row" as const,
    id: `row ${row.table}/${row.key}`,
    table: row.table,
    title: table?.title ?? row.table,
    area: table?.area ?? "housekeeping",
    from: { key: row.key, cells: row.cells, line: row.line },
    trail: traveller.trail,
    choices: [],
  };
  if (traveller.ended) return { ...common, outcome: traveller.ended.outcome };
  const { key, cells } = traveller;
  return {
    ...common,
    // named by where it arrives, as settings are
    id: `row ${row.table}/${key}`,
    outcome: traveller.trail.length > 0 ? "converted" : "as-it-was",
    to: { key, cells },
  };
}
