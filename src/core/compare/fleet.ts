import {
  columnsOf,
  defaultOf,
  entriesByPlace,
  firmwareById,
  placesOf,
  slotsOf,
  type Catalogue,
  type ColumnDefinition,
  type Firmware,
  type TableDefinition,
  rowsFly,
} from "@/core/catalog";
import { equalValues, showValue, type Configuration, type Value, type ValueType } from "@/core/config";
import { arrive, placeText, type Arrived, type Compared } from "@/core/compare/carry";
import { resolve } from "@/core/compare/resolved";
import type { Problem } from "@/core/problem";

/** A configuration in the order of its release's addresses; null: never written, so the default. */
export interface Vector {
  readonly releaseId: string;
  readonly target: string | null;
  readonly values: readonly (Value | null)[];
  readonly rows: readonly {
    readonly table: string;
    readonly key: string;
    readonly cells: Readonly<Record<string, Value>>;
  }[];
  readonly active: Readonly<Record<string, number>>;
  /** What the read-out leaves open: places of values, rows and tables, kinds of profile. */
  readonly open?: {
    readonly places: readonly number[];
    readonly rows: readonly string[];
    readonly active: readonly string[];
  };
}

/** The compact form of a configuration, for many at a time. */
export function vectorOf(configuration: Configuration, release: Firmware): Vector {
  const entries = entriesByPlace(configuration, release);
  const values = slotsOf(release).map((_, i): Value | null => entries[i]?.value ?? null);
  const resolved = resolve(configuration, release);
  const rows = [...resolved.rows.values()].map(({ table, key, cells }) => ({ table, key, cells }));
  const { open } = resolved;
  const places = [...open.values.keys()].flatMap((id) => placesOf(release).get(id) ?? []);
  const certain = places.length === 0 && open.rows.size === 0 && open.active.size === 0;
  return {
    releaseId: release.id,
    target: configuration.identity.target ?? null,
    values,
    rows,
    active: configuration.active,
    ...(certain ? {} : { open: { places, rows: [...open.rows.keys()], active: [...open.active] } }),
  };
}

/** Where one aircraft stands off its type's standard. */
export interface DriftCell {
  /** Address on the standard's release: the matrix's column. */
  readonly column: string;
  readonly shown: string;
  readonly standard: string;
  readonly flies: boolean;
  /** It is what its release holds by itself: nobody moved it there. */
  readonly byDefault?: boolean;
  /** The read-out leaves open what it is. */
  readonly unsure?: boolean;
}

const NOT_KNOWN = { shown: "not known", flies: false, unsure: true } as const;

export interface DriftColumn {
  readonly id: string;
  readonly title: string;
  readonly place: string;
  readonly area: string;
  readonly says: string;
  readonly flies: boolean;
  readonly standard: string;
  /** How many aircraft stand off it. */
  readonly count: number;
}

export interface DriftRow {
  readonly tag: string;
  readonly cells: readonly DriftCell[];
  /** The standard was carried along this way to be compared. */
  readonly carried?: string;
  readonly problem?: Problem;
}

export interface Drift {
  readonly columns: readonly DriftColumn[];
  readonly rows: readonly DriftRow[];
}

type Column = Omit<DriftColumn, "count">;

type Cells = Readonly<Record<string, Value>>;

interface WantedTable {
  readonly table: TableDefinition;
  /** The columns that are no keys. */
  readonly columns: readonly ColumnDefinition[];
  /** The standard's rows by their keys. */
  readonly wanted: ReadonlyMap<string, Cells>;
}

/** A standard made ready for one release and target: what each address should hold. */
interface Yardstick {
  readonly release: Firmware;
  readonly route: string | undefined;
  /** By place in the release; undefined: personal, kept by the firmware, or unknown to the standard. */
  readonly wanted: readonly (Value | undefined)[];
  readonly defaults: readonly Value[];
  readonly columns: readonly Column[];
  /** Tables that belong to the type, by name. */
  readonly tables: ReadonlyMap<string, WantedTable>;
  readonly active: Readonly<Record<string, number>>;
}

function yardstickOf(
  standard: Compared,
  release: Firmware,
  catalogue: Catalogue,
  target: string | null,
): Yardstick | Problem {
  const arrived = arrive(standard, release, catalogue, target ?? undefined);
  if (!arrived.ok) return arrived.problem;
  const { resolved, route, origin } = arrived.value;
  const slots = slotsOf(release);
  const wanted = slots.map(({ id, setting }) =>
    setting.belongsTo !== "type" || setting.housekeeping ? undefined : resolved.values.get(id)?.value,
  );
  return {
    release,
    route,
    wanted,
    defaults: slots.map(({ setting }) => defaultOf(setting, target ?? undefined)),
    columns: slots.map(({ id, setting, scope }, i) => ({
      id: origin.get(id) ?? id,
      title: setting.title,
      place: placeText(scope, setting.key),
      area: setting.area,
      says: setting.says,
      flies: setting.flies,
      standard: showValue(wanted[i] ?? defaultOf(setting, target ?? undefined), setting.type),
    })),
    tables: wantedTables(release, resolved.rows),
    active: resolved.active,
  };
}

