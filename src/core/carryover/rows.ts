import {
  columnNamed,
  findTarget,
  indexOf,
  kindOf,
  laterColumn,
  releaseTitle,
  rowsFly,
  rowsOf,
  rulesOn,
  ruleWhy,
  worse,
  type ColumnDefinition,
  type Effect,
  type FirmwareTarget,
  type Firmware,
  type ReleaseTarget,
  type Loss,
  type TableDefinition,
} from "@/core/catalog";
import { doubtsOf, equalValues, showValue, type Configuration, type TableRow, type Value } from "@/core/config";
import { columnMeant, tableMeant, translated } from "@/core/carryover/meaning";
import { withDefaultRows } from "@/core/carryover/default-rows";
import { changeBy, fitTo, type Traveller } from "@/core/carryover/pass";
import { blocks, restrictionsOf, type Destination } from "@/core/carryover/restrictions";
import { waysOut } from "@/core/carryover/ways-out";
import type { RowItem, TrailStep, Whose } from "@/core/carryover/plan";
import type { Hop } from "@/core/carryover/hop";

/** A row on its way: what it has become, and why it ends here if it does. */
interface RowTraveller {
  readonly table: string;
  readonly key: string;
  readonly cells: Readonly<Record<string, Value>>;
  readonly trail: readonly TrailStep[];
  readonly loss: Loss;
  readonly change?: Traveller["change"];
  readonly ended?: { readonly outcome: "retired" | "cannot-be-here"; readonly why: string };
}

const end = (row: RowTraveller, outcome: "retired" | "cannot-be-here", why: string): RowTraveller => ({
  ...row,
  trail: [...row.trail, { rule: outcome === "retired" ? "retire" : "none", why }],
  loss: outcome === "retired" ? "lost" : "limit",
  ended: { outcome, why },
});

/** A row after one thing that happened to it. */
const tell = (row: RowTraveller, step: TrailStep & { readonly effect: Effect }, loss: Loss = "none"): RowTraveller => {
  const change = changeBy(step.effect === "behaviour" ? "converted" : step.effect, row.change);
  return {
    ...row,
    trail: [...row.trail, step],
    loss: worse(row.loss, loss),
    ...(change === undefined ? {} : { change }),
  };
};

const notOffered = (row: RowTraveller, to: Firmware, column: string, value: Value) =>
  end(row, "cannot-be-here", `${releaseTitle(to)} does not offer ${column}: ${String(value)}`);

/** A cell at its column's default: where the column is gone, nothing goes with it. */
const saysNothing = (column: ColumnDefinition | undefined, value: Value) =>
  column !== undefined && equalValues(value, column.default, column.type);

/** The cells under the rules of one passage: columns renamed, words mapped, positions converted. */
function passCells(row: RowTraveller, table: TableDefinition, hop: Hop): RowTraveller {
  const rules = rulesOn(table.name, hop.rules);
  const older = indexOf(hop.from).tables.get(table.name);
  const cells: Record<string, Value> = {};
  let passed = row;
  for (const [name, start] of Object.entries(row.cells)) {
    const column = laterColumn(table.name, name, hop.rules);
    const context = { before: older && columnNamed(older, name), after: columnNamed(table, column) };
    if (!context.after && saysNothing(context.before, start)) continue;
    let value = start;
    for (const rule of rules) {
      const kind = kindOf(rule);
      // each speaks of the cell as it was on the release before
      const cell = kind.table?.cell?.(rule, name, value, context);
      if (!cell) continue;
      const { before, after } = cell;
      passed = tell(passed, { rule: rule.rule, effect: kind.effect, why: ruleWhy(rule), before, after }, cell.loss);
      value = cell.value;
    }
    if (!context.after) return notOffered(passed, hop.to, column, value);
    cells[column] = value;
  }
  return { ...passed, cells };
}

function passKey(row: RowTraveller, hop: Hop): RowTraveller {
  let passed = row;
  for (const rule of rulesOn(row.table, hop.rules)) {
    const kind = kindOf(rule);
    const key = kind.table?.key?.(rule, passed.key);
    if (key !== undefined && key !== passed.key)
      passed = {
        ...tell(passed, { rule: rule.rule, effect: kind.effect, why: ruleWhy(rule), before: passed.key, after: key }),
        key,
      };
  }
  return passed;
}

