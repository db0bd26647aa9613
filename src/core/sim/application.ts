import {
  columnsOf,
  defaultOf,
  indexOf,
  typeOn,
  type Release,
  type ReleaseTarget,
  type SettingDefinition,
} from "@/core/catalog";
import {
  addressId,
  limitValue,
  parseValue,
  profileScope,
  rowsById,
  settingsByAddress,
  formatValue,
  type Configuration,
  type ScopeId,
  type Value,
} from "@/core/config";
import {
  defaultConfiguration,
  readStatement,
  reciteLines,
  type CommandName,
  type Extent,
  type Idiom,
  type RefusalCause,
  type Statement,
} from "@/core/idiom";

/** A firmware that runs: what its image's identity block named decides everything here. */
export interface Application {
  readonly release: Release;
  readonly idiom: Idiom;
  readonly target: ReleaseTarget;
  readonly values: Map<string, Value>;
  readonly rows: Map<string, { table: string; key: string; cells: Record<string, Value> }>;
  readonly active: Record<string, number>;
  /** What became of the settings region at the start. */
  readonly kept: string;
  echo: boolean;
  refused: number;
  keepAsked: boolean;
}

export type Act = "keep" | "restart" | "loader";
export interface Worked {
  readonly text: string;
  readonly act?: Act;
}

/** What the airframe around the board feels. Angles in degrees, sticks in µs of pulse, battery in volts. */
export interface Senses {
  roll: number;
  pitch: number;
  heading: number;
  sticks: number[];
  batteryVolts: number;
  receiverPowered: boolean;
  /** Quarter turns that the board stands turned by in its airframe; its own setting has to undo them. */
  mountQuarters: number;
}

export function startApplication(release: Release, idiom: Idiom, target: ReleaseTarget, kept: string): Application {
  const defaults = defaultConfiguration(release, target.id);
  return {
    release,
    idiom,
    target,
    values: new Map([...settingsByAddress(defaults)].map(([id, entry]) => [id, entry.value])),
    rows: new Map(
      [...rowsById(defaults)].map(([id, row]) => [id, { table: row.table, key: row.key, cells: { ...row.cells } }]),
    ),
    active: { ...defaults.active },
    kept,
    echo: true,
    refused: 0,
    keepAsked: false,
  };
}

/** Back to the defaults, in place. */
function forget(app: Application): void {
  const fresh = startApplication(app.release, app.idiom, app.target, app.kept);
  app.values.clear();
  app.rows.clear();
  for (const [id, value] of fresh.values) app.values.set(id, value);
  for (const [id, row] of fresh.rows) app.rows.set(id, row);
  Object.assign(app.active, fresh.active);
}

export function configurationOfApp(app: Application, identity: Configuration["identity"]): Configuration {
  const settings = [...app.values].map(([id, value]) => {
    const slash = id.indexOf("/");
    return { scope: id.slice(0, slash) as ScopeId, key: id.slice(slash + 1), value, raw: "", line: 0 };
  });
  return {
    identity,
    settings,
    rows: [...app.rows.values()].map((row) => ({ ...row, line: 0 })),
    active: app.active,
    unknown: [],
  };
}

const causeWord = (idiom: Idiom, cause: RefusalCause) =>
  Object.entries(idiom.console.replies.causes).find(([, c]) => c === cause)?.[0] ?? cause;
const fill = (parts: readonly ({ literal: string } | { field: string })[], fields: Record<string, string>) =>
  parts.map((part) => ("literal" in part ? part.literal : (fields[part.field] ?? ""))).join("");

const accepted = (app: Application) => fill(app.idiom.replies.accepted.parts, {});
function refused(app: Application, cause: RefusalCause, text: string): string {
  if (cause !== "unkept") app.refused++;
  return fill(app.idiom.replies.refused.parts, { cause: causeWord(app.idiom, cause), text });
}

/** Works one console line off. */
export function workLine(app: Application, line: string, identity: Configuration["identity"], senses: Senses): Worked {
  const echo = app.echo && line !== "" ? `${line}\n` : "";
  const worked = line === "" ? { text: "" } : answer(app, line, identity, senses);
  return { ...worked, text: echo + worked.text };
}

function answer(app: Application, line: string, identity: Configuration["identity"], senses: Senses): Worked {
  const { commands } = app.idiom.console;
  const [head = "", ...rest] = line.split(" ");
  const starterWord = commands.starter?.split(" ")[0];
  const command = (Object.entries(commands) as [CommandName, string][]).find(([, source]) => source === line)?.[0];
  if (command !== undefined) return runCommand(app, command, identity, senses);
  if (head === starterWord) return { text: `${starter(app, rest.join(" "))}\n` };
  return { text: `${runStatement(app, readStatement(line, app.idiom))}\n` };
}