function wantedTables(release: Firmware, rows: Arrived["resolved"]["rows"]): Map<string, WantedTable> {
  const tables = new Map<string, WantedTable>();
  for (const table of release.tables) {
    if (table.belongsTo !== "type") continue;
    const own = [...rows.values()].filter((row) => row.table === table.name);
    tables.set(table.name, {
      table,
      columns: columnsOf(table).filter((column) => !table.keys.includes(column)),
      wanted: new Map(own.map((row) => [row.key, row.cells])),
    });
  }
  return tables;
}

/**
 * Holds a fleet against its standard. What belongs to one board or airframe alone is left aside. The standard is carried
 * to each release once; the work grows with aircraft × settings and nothing else, and what was held against it before is not again.
 */
export function fleetDrift(
  standard: Compared,
  fleet: readonly { readonly tag: string; readonly vector: Vector }[],
  catalogue: Catalogue,
): Drift {
  const columns = new Map<string, { column: Column; count: number }>();
  const note = (column: Column) => {
    const known = columns.get(column.id);
    if (known) known.count++;
    else columns.set(column.id, { column, count: 1 });
  };
  const rows = fleet.map(({ tag, vector }): DriftRow => {
    const yardstick = yardstickFor(standard, vector, catalogue);
    if (!("wanted" in yardstick)) return { tag, cells: [], problem: yardstick };
    const { cells, columns: off } = standingOff(vector, yardstick);
    off.forEach(note);
    return { tag, cells, ...(yardstick.route === undefined ? {} : { carried: yardstick.route }) };
  });
  const sorted = [...columns.values()].toSorted(
    (a, b) =>
      Number(b.column.flies) - Number(a.column.flies) || b.count - a.count || (a.column.id < b.column.id ? -1 : 1),
  );
  return { columns: sorted.map(({ column, count }) => ({ ...column, count })), rows };
}

interface StandingOff {
  readonly cells: readonly DriftCell[];
  /** The column of each cell. */
  readonly columns: readonly Column[];
}
const heldAgainst = new WeakMap<Yardstick, WeakMap<Vector, StandingOff>>();

/** Where a configuration stands off a yardstick: worked out once for as long as both are in use. */
function standingOff(vector: Vector, yardstick: Yardstick): StandingOff {
  const held = heldAgainst.get(yardstick) ?? new WeakMap<Vector, StandingOff>();
  heldAgainst.set(yardstick, held);
  let found = held.get(vector);
  if (!found) {
    const columns: Column[] = [];
    const note: Note = (column) => columns.push(column);
    const cells = [
      ...valueCells(vector, yardstick, note),
      ...rowCells(vector, yardstick, note),
      ...activeCells(vector, yardstick, note),
    ];
    held.set(vector, (found = { cells, columns }));
  }
  return found;
}

const known = new WeakMap<Configuration, { catalogue: Catalogue; yardsticks: Map<string, Yardstick | Problem> }>();

/** The standard as of a release and target; carried there once for as long as neither it nor the catalogue changes. */
function yardstickFor(standard: Compared, vector: Vector, catalogue: Catalogue): Yardstick | Problem {
  let kept = known.get(standard.configuration);
  if (kept?.catalogue !== catalogue) {
    kept = { catalogue, yardsticks: new Map() };
    known.set(standard.configuration, kept);
  }
  const id = `${vector.releaseId} ${vector.target ?? ""}`;
  let yardstick = kept.yardsticks.get(id);
  if (!yardstick) kept.yardsticks.set(id, (yardstick = makeYardstick(standard, vector, catalogue)));
  return yardstick;
}

function makeYardstick(standard: Compared, vector: Vector, catalogue: Catalogue): Yardstick | Problem {
  const release = firmwareById(catalogue, vector.releaseId);
  if (!release)
    return {
      code: "release-unknown",
      message: `The catalogue has no release “${vector.releaseId}”`,
      hint: "Import its release document under Firmware",
    };
  return yardstickOf(standard, release, catalogue, vector.target);
}

type Note = (column: Column) => void;

function valueCells(vector: Vector, yardstick: Yardstick, note: Note): DriftCell[] {
  const cells: DriftCell[] = [];
  const { wanted, defaults, columns } = yardstick;
  const settings = slotsOf(yardstick.release);
  const open = vector.open && new Set(vector.open.places);
  for (let i = 0; i < wanted.length; i++) {
    const want = wanted[i];
    if (want === undefined) continue;
    if (open?.has(i) === true) {
      const column = columns[i];
      if (column) {
        cells.push({ ...NOT_KNOWN, column: column.id, standard: column.standard });
        note(column);
      }
      continue;
    }
    const value = vector.values[i] ?? defaults[i];
    if (value === want || value === undefined) continue;
    const [column, type] = [columns[i], settings[i]?.setting.type];
    if (!column || !type || equalValues(value, want, type)) continue;
    cells.push({
      column: column.id,
      shown: showValue(value, type),
      standard: column.standard,
      flies: column.flies,
      ...(isDefault(value, defaults[i], type) ? { byDefault: true } : {}),
    });
    note(column);
  }
  return cells;
}