/** A row by what its table and columns mean in the other family; what means nothing there keeps it from standing there. */
function passRowByMeaning(row: RowTraveller, hop: Hop): RowTraveller {
  const older = indexOf(hop.from).tables.get(row.table);
  const table = older && tableMeant(older, hop.to);
  if (!older || !table) return end(row, "retired", `${releaseTitle(hop.to)} has no such table`);
  let passed: RowTraveller = table.name === row.table ? row : { ...row, table: table.name };
  const cells: Record<string, Value> = {};
  for (const [name, value] of Object.entries(row.cells)) {
    const before = columnNamed(older, name);
    const after = before && columnMeant(before, table.columns);
    if (!after && saysNothing(before, value)) continue;
    if (!before || !after) return notOffered(passed, hop.to, name, value);
    const next = translated(value, before, after);
    const shown = [
      `${name} ${showValue(value, before.type)}`,
      `${after.name} ${showValue(next.value, after.type)}`,
    ] as const;
    if (next.unmatched || !fitTo(after.type, next.value)) return notOffered(passed, hop.to, after.name, next.value);
    if (shown[0] !== shown[1])
      passed = tell(
        passed,
        {
          rule: "meaning",
          effect: "converted",
          why: "Same meaning in both families",
          before: shown[0],
          after: shown[1],
        },
        next.loss,
      );
    cells[after.name] = next.value;
  }
  const key = keyMeant(row.key, older, table);
  if (key !== row.key)
    passed = tell(passed, {
      rule: "meaning",
      effect: "behaviour",
      why: "Other keys in that family",
      before: row.key,
      after: key,
    });
  return { ...passed, cells, key };
}

/** The key of a row in the words of the other family. */
function keyMeant(key: string, from: TableDefinition, to: TableDefinition): string {
  const parts = from.keys.length === 1 ? [key] : key.split(" ");
  const named = new Map(
    parts.flatMap((part, i): [string, string][] => {
      const before = from.keys[i];
      const after = before && columnMeant(before, to.keys);
      if (!before || !after) return [];
      const value = before.type.kind === "number" ? Number(part) : part;
      return [[after.name, String(translated(value, before, after).value)]];
    }),
  );
  return named.size === to.keys.length ? to.keys.map(({ name }) => named.get(name)).join(" ") : key;
}

function passRow(row: RowTraveller, hop: Hop): RowTraveller {
  if (row.ended) return row;
  if (hop.by === "shared meanings") return passRowByMeaning(row, hop);
  const table = indexOf(hop.to).tables.get(row.table);
  if (!table) return end(row, "retired", `${releaseTitle(hop.to)} has no such table`);
  const passed = passCells(row, table, hop);
  return passed.ended ? passed : passKey(passed, hop);
}

/**
 * What becomes of each row of each table along the way; one that cannot stand in its place waits for a decision. Without
 * a target it is asked of no board in particular.
 */
export function rowItems(
  source: Configuration,
  from: Firmware,
  route: readonly Hop[],
  to: Firmware,
  target?: FirmwareTarget,
  whose: Whose = "this-board",
): RowItem[] {
  const targetId = source.identity.target;
  const own = targetId === undefined ? undefined : findTarget(from, targetId);
  const before = own?.id ?? targetId;
  // another family may number the same timers otherwise
  const { pads } = (whose === "this-board" && from.family === to.family ? (own ?? {}) : {}) as Partial<ReleaseTarget>;
  const destination: Destination = { route, to, target, before, ...(pads ? { wired: pads } : {}) };
  const all = rowsOf(source, from).map((row) => rowItem(row, destination, from));
  const taken = new Set(all.filter(stands).map(({ id }) => id));
  const items = all.map((item) => (!stands(item) && taken.has(item.id) ? { ...item, id: `left ${item.id}` } : item));
  const asBefore = (row: TableRow) => rowItem(row, destination, from);
  return [...waysOut(withDefaultRows(items, { source, from, to, asBefore }), destination), ...doubtItems(source, to)];
}

/** It has a place in the destination; others are named by where they come from. */
const stands = ({ to, outcome }: RowItem) => to !== undefined && outcome !== "cannot-be-here";

/** Cells that a row does not write stand at their column's default, and keep that where the default moved. */
function wholeCells(row: TableRow, from: Firmware, { route, to }: Destination): TableRow {
  const table = indexOf(from).tables.get(row.table);
  if (!table || route.length === 0) return row;
  const blank: RowTraveller = { table: row.table, key: row.key, cells: {}, trail: [], loss: "none" };
  const unsaid = table.columns.filter(({ name }) => !(name in row.cells));
  const kept = unsaid.flatMap((column) => {
    const one = { ...blank, cells: { [column.name]: column.default } };
    const passed = route.reduce(passRow, one);
    const [arrived] = Object.entries(passed.cells);
    if (!arrived || passed.ended) return [];
    const there = indexOf(to)
      .tables.get(passed.table)
      ?.columns.find(({ name }) => name === arrived[0]);
    const fit = there && fitTo(there.type, arrived[1]);
    return fit && fit.how !== "limited" && equalValues(fit.value, there.default, there.type)
      ? []
      : [[column.name, column.default] as const];
  });
  return kept.length === 0 ? row : { ...row, cells: { ...row.cells, ...Object.fromEntries(kept) } };
}

