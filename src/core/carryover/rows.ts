import {
  columnsOf,
  indexOf,
  releaseTitle,
  rowsFly,
  rowsOf,
  type Firmware,
  type FirmwareTarget,
  type TableDefinition,
} from "@/core/catalog";
import {
  doubtsOf,
  equalValues,
  limitValue,
  quantize,
  showValue,
  type Configuration,
  type TableRow,
  type Value,
} from "@/core/config";
import { blocks, restrictionsOf } from "@/core/carryover/restrictions";
import { waysOut } from "@/core/carryover/ways-out";
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
    if (passed.ended || rule.rule !== "renumber" || rule.table !== name) continue;
    const key = rule.rows[passed.key];
    if (key !== undefined && key !== passed.key)
      passed = {
        ...passed,
        key,
        trail: [...passed.trail, { rule: "renumber", why: rule.why, before: passed.key, after: key }],
      };
  }
  return passed;
}

/**
 * What becomes of each row of each table along the way; one that cannot stand in its place waits for a decision. Without
 * a target it is asked of no board in particular.
 */
export function rowItems(
  source: Configuration,
  from: Firmware,
  way: readonly Hop[],
  to: Firmware,
  target?: FirmwareTarget,
): RowItem[] {
  const all = rowsOf(source, from).map((row) => rowItem(row, way, to, target));
  const taken = new Set(all.filter(stands).map(({ id }) => id));
  const items = all.map((item) => (!stands(item) && taken.has(item.id) ? { ...item, id: `left ${item.id}` } : item));
  return [...waysOut(items, { way, to, target }), ...doubtItems(source, to)];
}

/** It has a place in the destination; others are named by where they come from. */
const stands = ({ to, outcome }: RowItem) => to !== undefined && outcome !== "cannot-be-here";

function rowItem(row: TableRow, way: readonly Hop[], to: Firmware, target: FirmwareTarget | undefined): RowItem {
  const table = indexOf(to).tables.get(row.table);
  let traveller: RowTraveller = { key: row.key, cells: row.cells, trail: [] };
  for (const hop of way) traveller = passRow(traveller, row.table, hop);
  if (!table && !traveller.ended) traveller = end(traveller, "retired", `${releaseTitle(to)} has no such table`);
  const common = {
    kind: "row" as const,
    table: row.table,
    title: table?.title ?? row.table,
    area: table?.area ?? "housekeeping",
    flies: table !== undefined && rowsFly(table),
    from: { key: row.key, cells: row.cells, line: row.line },
    choices: [],
  };
  const { key, cells, trail } = traveller;
  if (traveller.ended) return { ...common, id: `row ${row.table}/${row.key}`, trail, outcome: traveller.ended.outcome };
  const blocked = table && restrictionsOf(table, way, target).find((each) => blocks(each, { key, cells }));
  const idle = table?.columns.every((c) => equalValues(cells[c.name] ?? c.default, c.default, c.type)) ?? false;
  if (blocked && idle) {
    const why = `${blocked.why} The row says nothing, so nothing is lost`;
    return {
      ...common,
      id: `row ${row.table}/${row.key}`,
      outcome: "left-out",
      trail: [...trail, { rule: "none", why }],
    };
  }
  if (blocked) {
    const why = `${blocked.why} It stands on ${key}; possible: ${blocked.on.join(", ")}`;
    return {
      ...common,
      id: `row ${row.table}/${row.key}`,
      outcome: "cannot-be-here",
      to: { key, cells },
      trail: [...trail, { rule: "none", why }],
    };
  }
  return {
    ...common,
    // named by where it arrives, as settings are
    id: `row ${row.table}/${key}`,
    outcome: trail.length > 0 ? "converted" : "as-it-was",
    to: { key, cells },
    trail,
  };
}

/** Rows that the read-out leaves open: they are carried nowhere, and somebody has to know. */
function doubtItems(source: Configuration, to: Firmware): RowItem[] {
  return doubtsOf(source).rows.map(({ table: name, key, reason, line }, i): RowItem => {
    const table = indexOf(to).tables.get(name);
    return {
      kind: "row",
      id: `doubt ${i + 1} ${name}/${key ?? ""}`,
      table: name,
      title: key === undefined ? `${table?.title ?? name}, rows that were not read` : (table?.title ?? name),
      area: table?.area ?? "housekeeping",
      flies: table !== undefined && rowsFly(table),
      outcome: "your-call",
      ...(key === undefined ? {} : { from: { key, cells: {}, line } }),
      trail: [{ rule: "doubt", why: reason }],
      choices: [{ id: "leave-out", label: "Leave it behind" }],
    };
  });
}
