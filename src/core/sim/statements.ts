import { defaultOf, indexOf, typeOn, type TableDefinition, type Wants } from "@/core/catalog";
import { addressId, formatValue, limitValue, parseValue, profileScope, type ScopeId, type Value } from "@/core/config";
import {
  beginsKeys,
  keyIndex,
  MOST_OPEN,
  partRow,
  placeOf,
  readClause,
  rowKey,
  scanText,
  settingUnder,
  type Cursor,
  type InlinePlace,
  type Place,
  type RefusalCause,
  type Statement,
} from "@/core/idiom";
import type { Application, Refusal } from "@/core/sim/running";

/** What became of one statement. */
export type Taken =
  | { readonly kind: "accepted" }
  | { readonly kind: "adjusted"; readonly value: string }
  | ({ readonly kind: "refused" } & Refusal);

const ACCEPTED: Taken = { kind: "accepted" };
export const refusal = (cause: RefusalCause, text: string): Taken => ({ kind: "refused", cause, text });

/** A line may hold several statements: the first that is refused speaks for it, else the first that was adjusted. */
export function runLine(app: Application, line: string): Taken {
  const results = scanText(line, app.idiom).clauses.flatMap((clause) =>
    readClause(clause, app.idiom, app.reader).map((statement) => runStatement(app, statement)),
  );
  return (
    results.find((result) => result.kind === "refused") ??
    results.find((result) => result.kind === "adjusted") ??
    ACCEPTED
  );
}

export function starter(app: Application, name: string): Taken {
  const set = app.release.starters.find((s) => s.name === name);
  if (!set) return refusal("unknown-name", `no starter set ${name}`);
  for (const value of set.values) app.values.set(addressId(value), value.value);
  return ACCEPTED;
}

function choose(app: Application, kind: string, number: number, what: "selected" | "active" | "both"): Taken {
  const profile = app.release.profiles.find((p) => p.kind === kind);
  if (!profile || number < 1 || number > profile.count) return refusal("unknown-name", `no profile ${kind} ${number}`);
  if (what !== "active") app.cursor.selected[kind] = number;
  if (what !== "selected") app.active[kind] = number;
  return ACCEPTED;
}

function runStatement(app: Application, statement: Statement): Taken {
  const { idiom, release, cursor } = app;
  switch (statement.kind) {
    case "set":
      return cursor.row ? setCell(app, cursor.row, statement.key, statement.value) : setValue(app, statement);
    case "member":
      return setMember(app, statement);
    case "row":
      return setRow(app, statement);
    case "cell":
      return setCellOf(app, statement);
    case "select":
      return choose(app, statement.profile, statement.number, idiom.tellsActive ? "selected" : "both");
    case "activate":
      return choose(app, statement.profile, statement.number, "active");
    case "clear":
      return clearTable(app, statement.table);
    case "section": {
      const { name, number, prefix = "" } = statement;
      if (idiom.leaves && cursor.open.length < MOST_OPEN) cursor.open.push(cursor.row);
      if (name !== "") return enter(app, placeOf(name, number, idiom, release));
      if (!beginsKeys(prefix, release, idiom)) return enter(app, placeOf(prefix, "", idiom, release));
      cursor.row = undefined;
      return ACCEPTED;
    }
    case "leave":
      cursor.row = cursor.open.pop();
      return ACCEPTED;
    case "record": {
      if (statement.edition !== undefined && statement.edition !== release.edition)
        return refusal("garbled", `edition ${statement.edition}, not ${release.edition ?? "none"}`);
      const entered = enter(app, placeOf(statement.name, statement.number, idiom, release));
      if (entered.kind === "refused") return entered;
      const results = statement.values.map(([key, value]) => runStatement(app, { kind: "set", key, value }));
      cursor.row = undefined;
      return results.find((r) => r.kind === "refused") ?? results.find((r) => r.kind === "adjusted") ?? ACCEPTED;
    }
    case "fact":
    case "comment":
    case "end":
      return ACCEPTED;
    case "answer":
    case "blank":
    case "echo":
    case "foreign":
      return refusal("garbled", "no such statement");
  }
}

