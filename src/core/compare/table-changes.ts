import { rowItems, type Hop, type RowItem } from "@/core/carryover";
import {
  cellText,
  columnsOf,
  indexOf,
  kindOf,
  laterColumn,
  releaseTitle,
  rowsFly,
  rulesOn,
  ruleWhy,
  tableOf,
  type ColumnDefinition,
  type Effect,
  type Firmware,
  type PassageRule,
  type TableDefinition,
} from "@/core/catalog";
import { equalValues, type Configuration, type Value, type ValueType } from "@/core/config";
import type { How, ReleaseChange } from "@/core/compare/release-change";

type Cells = Readonly<Record<string, Value>>;
const aboutTable = (table: TableDefinition) => ({
  place: `table ${table.name}`,
  area: table.area,
  flies: rowsFly(table),
  says: "",
});

const cellsText = (cells: Cells, columns: readonly ColumnDefinition[]) =>
  columns.map((column) => cellText(column, cells[column.name] ?? column.default)).join(", ");

/** How a row is touched on its way; undefined when it goes over as it is. A row that others call by its name is no other row. */
export function rowHow(item: RowItem): How | undefined {
  if (item.outcome === "cannot-be-here") return "blocked";
  if (item.outcome === "retired") return "retired";
  if (item.call !== undefined) return item.call;
  if (item.outcome === "new-default") return "new";
  if (item.from?.key !== item.to?.key) return "behaviour";
  return item.outcome === "renamed" || item.outcome === "converted" ? item.outcome : undefined;
}

/** What becomes of one row of a configuration: its key where that changes, and the cells that read otherwise. */
export function rowChange(item: RowItem, how: How, from: Firmware, to: Firmware): ReleaseChange {
  const [table, later] = [from, to].map((release) => indexOf(release).tables.get(item.table));
  const about = table ?? later;
  const [row, arrived] = [item.from, item.to];
  const columns = table?.columns ?? [];
  const texts = columns.map((column) => {
    const name = item.trail.reduce(
      (now, s) => (s.effect === "renamed" && s.before === now ? (s.after ?? now) : now),
      column.name,
    );
    const becomes = later?.columns.find((each) => each.name === name);
    return {
      before: row && cellText(column, row.cells[column.name] ?? column.default),
      after: arrived && becomes && cellText(becomes, arrived.cells[name] ?? becomes.default),
    };
  });
  const odd = texts.filter(({ before, after }) => before !== after);
  const moved = arrived !== undefined && row?.key !== arrived.key;
  const cellsText = (key: string | undefined, cells: readonly (string | undefined)[]) =>
    [moved ? key : undefined, ...cells].filter((text) => text !== undefined).join(", ");
  return {
    id: item.id,
    how,
    title: `${item.title} ${row?.key ?? ""}`,
    ...(about ? aboutTable(about) : { place: `table ${item.table}`, area: item.area, flies: false, says: "" }),
    ...(row
      ? {
          before: cellsText(
            row.key,
            odd.map(({ before }) => before),
          ),
        }
      : {}),
    ...(arrived
      ? {
          after: cellsText(
            arrived.key,
            odd.map(({ after }) => after),
          ),
        }
      : {}),
    why: item.trail.map((step) => step.why),
  };
}

const HOW_OF: Readonly<Record<Effect, How>> = {
  renamed: "renamed",
  converted: "converted",
  behaviour: "behaviour",
  retired: "retired",
  limited: "limit",
};

/** What a rule of the way does to a table, whatever rows it holds. */
function ruleChange(rule: PassageRule, hop: Hop): Omit<ReleaseChange, "id"> | undefined {
  const name = tableOf(rule);
  const [table, later] = [hop.from, hop.to].map((release) => indexOf(release).tables.get(name ?? ""));
  const news = table && later && kindOf(rule).table?.tells(rule, table, later);
  if (!news) return undefined;
  const { effect, ...told } = news;
  return { ...aboutTable(table), how: HOW_OF[effect], ...told, why: [ruleWhy(rule)] };
}

/** The name and the words of a column at the end of the way. */
function columnAlong(
  route: readonly Hop[],
  table: string,
  name: string,
): { name: string; wordOf: (word: string) => string } {
  let now = name;
  const steps: ((word: string) => string)[] = [];
  for (const { rules } of route) {
    const before = now;
    now = laterColumn(table, before, rules);
    for (const rule of rulesOn(table, rules))
      steps.push((word) => kindOf(rule).table?.word?.(rule, before, word) ?? word);
  }
  return { name: now, wordOf: (word) => steps.reduce((w, step) => step(w), word) };
}

