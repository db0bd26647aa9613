import { checkDocument, resolveRelease, type Catalogue } from "@/core/catalog";
import { checkReadable, configurationOf, identityOf, readStatements, type Idiom, type ReadClause } from "@/core/idiom";
import {
  activatedIn,
  gather,
  knownAreas,
  settleTypes,
  title,
  type Gathering,
  type LearntSetting,
  type LearntTable,
} from "@/core/learn/gather";
import { ok, refuse, type Result } from "@/core/problem";

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
    texts: new Map(),
    members: new Map(),
    left: [],
    edition: undefined,
    place: { kind: "system", area: "" },
    open: [],
    activated: activatedIn(read.clauses),
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
  settleTypes(gathering);
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
    ...(gathering.edition === undefined ? {} : { edition: gathering.edition }),
    loaderWord: false,
    region: { format: `${slug}-region`, stale: "refuse" },
    console: { inputBufferBytes: 64, lineCostUs: 1000, baud: 115200 },
    profiles: profiles.map(({ kind, count }) => ({ kind, title: title(kind), count })),
    targets: identity.target === undefined ? [] : targetsOf(identity.target, catalogue),
    settings,
    tables,
  };
  const left = [...gathering.left, ...restOf(read.clauses, idiom, document)];
  return ok({ document, settings, tables, profiles, left });
}

/** Lines of its own source that a learnt release cannot take, though the language understands them. */
function restOf(
  clauses: readonly ReadClause[],
  idiom: Idiom,
  body: Readonly<Record<string, unknown>>,
): { line: number; text: string }[] {
  const checked = checkDocument(structuredClone(body));
  const release = checked.ok ? resolveRelease(checked.value) : checked;
  if (!release.ok) return [];
  const vouching = { vouched: false, movedOnly: false };
  const foreign = new Set(
    clauses.filter(({ statements }) => statements.some(({ kind }) => kind === "foreign")).map(({ line }) => line),
  );
  return configurationOf(clauses, idiom, release.value, {}, vouching)
    .unknown.filter(({ line }) => !foreign.has(line))
    .map(({ line, text }) => ({ line, text }));
}

/** The target as another release of the catalogue describes it; one that nobody knows is left for a person to describe. */
function targetsOf(name: string, catalogue: Catalogue): unknown[] {
  for (const release of catalogue.releases.values()) {
    const target = release.targets.find((each) => each.id === name || each.aliases.includes(name));
    if (target) return [target];
  }
  return [];
}
