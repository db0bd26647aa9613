import {
  cellAfter,
  columnAfter,
  hold,
  keyAfter,
  linear,
  same,
  toStep,
  type AccountRelease,
  type Cells,
  type Json,
  type Rule,
  type Table,
} from "./account-releases";
import { reversed, undo } from "./account-values";

export interface Expected {
  /** Place → what goes there unasked, or what is offered. */
  readonly places: Map<string, { value?: Json; offered?: Json[] }>;
  /** Origins that end, and whether a rule says why or a person is asked. */
  readonly ended: Set<string>;
  /** Table → rows that go there unasked, as `key {cells}`; rows that are asked, by the key they came from. */
  readonly rows: Set<string>;
  readonly askedRows: Map<string, string[]>;
}

export interface AccountSource {
  readonly target: string;
  readonly processor: string;
  readonly values: Record<string, Json>;
  readonly active: Record<string, number>;
  readonly rows: { table: string; key: string; cells: Cells }[];
  readonly begun: string[];
}

export interface Step {
  to: AccountRelease;
  rules: Rule[];
  forwards: boolean;
}

interface Limit {
  column: string;
  value: Json;
  on: string[];
}

/** A row through the whole way: its key, whole cells, and whether it can stand there. */
function rowThrough(table: Table, key: string, cells: Cells, route: Step[], from: AccountRelease) {
  const before = from.tables.get(table.name);
  let now: { key: string; cells: Cells } = {
    key,
    cells: Object.fromEntries<Json>(table.columns.map((c) => [c.name, cells[c.name] ?? c.default])),
  };
  let older = before;
  for (const { to, rules, forwards } of route) {
    const newer = to.tables.get(table.name);
    if (!newer || !older) throw new Error("no table");
    const next: Cells = {};
    for (const [name, value] of Object.entries(now.cells)) {
      if (forwards) {
        const column = columnAfter(rules, table.name, name);
        const type = newer.columns.find((c) => c.name === column)?.type ?? {};
        next[column] = cellAfter(rules, table.name, name, value, type);
      } else {
        const column = newer.columns.find((c) => columnAfter(rules, table.name, c.name) === name);
        const own = rules.filter((r) => r.table === table.name);
        let cell = value;
        for (const rule of own) {
          if (rule.rule === "cells" && rule.column === column?.name) cell = reversed(rule.words)[String(cell)] ?? cell;
          if (rule.rule === "ranges" && rule.columns.includes(column?.name ?? "") && typeof cell === "number")
            cell = toStep(linear(cell, undo(rule)), column?.type.number?.step ?? 1);
        }
        next[column?.name ?? name] = cell;
      }
    }
    const numbering = rules.find((r) => r.rule === "renumber" && r.table === table.name)?.rows ?? {};
    const renumbered = forwards ? numbering[now.key] : reversed(numbering)[now.key];
    now = { key: renumbered ?? now.key, cells: next };
    older = newer;
  }
  return now;
}

function limitsOf(table: string, route: Step[], from: AccountRelease): Limit[] {
  let limits: Limit[] = [];
  let older = from.tables.get(table);
  for (const { to, rules, forwards } of route) {
    const newer = to.tables.get(table);
    if (forwards)
      for (const rule of rules)
        if (rule.rule === "restrict" && rule.table === table)
          limits.push({ column: rule.column, value: rule.value, on: rule.on });
    limits = limits.map(({ column, value, on }) => {
      if (!forwards) throw new Error("the account goes one way only");
      const name = columnAfter(rules, table, column);
      const type = newer?.columns.find((c) => c.name === name)?.type ?? {};
      return {
        column: name,
        value: cellAfter(rules, table, column, value, type),
        on: on.map((key) => keyAfter(rules, table, key)),
      };
    });
    older = newer;
  }
  return older ? limits : [];
}

const rowText = (table: string, key: string, cells: Cells) =>
  `${table} ${key} ${JSON.stringify(Object.entries(cells).sort(([a], [b]) => (a < b ? -1 : 1)))}`;

export function rowsAccount(
  source: AccountSource,
  from: AccountRelease,
  route: Step[],
): Pick<Expected, "rows" | "askedRows"> {
  const to = route.at(-1)?.to ?? from;
  const rows = new Set<string>();
  const askedRows = new Map<string, string[]>();
  for (const table of from.tables.values()) {
    const later = to.tables.get(table.name);
    if (!later) continue;
    const written = source.begun.includes(table.name) || source.rows.some((row) => row.table === table.name);
    const own = written ? source.rows.filter((row) => row.table === table.name) : table.rows;
    const whole = (t: Table, cells: Cells) =>
      Object.fromEntries<Json>(t.columns.map((c) => [c.name, cells[c.name] ?? c.default]));
    const alike = (t: Table, a: Cells, b: Cells) =>
      t.columns.every((c) => same(whole(t, a)[c.name] ?? "", whole(t, b)[c.name] ?? "", c.type));
    const limits = route.every(({ forwards }) => forwards) ? limitsOf(table.name, route, from) : [];
    let standing = true;
    let untouched = own.length === table.rows.length;
    const taken = new Set<string>();
    for (const row of own) {
      const { key, cells } = rowThrough(table, row.key, row.cells, route, from);
      const held = Object.fromEntries(later.columns.map((c) => [c.name, hold(cells[c.name] ?? c.default, c.type)]));
      const original = table.rows.find((each) => each.key === row.key);
      const unset = original !== undefined && alike(table, row.cells, original.cells);
      untouched &&= unset;
      const id = `${table.name} ${row.key}`;
      if (Object.values(held).some((each) => each === undefined)) {
        standing = false;
        askedRows.set(id, ["cannot"]);
        continue;
      }
      const fitted = Object.fromEntries<Json>(Object.entries(held).map(([c, each]) => [c, each?.value ?? ""]));
      const blocked = limits.some((l) => fitted[l.column] === l.value && !l.on.includes(key));
      if (blocked) {
        standing = false;
        const idle = later.columns.every((c) => same(fitted[c.name] ?? "", c.default, c.type));
        askedRows.set(id, [idle ? "left" : "cannot"]);
        continue;
      }
      taken.add(key);
      const text = rowText(table.name, key, fitted);
      if (Object.values(held).some((each) => each?.how === "limited")) {
        askedRows.set(id, [text]);
        continue;
      }
      const now = later.rows.find((each) => each.key === key);
      if (unset && !(now && alike(later, now.cells, fitted)))
        askedRows.set(id, [text, ...(now ? [rowText(table.name, key, whole(later, now.cells))] : [])]);
      else rows.add(text);
    }
    if (!untouched || !standing) continue;
    const known = new Set([
      ...taken,
      ...table.rows.map((row) => rowThrough(table, row.key, row.cells, route, from).key),
    ]);
    for (const row of later.rows)
      if (!known.has(row.key)) rows.add(rowText(table.name, row.key, whole(later, row.cells)));
  }
  return { rows, askedRows };
}
