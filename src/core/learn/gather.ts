import type { Catalogue } from "@/core/catalog";
import { AREAS, type Area, type Value } from "@/core/config";
import { profileNumber, rowKey, type Idiom, type InlinePlace, type ReadClause, type Statement } from "@/core/idiom";
import { typeOfTexts, valueIn, type TypeDocument } from "@/core/learn/guess";
import { partsAlike, takeApart, type NameParts } from "@/core/learn/likeness";

export interface LearntSetting {
  key: string;
  no?: number;
  title: string;
  area: string;
  scope?: string;
  type: TypeDocument;
  default: Value;
  says: string;
  guessed: true;
}

export interface LearntTable {
  name: string;
  title: string;
  area: string;
  maxRows: number;
  keys: { name: string; title: string; type: TypeDocument; default: Value }[];
  columns: { name: string; title: string; type: TypeDocument; default: Value }[];
  rows: { key: string; cells: Record<string, Value> }[];
}

/** A release while it is gathered from what a text says. */
export interface Gathering {
  readonly idiom: Idiom;
  readonly known: Known;
  readonly settings: Map<string, LearntSetting>;
  readonly tables: Map<string, LearntTable>;
  readonly profiles: Map<string, number>;
  /** What stood for each setting and column. */
  readonly texts: Map<string, string[]>;
  /** Flags that were said one by one, and whether each was set first. */
  readonly members: Map<string, Map<string, boolean>>;
  readonly left: { line: number; text: string }[];
  /** Which edition its records are of. */
  edition: string | undefined;
  /** Where the next values go: a profile's kind, a table's row, or the system. */
  place:
    | { kind: "system"; area: string }
    | { kind: "profile"; profile: string }
    | { kind: "row"; table: string; key: string };
  /** Where the headings stand that are still open, in languages that close them. */
  readonly open: Gathering["place"][];
  /** Kinds of which the text says that one is in use: what is numbered besides is rows. Undefined where it says none. */
  readonly activated: ReadonlySet<string> | undefined;
}

/** Each setting name that the catalogue knows, with its area. */
type Known = ReadonlyMap<string, { readonly area: Area; readonly parts: NameParts }>;

export function knownAreas(catalogue: Catalogue): Known {
  const areas = new Map<string, { area: Area; parts: NameParts }>();
  for (const release of catalogue.releases.values())
    for (const { key, area } of release.settings)
      areas.set(key, { area, parts: areas.get(key)?.parts ?? takeApart(key) });
  return areas;
}

/** What the section is called, else the area of the known setting that is most like it by name, else housekeeping. */
function guessArea(key: string, place: Gathering["place"], known: Known): Area {
  if (place.kind === "system" && AREAS.includes(place.area)) return place.area;
  const same = known.get(key);
  if (same) return same.area;
  let best = { alike: 0.45, area: "housekeeping" };
  const own = takeApart(key);
  for (const { parts, area } of known.values()) {
    const alike = partsAlike(own, parts);
    if (alike > best.alike) best = { alike, area };
  }
  return best.area;
}

export const title = (key: string) => {
  const words = key
    .replace(/([a-z])([A-Z])/g, "$1 $2")
    .replace(/[^A-Za-z0-9]+/g, " ")
    .trim();
  return (words.charAt(0).toUpperCase() + words.slice(1).toLowerCase()).slice(0, 80) || key;
};

/** So many different texts of one setting are looked at. */
const MOST_TEXTS = 80;

function keepText(gathering: Gathering, id: string, text: string): void {
  const texts = gathering.texts.get(id);
  if (!texts) gathering.texts.set(id, [text]);
  else if (texts.length < MOST_TEXTS && !texts.includes(text)) texts.push(text);
}

/** Settings that a language writes by number have no other name. */
const keyOf = (key: string, { keys }: Idiom): { key: string; no?: number } =>
  keys === "number" && /^\d{1,9}$/.test(key) ? { key: `no-${Number(key)}`, no: Number(key) } : { key };