function clearTable(app: Application, name: string): Taken {
  if (!indexOf(app.release).tables.has(name)) return refusal("unknown-name", `no table ${name}`);
  for (const [id, row] of app.rows) if (row.table === name) app.rows.delete(id);
  return ACCEPTED;
}

function enter(app: Application, place: Place): Taken {
  app.cursor.row = undefined;
  switch (place.kind) {
    case "nowhere":
      return refusal("unknown-name", place.reason);
    case "system":
      return ACCEPTED;
    case "profile":
      return choose(app, place.profile, place.number, "selected");
    case "table": {
      if (place.key === undefined) return clearTable(app, place.table.name);
      const opened = openRow(app, place.table, place.key);
      if (opened.kind === "accepted") app.cursor.row = { table: place.table, key: place.key };
      return opened;
    }
  }
}

/** Why something is not taken now: what it wants is not so, or was not when the board started. */
function lockOf({ values, begun }: Application, name: string, wants: Wants | undefined): Taken | undefined {
  if (!wants) return undefined;
  const { key, is, sinceStart } = wants;
  const stands = (sinceStart ? begun : values).get(addressId({ scope: "system", key }));
  return String(stands) === String(is)
    ? undefined
    : refusal("not-here", `${name} wants ${key} ${String(is)}${sinceStart ? " since the start" : ""}`);
}

/** The place that a value goes to: its line's own, else the profile that was last chosen. */
function scopeFor(app: Application, kind: string, place: InlinePlace | undefined): ScopeId | Taken {
  const profile = app.release.profiles.find((each) => each.kind === kind);
  if (!profile) return place ? refusal("unknown-name", `${kind} has no profiles`) : "system";
  if (!place) return profileScope(kind, selectedOf(app, kind));
  return (place.profile ?? kind) === kind && place.number >= 1 && place.number <= profile.count
    ? profileScope(kind, place.number)
    : refusal("unknown-name", `no profile ${place.profile ?? kind} ${place.number}`);
}

/** One flag of a set: set or cleared, the others stay. */
function setMember(app: Application, said: Extract<Statement, { kind: "member" }>): Taken {
  const { key, member, on, place, under } = said;
  const { setting } = settingUnder(key, under, keyIndex(app.release, app.idiom).find);
  if (setting?.type.kind !== "flags") return refusal("unknown-name", key);
  const word = parseValue(member, setting.type, app.idiom.spelling);
  if (!word.ok) return refusal("out-of-range", word.problem.message);
  const scope = scopeFor(app, setting.scope, place);
  if (typeof scope !== "string") return scope;
  const id = addressId({ scope, key: setting.key });
  const flags = new Set(app.values.get(id) as readonly string[] | undefined);
  for (const flag of word.value as readonly string[])
    if (on) flags.add(flag);
    else flags.delete(flag);
  app.values.set(
    id,
    setting.type.options.filter((option) => flags.has(option)),
  );
  return ACCEPTED;
}

function setValue(app: Application, said: Extract<Statement, { kind: "set" }>): Taken {
  const { key, value: text, place, under } = said;
  const { setting } = settingUnder(key, under, keyIndex(app.release, app.idiom).find);
  if (!setting) return refusal("unknown-name", key);
  const scope = scopeFor(app, setting.scope, place);
  if (typeof scope !== "string") return scope;
  const value = parseValue(text, setting.type, app.idiom.spelling);
  if (!value.ok)
    return refusal(
      setting.type.kind === "choice" || setting.type.kind === "flags" ? "out-of-range" : "garbled",
      value.problem.message,
    );
  const { type } = setting;
  if (type.kind === "number" && ((value.value as number) < type.min || (value.value as number) > type.max))
    return refusal("out-of-range", `${key} takes ${type.min} to ${type.max}`);
  const locked = lockOf(app, key, setting.wants);
  if (locked) return locked;
  const taken = limitValue(value.value, typeOn(setting, app.target.processor)) ?? defaultOf(setting, app.target.id);
  app.values.set(addressId({ scope, key: setting.key }), taken);
  return String(taken) === String(value.value)
    ? ACCEPTED
    : { kind: "adjusted", value: formatValue(taken, setting.type, app.idiom.spelling) };
}

