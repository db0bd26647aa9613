import { indexOf, type Release } from "@/core/catalog";
import { formatValue, profileOf, type ScopeId, type Value, type ValueType } from "@/core/config";
import { fillPattern } from "@/core/catalog/pattern";
import { checkLines } from "@/core/idiom/check";
import { keyIndex } from "@/core/idiom/places";
import type { Idiom, LineMeaning } from "@/core/idiom/definition";
import { ProblemError } from "@/core/problem";
import { dressClause, marksOf, quoteWord } from "@/core/idiom/text";

/** A value to be written. */
export interface WrittenValue {
  readonly key: string;
  readonly value: Value;
}

/** Writes what a console of this idiom reads; lines without line ends. */
export interface LineWriter {
  /** Goes to a place. Nothing where each line says its place itself. */
  enter(scope: ScopeId, area: string): string[];
  /** Values of the place that was entered. */
  set(scope: ScopeId, area: string, values: readonly WrittenValue[]): string[];
  /** A table begins anew. */
  clear(table: string): string[];
  row(table: string, key: string, cells: Readonly<Record<string, Value>>): string[];
  activate(active: Readonly<Record<string, number>>): string[];
  facts(about: "identity" | "senses", facts: readonly (readonly [name: string, value: string])[]): string[];
  /** Closes a read-out; empty where the idiom has no closing line. */
  end(before: readonly string[]): string[];
}

export function lineWriter(release: Release, idiom: Idiom): LineWriter {
  switch (idiom.style) {
    case "statement":
      return statementWriter(release, idiom);
    case "section":
      return sectionWriter(release, idiom);
    case "record":
      return recordWriter(release, idiom);
  }
}

/** An idiom that only reads, or that was changed so that something cannot be said in it. */
const mute = (idiom: Idiom, what: string) =>
  new ProblemError({
    code: "idiom-mute",
    message: `${idiom.title} cannot write what is wanted`,
    detail: `Its document has no pattern for ${what}`,
    hint: "Complete the document under Firmware, in the idiom workshop; jobs that have begun keep the version that they began with",
  });

const numberOf = (profile: number, idiom: Idiom) => profile - 1 + (idiom.countFrom ?? 1);

function filler(idiom: Idiom) {
  return (
    means: LineMeaning,
    fields: Record<string, string | number>,
    fits = (source: string) => source !== "",
  ): string => {
    const pattern = idiom.lines.find((line) => line.means === means && fits(line.pattern.source))?.pattern;
    if (!pattern) throw mute(idiom, `a line of the kind “${means}”`);
    return dressClause(fillPattern(pattern, fields), idiom);
  };
}

/** A value as text: in quotes where it needs them. Numbers with units stand as they are. */
function valueWriter(idiom: Idiom) {
  const marks = marksOf(idiom);
  return (value: Value, type: ValueType): string => {
    const text = formatValue(value, type, idiom.spelling);
    return type.kind === "number" ? text : quoteWord(text, idiom.quote, idiom.escape, marks);
  };
}

function settingOf(release: Release, key: string) {
  const setting = indexOf(release).settings.get(key);
  if (!setting) throw new Error(`${release.id} has no setting ${key}`);
  return setting;
}

function tableOf(release: Release, name: string) {
  const table = indexOf(release).tables.get(name);
  if (!table) throw new Error(`${release.id} has no table ${name}`);
  return table;
}

function statementWriter(release: Release, idiom: Idiom): LineWriter {
  const fill = filler(idiom);
  const write = valueWriter(idiom);
  const keys = keyIndex(release, idiom);
  const marks = marksOf(idiom);
  const quoted = (word: string) => quoteWord(word, idiom.quote, idiom.escape, marks);
  const select = (profile: string, number: number) => fill("select", { profile, number: numberOf(number, idiom) });
  return {
    enter: (scope) => {
      const profile = profileOf(scope);
      return profile ? [select(profile.kind, profile.number)] : [];
    },
    set: (_scope, _area, values) =>
      values.map(({ key, value }) => {
        const setting = settingOf(release, key);
        return fill("set", { key: keys.write(setting), value: write(value, setting.type) });
      }),
    clear: (table) => [fill("clear", { table })],
    row: (name, key, cells) => {
      const table = tableOf(release, name);
      const mark = idiom.recital.cellMark ?? "=";
      const words = [
        ...key.split(" ").map(quoted),
        ...table.columns.map((c) =>
          quoted(`${c.name}${mark}${formatValue(cells[c.name] ?? c.default, c.type, idiom.spelling)}`),
        ),
      ];
      return [fill("row", { table: name, cells: words.join(" ") })];
    },
    activate: (active) => Object.entries(active).map(([kind, number]) => select(kind, number)),
    facts: (_about, facts) => facts.map(([name, value]) => fill("fact", { name, value })),
    end: (before) => {
      const { end } = idiom.recital;
      if (!end) return [];
      const check = end.check === undefined ? "" : checkLines(before, end.check);
      return [fill("end", { lines: before.length, check })];
    },
  };
}