const isDefault = (value: Value, fallback: Value | undefined, type: ValueType) =>
  fallback !== undefined && equalValues(value, fallback, type);

const cellOf = (cells: Cells, column: ColumnDefinition) => cells[column.name] ?? column.default;

function alikeRows(mine: Cells, want: Cells, columns: readonly ColumnDefinition[]): boolean {
  for (const column of columns) {
    const [a, b] = [cellOf(mine, column), cellOf(want, column)];
    if (a !== b && !equalValues(a, b, column.type)) return false;
  }
  return true;
}

/** A row in words; against another, only the cells that are not the same. */
const cellsText = (cells: Cells | undefined, columns: readonly ColumnDefinition[], against?: Cells): string =>
  cells === undefined
    ? "no row"
    : columns
        .filter((c) => against === undefined || !equalValues(cellOf(cells, c), cellOf(against, c), c.type))
        .map((c) => `${c.title.toLowerCase()} ${showValue(cellOf(cells, c), c.type)}`)
        .join(", ");

function rowCells(vector: Vector, yardstick: Yardstick, note: Note): DriftCell[] {
  const cells: DriftCell[] = [];
  const open = vector.open && new Set(vector.open.rows);
  const tell = ({ table, columns }: WantedTable, key: string, mine: Cells | undefined, want: Cells | undefined) => {
    const flies = rowsFly(table);
    const standard = cellsText(want, columns);
    const column = `row ${table.name}/${key}`;
    const unsure = mine === undefined && open && [table.name, `${table.name}/${key}`].some((id) => open.has(id));
    cells.push(
      unsure === true
        ? { ...NOT_KNOWN, column, standard }
        : { column, shown: cellsText(mine, columns, want), standard, flies },
    );
    const about = { title: `${table.title} ${key}`, place: `table ${table.name}`, area: table.area, says: "" };
    note({ id: column, ...about, flies, standard });
  };
  const met = new Map<WantedTable, Set<string>>();
  for (const row of vector.rows) {
    const held = yardstick.tables.get(row.table);
    if (!held) continue;
    const want = held.wanted.get(row.key);
    const keys = met.get(held);
    if (keys) keys.add(row.key);
    else met.set(held, new Set([row.key]));
    if (!want || !alikeRows(row.cells, want, held.columns)) tell(held, row.key, row.cells, want);
  }
  for (const held of yardstick.tables.values())
    for (const [key, want] of held.wanted) if (met.get(held)?.has(key) !== true) tell(held, key, undefined, want);
  return cells;
}

function activeCells(vector: Vector, yardstick: Yardstick, note: Note): DriftCell[] {
  return yardstick.release.profiles.flatMap(({ kind, title }): DriftCell[] => {
    const [mine, want] = [vector.active[kind] ?? 1, yardstick.active[kind] ?? 1];
    const unsure = vector.open?.active.includes(kind) === true;
    if (mine === want && !unsure) return [];
    const column = `active ${kind}`;
    const standard = `${kind} ${want}`;
    note({
      id: column,
      title: `${title} in use`,
      place: `profile ${kind}`,
      area: "profiles",
      says: "Which of the profiles flies.",
      flies: true,
      standard,
    });
    return [unsure ? { ...NOT_KNOWN, column, standard } : { column, shown: `${kind} ${mine}`, standard, flies: true }];
  });
}

/** “Two of five Sedges stand off their standard; one flies differently.” */
export function driftSentence(type: string, drift: Drift): string {
  const { rows } = drift;
  const off = rows.filter((row) => row.cells.some(({ unsure }) => unsure !== true));
  const open = rows.filter((row) => row.cells.some(({ unsure }) => unsure === true)).length;
  const flies = off.filter((row) => row.cells.some((cell) => cell.flies)).length;
  const unknown = rows.filter((row) => row.problem).length;
  const tail = `${unknown === 0 ? "" : ` ${unknown} cannot be compared.`}${open === 0 ? "" : ` Of ${open} not every value is known.`}`;
  if (off.length === 0) return `All ${rows.length - unknown} of type ${type} are as their standard.${tail}`;
  const first = `${off.length} of ${rows.length} of type ${type} ${off.length === 1 ? "stands" : "stand"} off their standard`;
  return `${first}; ${flies === 0 ? "none flies differently" : flies === 1 ? "one flies differently" : `${flies} fly differently`}.${tail}`;
}