function gatherValue(gathering: Gathering, said: string, text: string, place = gathering.place): void {
  const { idiom, tables, settings } = gathering;
  if (place.kind === "row") {
    const table = tables.get(place.table);
    const row = table?.rows.findLast(({ key }) => key === place.key);
    if (!table || !row) return;
    keepText(gathering, `row ${place.table}/${said}`, text);
    if (!table.columns.some((column) => column.name === said))
      table.columns.push({ name: said, title: title(said), type: { text: 32 }, default: "" });
    row.cells[said] = text;
    return;
  }
  const { key, no } = keyOf(said, idiom);
  keepText(gathering, key, text);
  if (settings.has(key)) return;
  settings.set(key, {
    key,
    ...(no === undefined ? {} : { no }),
    title: no === undefined ? title(key) : `Setting ${no}`,
    area: guessArea(key, place, gathering.known),
    ...(place.kind === "profile" ? { scope: place.profile } : {}),
    type: { text: 32 },
    default: text,
    says: "Learnt from a read-out.",
    guessed: true,
  });
}

/** One flag of a set: the words that come up are its flags. */
function gatherMember(
  gathering: Gathering,
  statement: Extract<Statement, { kind: "member" }>,
  place: Gathering["place"],
): void {
  const said = (statement.under?.head ?? "") + statement.key;
  const { key } = keyOf(said, gathering.idiom);
  const flags = gathering.members.get(key) ?? new Map<string, boolean>();
  if (!flags.has(statement.member)) flags.set(statement.member, statement.on);
  gathering.members.set(key, flags);
  gatherValue(gathering, said, "", place);
}

/** What a place in a line means for what stands in it. */
function placeIn(gathering: Gathering, place: InlinePlace | undefined): Gathering["place"] {
  if (!place) return gathering.place;
  const kind = place.profile ?? "profile";
  if (place.number >= 1 && place.number <= 16)
    gathering.profiles.set(kind, Math.max(place.number, gathering.profiles.get(kind) ?? 0));
  return { kind: "profile", profile: kind };
}

/** Types and defaults, when everything that stood for a setting was seen. */
export function settleTypes({ idiom, settings, tables, texts, members }: Gathering): void {
  for (const setting of settings.values()) {
    const flags = members.get(setting.key);
    if (flags) {
      setting.type = { flags: [...flags.keys()] };
      setting.default = [...flags].flatMap(([word, on]) => (on ? [word] : []));
      continue;
    }
    setting.type = typeOfTexts(texts.get(setting.key) ?? [], idiom);
    setting.default = valueIn(String(setting.default), setting.type, idiom);
  }
  const ofRows = { ...idiom, spelling: idiom.rowSpelling };
  for (const table of tables.values()) {
    for (const column of table.columns) {
      const said = texts.get(`row ${table.name}/${column.name}`) ?? [];
      column.type = typeOfTexts(said, ofRows);
      column.default = valueIn(said[0] ?? "", column.type, ofRows);
    }
    table.keys.forEach((key, i) => {
      const words = table.rows.map((row) => row.key.split(" ")[i] ?? "");
      if (words.length === 0) return;
      const counts = words.every((word) => /^\d{1,6}$/.test(word));
      key.type = counts ? { number: { min: 0, max: Math.max(255, ...words.map(Number)), step: 1 } } : { text: 32 };
      key.default = counts ? Number(words[0]) : (words[0] ?? "");
    });
    table.maxRows = Math.max(table.maxRows, table.rows.length);
    for (const row of table.rows)
      for (const { name, type } of table.columns)
        if (row.cells[name] !== undefined) row.cells[name] = valueIn(String(row.cells[name]), type, ofRows);
  }
}

function beginRow(gathering: Gathering, name: string, key: string): void {
  const words = key.split(" ");
  const table: LearntTable = gathering.tables.get(name) ?? {
    name,
    title: title(name),
    area: guessArea(name, { kind: "system", area: name }, gathering.known),
    maxRows: 32,
    keys: words.map((word, i) => {
      const type: TypeDocument = { text: 32 };
      return { name: words.length === 1 ? "row" : `key ${i + 1}`, title: "Row", type, default: word };
    }),
    columns: [],
    rows: [],
  };
  gathering.tables.set(name, table);
  table.rows.push({ key, cells: {} });
  gathering.place = { kind: "row", table: name, key };
}

function enter(gathering: Gathering, name: string, number: string): void {
  const { recital } = gathering.idiom;
  if (name === recital.systemSection) gathering.place = { kind: "system", area: number };
  else if (number === recital.freshWord || number === "") {
    if (number !== "") gathering.tables.set(name, gathering.tables.get(name) ?? emptyTable(name, gathering));
    gathering.place = { kind: "system", area: name };
  } else if (gathering.tables.has(name) || gathering.activated?.has(name) === false) beginRow(gathering, name, number);
  else choose(gathering, name, profileNumber(number, gathering.idiom) ?? 0);
}

