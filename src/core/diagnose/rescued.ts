import {
  allFirmware,
  findTarget,
  layoutOf,
  layoutsOf,
  releaseTitle,
  scopesOf,
  type Catalogue,
  type Firmware,
  type Layout,
} from "@/core/catalog";
import {
  parseValue,
  profileOf,
  type Configuration,
  type Identity,
  type SettingEntry,
  type TableRow,
} from "@/core/config";
import { idiomOf, reciteLines, splitWords, type Idiom } from "@/core/idiom";
import { decodeRecords, decodeRegion, markOf, type RegionRecord } from "@/core/image";
import { ok, refuse, type Problem, type Result } from "@/core/problem";

/** Settings read out of a board whose firmware does not run, as a read-out in its release's own language. */
export interface Rescued {
  readonly release: Firmware;
  readonly text: string;
  readonly values: number;
  readonly rows: number;
  /** Records that say nothing, in words: they are in the raw copy, and in no value. */
  readonly unread: readonly string[];
}

const noRescue = (detail: string, hint: string): Result<never> =>
  refuse({ code: "rescue-unreadable", message: "The settings region cannot be read as settings", detail, hint });

const IMPORT = "Stop the job, and import a backup of this aircraft under its history";

/** Releases that mark their region like this one. A region tells which release wrote it, whatever is in flash now. */
const writersOf = (
  catalogue: Catalogue,
  { formatMark, layout }: { readonly formatMark: number; readonly layout: Layout },
): Firmware[] =>
  allFirmware(catalogue).filter(
    (release) => markOf(release.region.format) === formatMark && layoutOf(catalogue, release).id === layout.id,
  );

const writesAlike = (a: Firmware, b: Firmware): boolean =>
  sameWords(
    a.settings.map(({ key, scope }) => `${scope}/${key}`),
    b.settings.map(({ key, scope }) => `${scope}/${key}`),
  ) &&
  sameWords(
    a.tables.map(({ name }) => name),
    b.tables.map(({ name }) => name),
  );

const sameWords = (a: readonly string[], b: readonly string[]) =>
  a.length === b.length && a.every((each, i) => each === b[i]);

/**
 * A settings region as it was read through a loader. Refused are a region that is blank, one whose check does not fit (what
 * it holds could be anything), and one that no release of the catalogue writes. `identity`: what is known of the board.
 */
export function readRescued(bytes: Uint8Array, catalogue: Catalogue, identity: Identity): Result<Rescued> {
  const content = decodeRegion(bytes, layoutsOf(catalogue));
  if (content.state === "blank") return noRescue("It is blank: nothing was ever kept in it", IMPORT);
  if (content.state === "damaged") return noRescue(`It is damaged: ${content.reason}`, IMPORT);
  const marked = writersOf(catalogue, content);
  // a special built on a release writes as that one does: which of them it was changes nothing
  const built = marked.filter((each) => findTarget(each, identity.target ?? "") !== undefined);
  const writers = (built.length > 0 ? built : marked).filter(
    (each, i, all) => !all.slice(0, i).some((o) => writesAlike(o, each)),
  );
  const [release] = writers;
  if (!release)
    return noRescue(
      "No release of the workshop writes its settings like this",
      "Import the release document that does, then stop this job and order it again",
    );
  if (writers.length > 1)
    return noRescue(`${writers.map(releaseTitle).join(" and ")} write their settings like this`, IMPORT);
  const document = catalogue.idioms.get(release.idiom);
  if (!document) return noRescue(`The catalogue has no idiom “${release.idiom}”`, "Import it under Firmware");
  const idiom = idiomOf(document);
  const reading = new Reading(release, idiom, content.layout);
  for (const record of decodeRecords(content.payload, content.layout)) reading.take(record);
  const { family, version, builtOn } = release;
  const configuration: Configuration = {
    identity: { family, release: version, builtOn, ...identity },
    settings: reading.settings,
    rows: reading.rows,
    active: reading.active,
    unknown: [],
  };
  return ok({
    release,
    text: `${reciteLines(configuration, release, idiom, "all").join("\n")}\n`,
    values: reading.settings.length,
    rows: reading.rows.length,
    unread: reading.unread,
  });
}

/** Takes records in, each for what it says; a value outside of its range stands as it is, for the plan to limit. */
class Reading {
  readonly settings: SettingEntry[] = [];
  readonly rows: TableRow[] = [];
  readonly active: Record<string, number> = {};
  readonly unread: string[] = [];

  constructor(
    private readonly release: Firmware,
    private readonly idiom: Idiom,
    private readonly layout: Layout,
  ) {}

  private get numbers() {
    return this.layout.region.numbers;
  }

  take(record: RegionRecord): void {
    const { ordinal } = record;
    if (ordinal >= this.numbers.active) this.takeActive(record);
    // that a table was written at all: rows follow where it has any
    else if (ordinal >= this.numbers.tables) return;
    else if (ordinal >= this.numbers.rows) this.takeRow(record);
    else this.takeSetting(record);
  }

  private drop(what: string, problem?: Problem): void {
    this.unread.push(problem ? `${what}: ${problem.message}` : what);
  }

  private takeActive({ ordinal, profile }: RegionRecord): void {
    const kind = this.release.profiles[ordinal - this.numbers.active];
    if (kind && profile >= 1 && profile <= kind.count) this.active[kind.kind] = profile;
    else this.drop(`active profile ${profile}`);
  }

  private takeSetting({ ordinal, profile, text }: RegionRecord): void {
    const setting = this.release.settings[ordinal];
    if (!setting) return this.drop(`setting number ${ordinal}`);
    const scope = scopesOf(this.release, setting).find((each) => (profileOf(each)?.number ?? 0) === profile);
    if (scope === undefined) return this.drop(`${setting.key} in profile ${profile}`);
    const value = parseValue(text, setting.type, this.idiom.spelling);
    if (!value.ok) return this.drop(setting.key, value.problem);
    this.settings.push({ scope, key: setting.key, value: value.value, raw: text, line: 0 });
  }

  private takeRow({ ordinal, text }: RegionRecord): void {
    const table = this.release.tables[ordinal - this.numbers.rows];
    const [key, ...cells] = splitWords(text, '"') ?? [];
    if (!table || key === undefined) return this.drop(`a row: ${text}`);
    const values: Record<string, TableRow["cells"][string]> = {};
    for (const column of table.columns) {
      const cell = cells.find((each) => each.startsWith(`${column.name}=`))?.slice(column.name.length + 1);
      const value = cell === undefined ? undefined : parseValue(cell, column.type, this.idiom.spelling);
      if (!value?.ok) return this.drop(`${table.title} ${key}, ${column.name}`, value?.problem);
      values[column.name] = value.value;
    }
    this.rows.push({ table: table.name, key, cells: values, line: 0 });
  }
}