const rangeText = (type: Extract<ValueType, { kind: "number" }>) =>
  `${type.min} to ${type.max}${type.unit === undefined ? "" : ` ${type.unit}`}`;

/** Words and numbers that a column no longer takes. */
function narrowedColumns(from: Firmware, to: Firmware, route: readonly Hop[]): ReleaseChange[] {
  return from.tables.flatMap((table) => {
    const later = indexOf(to).tables.get(table.name);
    if (!later) return [];
    const scaled = route.some(({ rules }) => rulesOn(table.name, rules).some((rule) => kindOf(rule).rescales));
    return columnsOf(table).flatMap((column): ReleaseChange[] => {
      const { name, wordOf } = columnAlong(route, table.name, column.name);
      const becomes = columnsOf(later).find((each) => each.name === name);
      const change = (before: string, after: string, why: string, how: How = "limit"): ReleaseChange => ({
        ...aboutTable(table),
        id: `column ${table.name}/${column.name}`,
        how,
        title: `${table.title}: ${column.title.toLowerCase()}`,
        before,
        ...(after === "" ? {} : { after }),
        why: [why],
      });
      if (!becomes) return [change(column.name, "", `${releaseTitle(to)} has no such column.`, "retired")];
      if (column.type.kind === "choice" && becomes.type.kind === "choice") {
        const { options } = becomes.type;
        const gone = column.type.options.filter((word) => !options.includes(wordOf(word)));
        return gone.length === 0 ? [] : [change(gone.join(", "), "", `${releaseTitle(to)} does not offer it.`)];
      }
      if (column.type.kind !== "number" || becomes.type.kind !== "number" || scaled) return [];
      const narrower = becomes.type.min > column.type.min || becomes.type.max < column.type.max;
      return narrower
        ? [change(rangeText(column.type), rangeText(becomes.type), `${releaseTitle(to)} allows less.`)]
        : [];
    });
  });
}

const ERASED: Configuration = { identity: {}, settings: [], rows: [], begun: [], active: {}, unknown: [] };

/** Rows of a freshly erased board that are not what the way would make of them: nobody wrote them, and they moved. */
function movedRows(from: Firmware, to: Firmware, route: readonly Hop[]): ReleaseChange[] {
  const carried = rowItems(ERASED, from, route, to);
  return to.tables.flatMap((table) => {
    const older = indexOf(from).tables.get(table.name);
    if (!older) return [];
    const before = new Map<string, { readonly cells: Cells; readonly arrived: boolean }>();
    for (const { table: name, from: row, to: arrived } of carried)
      if (name === table.name && row)
        before.set(arrived?.key ?? row.key, { cells: (arrived ?? row).cells, arrived: arrived !== undefined });
    const after = new Map(table.rows.map((row) => [row.key, row.cells]));
    return [...new Set([...before.keys(), ...after.keys()])].toSorted().flatMap((key): ReleaseChange[] => {
      const [old, now] = [before.get(key), after.get(key)];
      const cell = (cells: Cells, column: ColumnDefinition) => cells[column.name] ?? column.default;
      const odd = table.columns.filter(
        (c) => !old?.arrived || !now || !equalValues(cell(old.cells, c), cell(now, c), c.type),
      );
      if (odd.length === 0) return [];
      return [
        {
          ...aboutTable(table),
          id: `erased ${table.name}/${key}`,
          how: "silent",
          title: `${table.title} ${key}`,
          before: old ? cellsText(old.cells, old.arrived ? odd : older.columns) : "no row",
          after: now ? cellsText(now, odd) : "no row",
          why: ["A freshly erased board holds other rows."],
        },
      ];
    });
  });
}

/**
 * What changes in tables along a way, whatever rows an aircraft has: by the rules, by what columns still take, by what an
 * erased board holds, by tables that came or went.
 */
export function tableChanges(from: Firmware, to: Firmware, route: readonly Hop[]): ReleaseChange[] {
  const byRule = route.flatMap((hop, i) =>
    hop.rules.flatMap((rule, j): ReleaseChange[] => {
      const change = ruleChange(rule, hop);
      return change ? [{ ...change, id: `rule ${i}.${j}` }] : [];
    }),
  );
  const only = (here: Firmware, there: Firmware, how: How, why: string): ReleaseChange[] =>
    here.tables
      .filter((table) => !indexOf(there).tables.has(table.name))
      .map((table) => ({ ...aboutTable(table), id: `table ${table.name}`, how, title: table.title, why: [why] }));
  return [
    ...movedRows(from, to, route),
    ...byRule,
    ...narrowedColumns(from, to, route),
    ...only(from, to, "retired", `${releaseTitle(to)} has no such table.`),
    ...only(to, from, "new", `New in ${releaseTitle(to)}.`),
  ];
}
