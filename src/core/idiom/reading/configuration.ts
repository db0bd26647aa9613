import { releaseTitle, type Firmware } from "@/core/catalog";
import { parseValue, type Configuration, type Identity } from "@/core/config";
import { settleCertainty, startReading } from "@/core/idiom/reading/certainty";
import type { Idiom } from "@/core/idiom/definition/definition";
import { choose, follow, noteSkipped, noteTwice } from "@/core/idiom/reading/choices";
import { beginsKeys, keyIndex, placeOf, settingUnder, type Place } from "@/core/idiom/reading/places";
import { beginTable, doubtTable, fillUp, takeCell, takeCellOf, takeRow } from "@/core/idiom/reading/table-rows";
import { landing, landingOf, lost, straysIn, SYSTEM, type Building, type Unkept } from "@/core/idiom/reading/landing";
import { settleMembers, takeMember } from "@/core/idiom/reading/members";
import { MOST_OPEN, type ReadClause, type Statement } from "@/core/idiom/reading/statement";

/** What is known of a read-out as a whole before its values are read. */
export interface Vouching {
  /** Its own closing check fits: it is what the board said, to the byte. */
  readonly vouched: boolean;
  /** It says that it holds what differs from the defaults only: what is absent is a default. */
  readonly movedOnly: boolean;
  /** Line with which the text ends before it is over. */
  readonly torn?: number;
}

const TORN = "The text ends with this line: it may be cut off";
/** Lines that stand around others, and say nothing themselves. */
const SILENT: ReadonlySet<Statement["kind"]> = new Set(["comment", "blank", "answer", "echo"]);

/**
 * The configuration that the clauses make on a board of this release, every value with its line. Damage to a line changes
 * what comes from that line and nothing else: where a lost line leaves open what follows belongs to, that is doubtful
 * until the language makes it certain again.
 */
export function configurationOf(
  clauses: readonly ReadClause[],
  idiom: Idiom,
  release: Firmware,
  identity: Identity,
  vouching: Vouching,
): Configuration {
  const keys = keyIndex(release, idiom);
  const building: Building = {
    ...startReading(release, vouching, idiom),
    idiom,
    keys,
    settingOf: keys.inTurn(),
    unknown: [],
    active: {},
    selected: {},
    heading: undefined,
    open: [],
    headBroken: false,
    byCells: new Map(),
    headed: new Map(),
    landings: { system: SYSTEM },
    spoken: 0,
    members: new Map(),
  };
  for (const clause of clauses)
    for (const statement of clause.statements) {
      if (!SILENT.has(statement.kind)) building.spoken++;
      const reason = take(building, statement, clause.line, clause.text);
      if (reason === undefined) continue;
      building.unknown.push({ line: clause.line, text: clause.text, ...reason });
      if (mayHaveSwallowed(statement, clause.text, idiom)) breakOff(building, clause.line);
    }
  settleMembers(building);
  if (idiom.rows.sparse === true) for (const row of building.byCells.values()) fillUp(row, release);
  if (idiom.rows.unopened === true && !vouching.movedOnly)
    for (const table of release.tables) building.begun.add(table.name);
  // the choice that says at the end which profile is active must not pass for the last profile's own
  for (const { kind, count } of release.profiles)
    if (building.followed.has(kind))
      for (const last of [building.highest, building.reached]) noteSkipped(building, kind, last.get(kind), count + 1);
  const kinds = release.profiles.map((profile) => profile.kind);
  const silent = kinds.filter((kind) => !building.chosenLast.has(kind));
  const active = Object.fromEntries(Object.entries(building.active).filter(([kind]) => building.chosenLast.has(kind)));
  const { settings, rows, begun, doubts } = settleCertainty(building, identity.target);
  const { values, rows: doubtfulRows } = doubts;
  const open = values.length > 0 || doubtfulRows.length > 0 || silent.length > 0;
  return {
    identity,
    settings,
    rows,
    begun,
    active,
    unknown: building.unknown,
    ...(open ? { doubts: { values, rows: doubtfulRows, active: silent } } : {}),
  };
}

