import type { Catalogue } from "@/core/catalog";
import { AREAS, type Area, type Value } from "@/core/config";
import {
  checkReadable,
  identityOf,
  profileNumber,
  readStatements,
  type Idiom,
  type ReadClause,
  type Statement,
} from "@/core/idiom";
import { partsAlike, takeApart, type NameParts } from "@/core/learn/likeness";
import { ok, refuse, type Result } from "@/core/problem";

type TypeDocument =
  | { number: { min: number; max: number; step: number; unit?: string } }
  | { switch: true }
  | { choice: string[] }
  | { flags: string[] }
  | { text: number };

interface LearntSetting {
  key: string;
  title: string;
  area: string;
  scope?: string;
  type: TypeDocument;
  default: Value;
  says: string;
  guessed: true;
}

interface LearntTable {
  name: string;
  title: string;
  area: string;
  maxRows: number;
  keys: { name: string; title: string; type: TypeDocument; default: Value }[];
  columns: { name: string; title: string; type: TypeDocument; default: Value }[];
  rows: { key: string; cells: Record<string, Value> }[];
}

/** A release document made from a read-out. What could only be guessed says so. */
export interface LearntRelease {
  readonly document: Readonly<Record<string, unknown>>;
  readonly settings: readonly LearntSetting[];
  readonly tables: readonly LearntTable[];
  readonly profiles: readonly { readonly kind: string; readonly count: number }[];
  readonly left: readonly { readonly line: number; readonly text: string }[];
}

export interface LearnAbout {
  readonly family?: string;
  readonly version?: string;
  readonly builtOn?: string;
}

/** Three times what the largest release of today has. */
const MOST_SETTINGS = 5_000;
const NUMBER = /^[+-]?\d{1,12}([.,]\d{1,9})?$/;

/** A round bound above a number: 10, 20, 50, 100 … of its size. */
function boundAbove(value: number): number {
  if (value <= 0) return 100;
  const size = 10 ** Math.floor(Math.log10(value));
  const steps = [2, 5, 10, 20, 50];
  return Number(((steps.find((step) => step * size >= value * 2) ?? 100) * size).toPrecision(12));
}

/** Type and value that a text suggests in this idiom's spelling. */
export function guessType(text: string, idiom: Idiom): { type: TypeDocument; value: Value } {
  const { spelling } = idiom;
  let [digits, unit] = [text, undefined as string | undefined];
  if (spelling.unit !== undefined) {
    const parted = /^([+-]?\d[\d.,]*)\s*([^\d\s.,].{0,11})$/.exec(text);
    if (parted?.[1] !== undefined && parted[2] !== undefined) [digits, unit] = [parted[1], parted[2]];
  }
  if (NUMBER.test(digits) && !digits.includes(spelling.decimalMark === "." ? "," : ".")) {
    const value = Number(digits.replace(",", "."));
    const decimals = digits.split(spelling.decimalMark)[1]?.length ?? 0;
    const bound = boundAbove(Math.abs(value));
    const type = {
      number: {
        min: value < 0 ? -bound : 0,
        max: bound,
        step: Number((10 ** -decimals).toFixed(decimals)),
        ...(unit === undefined ? {} : { unit }),
      },
    };
    return { type, value };
  }
  if (text === spelling.on || text === spelling.off) return { type: { switch: true }, value: text === spelling.on };
  if (text === spelling.empty) return { type: { text: 32 }, value: "" };
  if (text.includes(spelling.listMark) && !text.includes(" ")) {
    const words = text.split(spelling.listMark).filter(Boolean);
    return { type: { flags: words }, value: words };
  }
  if (/^[A-Za-z][A-Za-z0-9-]{0,40}$/.test(text)) return { type: { choice: [text] }, value: text };
  return { type: { text: Math.max(32, text.length) }, value: text };
}

interface Gathering {
  readonly idiom: Idiom;
  readonly known: Known;
  readonly settings: Map<string, LearntSetting>;
  readonly tables: Map<string, LearntTable>;
  readonly profiles: Map<string, number>;
  readonly left: { line: number; text: string }[];
  /** Where the next values go: a profile's kind, a table's row, or the system. */
  place:
    | { kind: "system"; area: string }
    | { kind: "profile"; profile: string }
    | { kind: "row"; table: string; key: string };
}

/** Each setting name that the catalogue knows, with its area. */
type Known = ReadonlyMap<string, { readonly area: Area; readonly parts: NameParts }>;