/** The profile that values go to: the one last chosen, else the one in use. */
const selectedOf = (app: Application, kind: string): number => app.cursor.selected[kind] ?? app.active[kind] ?? 1;

/** Makes sure that a row is there, with its columns at their defaults. */
function openRow(app: Application, table: TableDefinition, key: string): Taken {
  if (table.name === app.release.pins?.ports.table && !app.target.ports.includes(Number(key)))
    return refusal("not-here", `no port ${key} on this board`);
  const locked = lockOf(app, table.name, table.wants);
  if (locked) return locked;
  const id = `${table.name}/${key}`;
  if (app.rows.has(id)) return ACCEPTED;
  const count = [...app.rows.values()].filter((row) => row.table === table.name).length;
  if (count >= table.maxRows) return refusal("full", `${table.name} holds ${table.maxRows} rows`);
  const cells = Object.fromEntries(table.columns.map((column) => [column.name, column.default]));
  app.rows.set(id, { table: table.name, key, cells });
  return ACCEPTED;
}

/** A cell that says itself which row it is of. */
function setCellOf(app: Application, said: Extract<Statement, { kind: "cell" }>): Taken {
  const table = indexOf(app.release).tables.get(said.table);
  if (!table) return refusal("unknown-name", `no table ${said.table}`);
  const place = placeOf(table.name, rowKey(said.row, app.idiom), app.idiom, app.release);
  if (place.kind !== "table" || place.key === undefined) return refusal("garbled", `no row ${said.row}`);
  const opened = openRow(app, table, place.key);
  return opened.kind === "accepted" ? setCell(app, { table, key: place.key }, said.column, said.value) : opened;
}

function setCell(app: Application, row: NonNullable<Cursor["row"]>, name: string, text: string): Taken {
  const column = row.table.columns.find((c) => c.name === name);
  const held = app.rows.get(`${row.table.name}/${row.key}`);
  if (!column || !held) return refusal("unknown-name", name);
  const value = parseValue(text, column.type, app.idiom.spelling);
  const limited = value.ok ? limitValue(value.value, column.type) : undefined;
  if (limited === undefined) return refusal("out-of-range", `${name} does not take ${text}`);
  held.cells[name] = limited;
  return ACCEPTED;
}

/** A whole row in one statement: nothing of it is taken when a part of it is refused. */
function setRow(app: Application, statement: Extract<Statement, { kind: "row" }>): Taken {
  const table = indexOf(app.release).tables.get(statement.table);
  if (!table) return refusal("unknown-name", `no table ${statement.table}`);
  const parted = partRow(statement, table, app.idiom);
  if (parted.reason !== undefined) return refusal("garbled", parted.reason);
  const place = placeOf(statement.table, parted.keys.join(" "), app.idiom, app.release);
  if (place.kind !== "table" || place.key === undefined)
    return refusal("garbled", `${table.name} has ${table.keys.length} key columns`);
  const cells: Record<string, Value> = {};
  for (const [name, text] of Object.entries(parted.cells)) {
    const column = table.columns.find((c) => c.name === name);
    if (!column) return refusal("unknown-name", name);
    const value = parseValue(text, column.type, app.idiom.rowSpelling);
    const limited = value.ok ? limitValue(value.value, column.type) : undefined;
    if (limited === undefined) return refusal("out-of-range", `${name} does not take ${text}`);
    cells[name] = limited;
  }
  const opened = openRow(app, table, place.key);
  if (opened.kind === "accepted") Object.assign(app.rows.get(`${table.name}/${place.key}`)?.cells ?? {}, cells);
  return opened;
}