/**
 * Whether a line that was not taken may have been, or held, one that chooses a place: then nothing is certain until the
 * next choice. A value of an unknown name is what a custom build says, and chooses nothing.
 */
function mayHaveSwallowed(statement: Statement, text: string, idiom: Idiom): boolean {
  if (statement.kind === "record") return false;
  if (statement.kind === "row" && idiom.rowsUnder) return true;
  if (!["set", "member", "row", "cell"].includes(statement.kind)) return true;
  return idiom.lines.some(
    ({ means, head }) =>
      (means === "select" || means === "section" || means === "clear" || means === "row") &&
      head.trim() !== "" &&
      text.indexOf(head.trim(), 1) > 0,
  );
}

function breakOff(building: Building, line: number): void {
  if (building.vouched) return;
  building.headBroken = true;
  building.brokenAt = line;
  building.sure.clear();
  building.landings = { system: SYSTEM };
  if (building.table !== undefined)
    doubtTable(building, building.table, line, "A line among its rows could not be read");
}

/** What a line says that may be cut off is in doubt; whether it is not to be taken up at all. */
function tornOff(building: Building, statement: Statement, line: number, raw: string): boolean {
  if (statement.kind === "member") {
    const { setting } = settingUnder(statement.key, statement.under, building.keys.find);
    if (setting)
      building.loose.push({
        setting,
        scope: landingOf(building, setting.scope).scope,
        placed: true,
        raw,
        line,
        reason: TORN,
      });
    return true;
  }
  if (statement.kind === "row" || statement.kind === "cell") {
    doubtTable(building, statement.table, line, TORN);
    return true;
  }
  // which profile is in use is open then, whatever stood before
  if (statement.kind === "select" || statement.kind === "activate") building.chosenLast.delete(statement.profile);
  return ["select", "activate", "clear", "section"].includes(statement.kind);
}

/** Takes one statement up; says why when it could not. */
function take(building: Building, statement: Statement, line: number, raw: string): Unkept {
  const { release, idiom } = building;
  if (line === building.torn && tornOff(building, statement, line, raw)) return lost(TORN);
  switch (statement.kind) {
    case "set":
      return takeValue(building, statement, line, raw);
    case "member":
      return takeMember(building, statement, line, raw);
    case "row":
      return takeRow(building, statement, line, raw);
    case "cell":
      return takeCellOf(building, statement, line, raw);
    case "select":
    case "activate": {
      const profile = release.profiles.find((p) => p.kind === statement.profile);
      if (!profile && statement.kind === "activate") straysIn(building, statement.profile, statement.value, line, raw);
      if (!profile || statement.number < 1 || statement.number > profile.count) return lost("There is no such profile");
      if (statement.kind === "select") choose(building, profile.kind, statement.number);
      if (statement.kind === "activate" || !idiom.tellsActive) {
        building.active[profile.kind] = statement.number;
        building.chosenLast.add(profile.kind);
      }
      return undefined;
    }
    case "clear":
      beginTable(building, statement.table, line);
      return undefined;
    case "section":
      return enterHeading(building, statement, line);
    case "leave": {
      const { row, heading, table } = building.open.pop() ?? {};
      Object.assign(building, { row, heading, table, landings: { system: SYSTEM } });
      return undefined;
    }
    case "record": {
      if (statement.edition !== undefined && statement.edition !== release.edition)
        return lost(
          `The record is of edition ${statement.edition}; ${releaseTitle(release)} takes ${release.edition ?? "none"}`,
        );
      const refused = enterPlace(building, placeOf(statement.name, statement.number, idiom, release), line);
      if (refused) return refused;
      for (const [key, value] of statement.values) {
        const reason = takeValue(building, { key, value }, line, `${key}: ${value}`);
        if (reason) building.unknown.push({ line, text: `${key}: ${value}`, ...reason });
      }
      return undefined;
    }
    case "foreign":
      if (statement.stray) straysIn(building, statement.stray.key, statement.stray.value, line, raw);
      return lost(statement.reason ?? "The idiom has no statement like this");
    case "fact":
      if (!idiom.factFields.has(statement.name)) straysIn(building, statement.name, statement.value, line, raw);
      return undefined;
    case "end":
      follow(building);
      return undefined;
    case "comment":
    case "answer":
    case "echo":
    case "blank":
      return undefined;
  }
}