function sectionWriter(release: Release, idiom: Idiom): LineWriter {
  const fill = filler(idiom);
  const write = valueWriter(idiom);
  const keys = keyIndex(release, idiom);
  const { recital } = idiom;
  const heading = (section: string, number = "") =>
    fill("section", { section, number }, (source) => source.includes("{number") === (number !== ""));
  const pair = (key: string, value: string) => fill("set", { key, value });
  return {
    enter: (scope, area) => {
      const profile = profileOf(scope);
      return [
        profile
          ? heading(profile.kind, String(numberOf(profile.number, idiom)))
          : heading(recital.systemSection ?? "", area),
      ];
    },
    set: (_scope, _area, values) =>
      values.map(({ key, value }) => {
        const setting = settingOf(release, key);
        return pair(keys.write(setting), write(value, setting.type));
      }),
    clear: (table) => [heading(table, recital.freshWord ?? "")],
    row: (name, key, cells) => {
      const table = tableOf(release, name);
      return [heading(name, key), ...table.columns.map((c) => pair(c.name, write(cells[c.name] ?? c.default, c.type)))];
    },
    activate: (active) => [
      heading(recital.activeSection ?? ""),
      ...Object.entries(active).map(([kind, number]) => pair(kind, String(numberOf(number, idiom)))),
    ],
    facts: (about, facts) => [
      heading((about === "identity" ? recital.factsSection : recital.sensesSection) ?? ""),
      ...facts.map(([name, value]) => pair(name, quoteWord(value, idiom.quote, idiom.escape))),
    ],
    end: (before) => {
      const { endSection } = recital;
      if (!endSection) return [];
      const lines = [heading(endSection.name), pair(endSection.lines, String(before.length))];
      return endSection.check === undefined ? lines : [...lines, pair(endSection.check, checkLines(before, "crc32"))];
    },
  };
}

/** A value as JSON has it. */
function jsonValue(value: Value, type: ValueType, idiom: Idiom): unknown {
  if (type.kind === "number" && (idiom.spelling.unit !== undefined || idiom.spelling.decimalMark === ","))
    return formatValue(value, type, idiom.spelling);
  return value;
}

function recordWriter(release: Release, idiom: Idiom): LineWriter {
  const form = idiom.record;
  if (!form) throw mute(idiom, "a record");
  const keys = keyIndex(release, idiom);
  const { recital } = idiom;
  const record = (section: string, number: string | number, values: Readonly<Record<string, unknown>>): string => {
    const edition = form.edition === undefined ? {} : { [form.edition]: release.edition ?? "" };
    return JSON.stringify({ [form.section]: section, [form.number]: number, ...edition, [form.values]: values });
  };
  return {
    enter: () => [],
    set: (scope, area, values) => {
      if (values.length === 0) return [];
      const holds = Object.fromEntries(
        values.map(({ key, value }) => {
          const setting = settingOf(release, key);
          return [keys.write(setting), jsonValue(value, setting.type, idiom)];
        }),
      );
      const profile = profileOf(scope);
      return [
        profile
          ? record(profile.kind, numberOf(profile.number, idiom), holds)
          : record(recital.systemSection ?? "", area, holds),
      ];
    },
    clear: (table) => [record(table, recital.freshWord ?? "", {})],
    row: (name, key, cells) => {
      const table = tableOf(release, name);
      const holds = Object.fromEntries(
        table.columns.map((c) => [c.name, jsonValue(cells[c.name] ?? c.default, c.type, idiom)]),
      );
      return [record(name, /^\d{1,6}$/.test(key) ? Number(key) : key, holds)];
    },
    activate: (active) => [
      record(
        recital.activeSection ?? "",
        0,
        Object.fromEntries(Object.entries(active).map(([kind, number]) => [kind, numberOf(number, idiom)])),
      ),
    ],
    facts: (about, facts) => [
      record((about === "identity" ? recital.factsSection : recital.sensesSection) ?? "", 0, Object.fromEntries(facts)),
    ],
    end: (before) => {
      const { endSection } = recital;
      if (!endSection) return [];
      const check = endSection.check === undefined ? {} : { [endSection.check]: checkLines(before, "crc32") };
      return [record(endSection.name, 0, { [endSection.lines]: before.length, ...check })];
    },
  };
}