function knownAreas(catalogue: Catalogue): Known {
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

const title = (key: string) => {
  const words = key
    .replace(/([a-z])([A-Z])/g, "$1 $2")
    .replace(/[^A-Za-z0-9]+/g, " ")
    .trim();
  return (words.charAt(0).toUpperCase() + words.slice(1).toLowerCase()).slice(0, 80) || key;
};

function gatherValue(gathering: Gathering, key: string, text: string): void {
  const { place, idiom } = gathering;
  const { type, value } = guessType(text, idiom);
  if (place.kind === "row") {
    const table = gathering.tables.get(place.table);
    const row = table?.rows.at(-1);
    if (!table || !row) return;
    if (!table.columns.some((column) => column.name === key))
      table.columns.push({ name: key, title: title(key), type, default: value });
    else
      widen(
        table.columns.find((column) => column.name === key),
        type,
      );
    row.cells[key] = value;
    return;
  }
  const known = gathering.settings.get(key);
  if (known) {
    widen(known, type);
    return;
  }
  const scope = place.kind === "profile" ? place.profile : undefined;
  gathering.settings.set(key, {
    key,
    title: title(key),
    area: guessArea(key, place, gathering.known),
    ...(scope === undefined ? {} : { scope }),
    type,
    default: value,
    says: "Learnt from a read-out.",
    guessed: true,
  });
}

/** More different words are no choice between some, but text. */
const MOST_WORDS = 64;

/** A second value of the same setting or column may be another word or a larger number. */
function widen(known: { type: TypeDocument } | undefined, type: TypeDocument): void {
  if (!known) return;
  if ("choice" in known.type && "choice" in type) {
    const choice = [...new Set([...known.type.choice, ...type.choice])];
    known.type = choice.length > MOST_WORDS ? { text: 64 } : { choice };
  } else if ("flags" in known.type && "flags" in type)
    known.type = { flags: [...new Set([...known.type.flags, ...type.flags])].slice(0, MOST_WORDS) };
  else if ("number" in known.type && "number" in type) {
    const [a, b] = [known.type.number, type.number];
    known.type = {
      number: { ...a, min: Math.min(a.min, b.min), max: Math.max(a.max, b.max), step: Math.min(a.step, b.step) },
    };
  }
}

function beginRow(gathering: Gathering, name: string, key: string): void {
  const words = key.split(" ");
  const table = gathering.tables.get(name) ?? {
    name,
    title: title(name),
    area: guessArea(name, { kind: "system", area: name }, gathering.known),
    maxRows: 32,
    keys: words.map((word, i) => {
      const { type, value } = guessType(word, gathering.idiom);
      const keyType: TypeDocument = "number" in type ? { number: { min: 0, max: 255, step: 1 } } : { text: 32 };
      return { name: words.length === 1 ? "row" : `key ${i + 1}`, title: "Row", type: keyType, default: value };
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
  } else if (gathering.tables.has(name)) beginRow(gathering, name, number);
  else choose(gathering, name, profileNumber(number, gathering.idiom) ?? 0);
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

function gather(gathering: Gathering, clause: ReadClause, statement: Statement): void {
  switch (statement.kind) {
    case "set":
      return gatherValue(gathering, statement.key, statement.value);
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
      beginRow(gathering, statement.table, statement.keys.join(" "));
      for (const [column, text] of Object.entries(statement.cells)) gatherValue(gathering, column, text);
      gathering.place = before;
      return;
    }
    case "section":
      return enter(gathering, statement.name, statement.number);
    case "record":
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

/**
 * A release document from a full read-out of a freshly erased board: every value is a default. Types, ranges and areas
 * are guesses and marked as such. Refuses a text in which the idiom finds no values.
 */
export function learnRelease(
  text: string,
  idiom: Idiom,
  catalogue: Catalogue,
  about: LearnAbout = {},
): Result<LearntRelease> {
  const readable = checkReadable(text);
  if (!readable.ok) return readable;
  const read = readStatements(text, idiom);
  const gathering: Gathering = {
    idiom,
    known: knownAreas(catalogue),
    settings: new Map(),
    tables: new Map(),
    profiles: new Map(),
    left: [],
    place: { kind: "system", area: "" },
  };
  for (const clause of read.clauses) {
    for (const statement of clause.statements) gather(gathering, clause, statement);
    if (gathering.settings.size > MOST_SETTINGS)
      return refuse({
        code: "learn-many",
        message: "More settings than any release has",
        detail: `The idiom finds more than ${MOST_SETTINGS}`,
        hint: "Choose another idiom, or cut the read-out out of the text",
        where: { line: clause.line },
      });
  }
  if (gathering.settings.size === 0)
    return refuse({
      code: "learn-nothing",
      message: "The idiom finds no setting in this text",
      detail: `${read.lines.length} lines were read as ${idiom.title}`,
      hint: "Choose another idiom, or adapt it beside the text",
    });
  const identity = identityOf(read.clauses, idiom);
  const family = about.family ?? identity.family ?? "Unknown";
  const version = about.version ?? identity.release ?? "1";
  const settings = [...gathering.settings.values()];
  const tables = [...gathering.tables.values()].map((table) => ({
    ...table,
    columns:
      table.columns.length > 0 ? table.columns : [{ name: "value", title: "Value", type: { text: 32 }, default: "" }],
  }));
  // a kind of profile is one that holds values; other numbers were rows
  const held = new Set(settings.flatMap((setting) => setting.scope ?? []));
  const profiles = [...gathering.profiles].filter(([kind]) => held.has(kind)).map(([kind, count]) => ({ kind, count }));
  const slug = `${family}-${version}`
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "");
  const document = {
    document: "release",
    id: slug,
    family,
    version,
    standing: "experimental",
    builtOn: about.builtOn ?? (/^\d{4}-\d{2}-\d{2}$/.test(identity.builtOn ?? "") ? identity.builtOn : "2000-01-01"),
    idiom: idiom.id,
    loaderWord: false,
    region: { format: `${slug}-region`, stale: "refuse" },
    console: { inputBufferBytes: 64, lineCostUs: 1000, baud: 115200 },
    profiles: profiles.map(({ kind, count }) => ({ kind, title: title(kind), count })),
    targets: identity.target === undefined ? [] : targetsOf(identity.target, catalogue),
    settings,
    tables,
  };
  return ok({ document, settings, tables, profiles, left: gathering.left });
}

/** The target as another release of the catalogue describes it; one that nobody knows is left for a person to describe. */
function targetsOf(name: string, catalogue: Catalogue): unknown[] {
  for (const release of catalogue.releases.values()) {
    const target = release.targets.find((each) => each.id === name || each.aliases.includes(name));
    if (target) return [target];
  }
  return [];
}