function runCommand(
  app: Application,
  command: CommandName,
  identity: Configuration["identity"],
  senses: Senses,
): Worked {
  const recite = (extent: Extent) => ({
    text: [...reciteLines(configurationOfApp(app, identity), app.release, app.idiom, extent), accepted(app), ""].join(
      "\n",
    ),
  });
  switch (command) {
    case "recite":
      return recite("all");
    case "reciteActive":
      return recite("active");
    case "reciteMoved":
      return recite("moved");
    case "declare":
      return { text: [...facts(app, { ...identity, kept: app.kept }, app.idiom.facts), accepted(app), ""].join("\n") };
    case "sense":
      return { text: [...measured(app, senses), accepted(app), ""].join("\n") };
    case "forget":
      forget(app);
      return { text: `${accepted(app)}\n` };
    case "quiet":
      app.echo = false;
      return { text: `${accepted(app)}\n` };
    case "keep":
      if (app.refused > 0 && !app.keepAsked) {
        app.keepAsked = true;
        return {
          text: `${refused(app, "unkept", `${app.refused} lines were refused, say it again to keep the rest`)}\n`,
        };
      }
      app.refused = 0;
      app.keepAsked = false;
      return { text: `${accepted(app)}\n`, act: "keep" };
    case "restart":
      return { text: `${accepted(app)}\n`, act: "restart" };
    case "loader":
      return app.release.loaderWord
        ? { text: `${accepted(app)}\n`, act: "loader" }
        : { text: `${accepted(app)}\n`, act: "restart" };
    case "starter":
      return { text: `${refused(app, "garbled", "which one")}\n` };
  }
}

function facts(
  app: Application,
  values: Record<string, string | undefined>,
  names: Readonly<Record<string, string>>,
): string[] {
  const pattern = app.idiom.lines.find((line) => line.means === "fact")?.pattern;
  return Object.entries(names).flatMap(([field, name]) => {
    const value = values[field];
    return value === undefined || !pattern ? [] : [fill(pattern.parts, { name, value })];
  });
}

/** What `sense` prints: attitude as the mounted board feels it, sticks only where the receiver is heard. */
function measured(app: Application, senses: Senses): string[] {
  const names = app.idiom.console.senses;
  const gyroThere = identityGyro(app);
  const heard = senses.receiverPowered && receiverPort(app) !== undefined;
  const turn = mountingTurn(app) - senses.mountQuarters;
  const [roll, pitch] = turned(senses.roll, senses.pitch, turn);
  const values: Record<string, string | undefined> = {
    roll: gyroThere ? roll.toFixed(1) : undefined,
    pitch: gyroThere ? pitch.toFixed(1) : undefined,
    heading: gyroThere ? senses.heading.toFixed(1) : undefined,
    receiver: heard ? "heard" : senses.receiverPowered ? "silent" : "unpowered",
    battery: senses.batteryVolts.toFixed(1),
    ...Object.fromEntries(names.sticks.map((_, i) => [`stick${i}`, heard ? String(senses.sticks[i] ?? 0) : undefined])),
  };
  const { sticks, ...plain } = names;
  return facts(app, values, { ...plain, ...Object.fromEntries(sticks.map((name, i) => [`stick${i}`, name])) });
}

const MULTIPLIED = [
  [1, 0, 0, 1],
  [0, -1, 1, 0],
  [-1, 0, 0, -1],
  [0, 1, -1, 0],
] as const;

/** The board stands turned in the airframe by quarter turns; its setting must undo that for the angles to be true. */
function turned(roll: number, pitch: number, quarters: number): [number, number] {
  const [a, b, c, d] = MULTIPLIED[((quarters % 4) + 4) % 4] ?? MULTIPLIED[0];
  return [a * roll + b * pitch, c * roll + d * pitch];
}

/** Release documents mark the settings that the simulated senses depend on by these areas and units. */
function mountingTurn(app: Application): number {
  const setting = app.release.settings.find(
    (s) => s.area === "sensors" && s.belongsTo === "airframe" && s.type.kind === "number" && s.type.unit === "°",
  );
  const value = setting && app.values.get(addressId({ scope: "system", key: setting.key }));
  return typeof value === "number" ? Math.round(value / 90) : 0;
}