function enterHeading(building: Building, statement: Extract<Statement, { kind: "section" }>, line: number): Unkept {
  const { release, idiom, row, heading, table } = building;
  if (idiom.leaves && building.open.length < MOST_OPEN) building.open.push({ row, heading, table });
  building.headBroken = false;
  const { name, number, prefix = "" } = statement;
  if (name !== "" && release.profiles.some(({ kind }) => kind === name))
    noteTwice(building, name, number, prefix, line);
  if (name !== "") return enterPlace(building, placeOf(name, number, idiom, release), line);
  if (!beginsKeys(prefix, release, idiom)) return enterPlace(building, placeOf(prefix, "", idiom, release), line);
  if (heading) noteTwice(building, heading.kind, String(heading.number), prefix, line);
  building.row = undefined;
  building.table = undefined;
  return undefined;
}

function enterPlace(building: Building, place: Place, line: number): Unkept {
  // a heading says where what follows belongs, whatever was lost before it
  building.row = undefined;
  building.heading = undefined;
  building.table = undefined;
  building.landings = { system: SYSTEM };
  switch (place.kind) {
    case "nowhere":
      return lost(place.reason);
    case "profile":
      choose(building, place.profile, place.number);
      building.brokenAt = 0;
      building.heading = { kind: place.profile, number: place.number };
      return undefined;
    case "table":
      follow(building);
      building.brokenAt = 0;
      if (place.key === undefined) beginTable(building, place.table.name, line);
      else {
        building.begun.add(place.table.name);
        building.table = place.table.name;
        building.row = { table: place.table.name, key: place.key, cells: {}, line };
        building.rows.push(building.row);
      }
      return undefined;
    case "system":
      follow(building);
      building.brokenAt = 0;
      return undefined;
  }
}

type SaidValue = Pick<Extract<Statement, { kind: "set" }>, "key" | "value" | "place" | "under">;

function takeValue(building: Building, said: SaidValue, line: number, raw: string): Unkept {
  const { release, idiom, row } = building;
  const { key, value: text } = said;
  const led = said.under === undefined ? undefined : settingUnder(key, said.under, building.settingOf);
  const setting = led ? led.setting : building.settingOf(key);
  const isCell = row !== undefined && (building.brokenAt === 0 || setting === undefined || idiom.style === "record");
  if (isCell) return takeCell(building, key, text, line, raw);
  if (!setting) {
    building.unled.add(key);
    return lost(`${releaseTitle(release)} has no setting of this name`);
  }
  const land = landing(building, setting, said.place);
  if (typeof land === "string") return lost(land);
  const { scope } = land;
  const headed = !(led?.joined === true && building.headBroken);
  const certain = land.certain && headed;
  const value = parseValue(text, setting.type, idiom.spelling);
  if (building.chosenLast.size > 0 && !idiom.tellsActive) building.chosenLast.clear();
  building.table = undefined;
  const torn = line === building.torn;
  if (value.ok && certain && !torn) {
    building.settings.push({ scope, key: setting.key, value: value.value, raw: text, line });
    return undefined;
  }
  building.loose.push({
    setting,
    scope,
    placed: certain,
    raw,
    line,
    ...(value.ok ? { value: value.value } : {}),
    reason: torn
      ? TORN
      : !value.ok
        ? value.problem.message
        : headed
          ? "The line that says which profile it is of could not be read"
          : "The heading that it stands under could not be read",
  });
  return value.ok ? undefined : lost(value.problem.message, scope);
}