/** The cells as the destination's columns can hold them. */
function fitCells(row: RowTraveller, table: TableDefinition, to: Firmware): { row: RowTraveller; limited: boolean } {
  const cells: Record<string, Value> = {};
  let [passed, limited] = [row, false];
  for (const [name, value] of Object.entries(row.cells)) {
    const column = columnNamed(table, name);
    const fit = column && fitTo(column.type, value);
    if (!column || !fit) return { row: notOffered(row, to, name, value), limited };
    cells[name] = fit.value;
    if (fit.how === "same") continue;
    const cut = fit.how === "limited";
    limited ||= cut;
    const why = cut
      ? `${releaseTitle(to)} allows less in ${column.title.toLowerCase()}`
      : `${releaseTitle(to)} keeps ${column.title.toLowerCase()} in coarser steps`;
    const exact = typeof value === "number" ? String(Number(value.toPrecision(12))) : showValue(value, column.type);
    const step = { before: `${name} ${exact}`, after: `${name} ${showValue(fit.value, column.type)}`, why };
    passed = cut
      ? tell(passed, { rule: "limit", effect: "limited", ...step }, "limit")
      : tell(passed, { rule: "round", effect: "converted", ...step }, "rounding");
  }
  return { row: { ...passed, cells }, limited };
}

/** Whether a table's key columns can say this key. */
function takesKey({ keys }: TableDefinition, key: string): boolean {
  const parts = keys.length === 1 ? [key] : key.split(" ");
  return (
    parts.length === keys.length &&
    keys.every(({ type }, i) => {
      const part = parts[i] ?? "";
      const value = type.kind === "number" ? Number(part) : part;
      return fitTo(type, value)?.how === "same" || (type.kind === "switch" && ["true", "false"].includes(part));
    })
  );
}

function rowItem(start: TableRow, destination: Destination, from: Firmware): RowItem {
  const { route, to } = destination;
  const row = wholeCells(start, from, destination);
  let traveller: RowTraveller = { table: row.table, key: row.key, cells: row.cells, trail: [], loss: "none" };
  for (const hop of route) traveller = passRow(traveller, hop);
  const table = indexOf(to).tables.get(traveller.table);
  let limited = false;
  if (!traveller.ended) {
    if (!table) traveller = end(traveller, "retired", `${releaseTitle(to)} has no such table`);
    else if (route.length > 0 && !takesKey(table, traveller.key))
      traveller = end(
        traveller,
        "cannot-be-here",
        `${releaseTitle(to)} has no ${table.title.toLowerCase()} ${traveller.key}`,
      );
    else ({ row: traveller, limited } = fitCells(traveller, table, to));
  }
  const common = {
    kind: "row" as const,
    table: traveller.table,
    title: table?.title ?? row.table,
    area: table?.area ?? "housekeeping",
    flies: table !== undefined && rowsFly(table),
    from: { key: row.key, cells: row.cells, line: row.line },
    choices: [],
  };
  const { key, cells, trail, loss } = traveller;
  if (traveller.ended)
    return {
      ...common,
      id: `row ${row.table}/${row.key}`,
      trail,
      loss,
      outcome: traveller.ended.outcome,
      reason: traveller.ended.why,
    };
  const blocked = table && restrictionsOf(table, destination).find((each) => blocks(each, { key, cells }, table));
  const idle = table?.columns.every((c) => equalValues(cells[c.name] ?? c.default, c.default, c.type)) ?? false;
  if (blocked && idle) {
    const why = `${blocked.why} The row says nothing, so nothing is lost`;
    return {
      ...common,
      id: `row ${row.table}/${row.key}`,
      outcome: "left-out",
      loss,
      reason: why,
      trail: [...trail, { rule: "none", why }],
    };
  }
  if (blocked) {
    const possible = blocked.on.length === 0 ? "" : `; possible: ${blocked.on.join(", ")}`;
    const why = `${blocked.why} It stands on ${key}${possible}`;
    return {
      ...common,
      id: `row ${row.table}/${row.key}`,
      outcome: "cannot-be-here",
      loss: "limit",
      reason: why,
      to: { key, cells },
      trail: [...trail, { rule: "none", why }],
    };
  }
  return {
    ...common,
    // named by where it arrives, as settings are
    id: `row ${traveller.table}/${key}`,
    outcome: limited ? "limited" : (traveller.change ?? "as-it-was"),
    loss,
    reason: trail.at(-1)?.why ?? "",
    to: { key, cells },
    trail,
    ...(limited && table
      ? {
          call: "limit" as const,
          choices: [{ id: "accept", label: "Accept these limits", row: { key, cells } }, LEAVE_OUT],
        }
      : {}),
  };
}

const LEAVE_OUT = { id: "leave-out", label: "Leave it out" };

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
      loss: "look",
      doubt: reason,
      reason,
      ...(key === undefined ? {} : { from: { key, cells: {}, line } }),
      trail: [{ rule: "doubt", why: reason }],
      choices: [LEAVE_OUT],
    };
  });
}