const identityGyro = (app: Application): boolean => app.target.gyro !== "none";

/** The port row that serves the receiver, on a port that the target has. */
function receiverPort(app: Application): string | undefined {
  const table = app.release.tables.find((t) => t.area === "ports");
  const row = [...app.rows.values()].find(
    (r) => r.table === table?.name && Object.values(r.cells).includes("receiver"),
  );
  return row && app.target.ports.includes(Number(row.key)) ? row.key : undefined;
}

function starter(app: Application, name: string): string {
  const set = app.release.starters.find((s) => s.name === name);
  if (!set) return refused(app, "unknown-name", `no starter set ${name}`);
  for (const value of set.values) app.values.set(addressId(value), value.value);
  return accepted(app);
}

function runStatement(app: Application, statement: Statement): string {
  switch (statement.kind) {
    case "set":
      return setValue(app, statement.key, statement.value);
    case "row":
      return setRow(app, statement);
    case "select": {
      const profile = app.release.profiles.find((p) => p.kind === statement.profile);
      if (!profile || statement.number < 1 || statement.number > profile.count)
        return refused(app, "unknown-name", `no profile ${statement.profile} ${statement.number}`);
      app.active[profile.kind] = statement.number;
      return accepted(app);
    }
    case "clear":
      if (!indexOf(app.release).tables.has(statement.table))
        return refused(app, "unknown-name", `no table ${statement.table}`);
      for (const [id, row] of app.rows) if (row.table === statement.table) app.rows.delete(id);
      return accepted(app);
    case "fact":
    case "comment":
    case "end":
      return accepted(app);
    case "answer":
    case "blank":
    case "foreign":
      return refused(app, "garbled", "no such statement");
  }
}

function setValue(app: Application, key: string, text: string): string {
  const setting = indexOf(app.release).settings.get(key);
  if (!setting) return refused(app, "unknown-name", key);
  const value = parseValue(text, setting.type, app.idiom.spelling);
  if (!value.ok)
    return refused(
      app,
      setting.type.kind === "choice" || setting.type.kind === "flags" ? "out-of-range" : "garbled",
      value.problem.message,
    );
  const { type } = setting;
  if (type.kind === "number" && ((value.value as number) < type.min || (value.value as number) > type.max))
    return refused(app, "out-of-range", `${key} takes ${type.min} to ${type.max}`);
  const taken = limitValue(value.value, typeOn(setting, app.target.processor)) ?? defaultOf(setting, app.target.id);
  const scope: ScopeId =
    setting.scope === "system" ? "system" : profileScope(setting.scope, app.active[setting.scope] ?? 1);
  app.values.set(addressId({ scope, key }), taken);
  return String(taken) === String(value.value) ? accepted(app) : adjusted(app, setting, taken);
}

const adjusted = (app: Application, setting: SettingDefinition, value: Value) =>
  fill(app.idiom.replies.adjusted.parts, { value: formatValue(value, setting.type, app.idiom.spelling) });

function setRow(app: Application, statement: Extract<Statement, { kind: "row" }>): string {
  const table = indexOf(app.release).tables.get(statement.table);
  if (!table) return refused(app, "unknown-name", `no table ${statement.table}`);
  if (statement.keys.length !== table.keys.length)
    return refused(app, "garbled", `${table.name} has ${table.keys.length} key columns`);
  if (table.area === "ports" && !app.target.ports.includes(Number(statement.keys[0])))
    return refused(app, "not-here", `no port ${statement.keys[0] ?? ""} on this board`);
  const key = statement.keys.join(" ");
  const id = `${table.name}/${key}`;
  const cells: Record<string, Value> = { ...app.rows.get(id)?.cells };
  for (const column of columnsOf(table).filter((c) => !table.keys.includes(c))) cells[column.name] ??= column.default;
  for (const [name, text] of Object.entries(statement.cells)) {
    const column = table.columns.find((c) => c.name === name);
    if (!column) return refused(app, "unknown-name", name);
    const value = parseValue(text, column.type, app.idiom.spelling);
    const limited = value.ok ? limitValue(value.value, column.type) : undefined;
    if (limited === undefined) return refused(app, "out-of-range", `${name} does not take ${text}`);
    cells[name] = limited;
  }
  const count = [...app.rows.values()].filter((row) => row.table === table.name).length;
  if (!app.rows.has(id) && count >= table.maxRows)
    return refused(app, "full", `${table.name} holds ${table.maxRows} rows`);
  app.rows.set(id, { table: table.name, key, cells });
  return accepted(app);
}