export function activatedIn(clauses: readonly ReadClause[]): ReadonlySet<string> | undefined {
  const kinds = clauses.flatMap(({ statements }) =>
    statements.flatMap((each) => (each.kind === "activate" ? [each.profile] : [])),
  );
  return kinds.length === 0 ? undefined : new Set(kinds);
}

const emptyTable = (name: string, gathering: Gathering): LearntTable => ({
  name,
  title: title(name),
  area: guessArea(name, { kind: "system", area: name }, gathering.known),
  maxRows: 32,
  keys: [{ name: "row", title: "Row", type: { number: { min: 0, max: 255, step: 1 } }, default: 1 }],
  columns: [],
  rows: [],
});

function choose(gathering: Gathering, kind: string, number: number): void {
  if (!Number.isSafeInteger(number) || number < 1 || number > 16) return;
  gathering.profiles.set(kind, Math.max(number, gathering.profiles.get(kind) ?? 0));
  gathering.place = { kind: "profile", profile: kind };
}

/** Cells by their names; those by place are called by it, the bits of a mask each for itself. */
function cellsOf(named: Readonly<Record<string, string>>, placed: readonly string[], idiom: Idiom): [string, string][] {
  const mask = idiom.rows.mask === true ? placed.at(-1) : undefined;
  const words = mask === undefined ? placed : placed.slice(0, -1);
  const { base = 10, prefix = "", on, off } = idiom.spelling;
  const bits = mask === undefined ? 0 : parseInt(mask.slice(mask.startsWith(prefix) ? prefix.length : 0), base);
  const width = mask === undefined ? 0 : MASK_BITS;
  return [
    ...Object.entries(named),
    ...words.map((word, i): [string, string] => [`column-${i + 1}`, word]),
    ...Array.from({ length: width }, (_, i): [string, string] => [
      `bit-${i}`,
      Math.floor(bits / 2 ** i) % 2 === 1 ? on : off,
    ]),
  ];
}

/** A sample does not say how many switches a mask holds. */
const MASK_BITS = 8;

export function gather(gathering: Gathering, clause: ReadClause, statement: Statement): void {
  switch (statement.kind) {
    case "set": {
      const key = (statement.under?.head ?? "") + statement.key;
      return gatherValue(gathering, key, statement.value, placeIn(gathering, statement.place));
    }
    case "member":
      return gatherMember(gathering, statement, placeIn(gathering, statement.place));
    case "select":
      return choose(gathering, statement.profile, statement.number);
    case "clear":
      gathering.tables.set(
        statement.table,
        gathering.tables.get(statement.table) ?? emptyTable(statement.table, gathering),
      );
      return;
    case "row": {
      const before = gathering.place;
      const known = gathering.tables.get(statement.table);
      // the first row of a table that was only begun says what its keys look like
      if (known?.rows.length === 0) gathering.tables.delete(statement.table);
      // cells by place say no names, nor how many of the words are keys: the first is taken for one
      const words = statement.placed === true ? statement.keys.slice(1) : [];
      beginRow(
        gathering,
        statement.table,
        statement.placed === true ? (statement.keys[0] ?? "") : statement.keys.join(" "),
      );
      for (const [column, text] of cellsOf(statement.cells, words, gathering.idiom))
        gatherValue(gathering, column, text);
      gathering.place = before;
      return;
    }
    case "cell": {
      const before = gathering.place;
      const key = rowKey(statement.row, gathering.idiom);
      const { table, column, value } = statement;
      const rows = gathering.tables.get(table)?.rows ?? [];
      if (rows.some((row) => row.key === key)) gathering.place = { kind: "row", table, key };
      else beginRow(gathering, table, key);
      gatherValue(gathering, column, value);
      gathering.place = before;
      return;
    }
    case "section": {
      if (gathering.idiom.leaves) gathering.open.push(gathering.place);
      const { name, number, prefix = "" } = statement;
      if (name !== "") return enter(gathering, name, number);
      // what keys begin with is no place, unless it is the name of one
      if (gathering.tables.has(prefix) || AREAS.includes(prefix)) enter(gathering, prefix, "");
      return;
    }
    case "leave":
      gathering.place = gathering.open.pop() ?? { kind: "system", area: "" };
      return;
    case "record":
      gathering.edition ??= statement.edition;
      enter(gathering, statement.name, statement.number);
      for (const [key, value] of statement.values) gatherValue(gathering, key, value);
      return;
    case "foreign":
      gathering.left.push({ line: clause.line, text: clause.text });
      return;
    default:
      return;
  }
}
