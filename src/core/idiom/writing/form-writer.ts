import type { Firmware, TableDefinition } from "@/core/catalog";
import { fillPattern } from "@/core/catalog/pattern";
import { equalValues, formatValue, profileOf, type ScopeId, type Value } from "@/core/config";
import { says, type Idiom, type LineForm } from "@/core/idiom/definition/definition";
import { endLines, factLines } from "@/core/idiom/writing/facts-writer";
import { Forms, tableOf } from "@/core/idiom/writing/forms";
import type { LineWriter, WrittenValue } from "@/core/idiom/writing/line-writer";
import { cellWords } from "@/core/idiom/reading/rows";
import { profileName } from "@/core/idiom/reading/statement";
import { ValueLines } from "@/core/idiom/writing/value-lines";

/** A line that says something to people only; undefined where the language has no comments. */
export function commentLine(text: string, idiom: Idiom): string | undefined {
  const form = idiom.lines.find(({ means }) => means === "comment");
  if (form) return fillPattern(form.pattern, { text: ` ${text}` });
  const [mark] = idiom.text.comments ?? [];
  return mark && `${mark.from} ${text}${mark.to === undefined ? "" : ` ${mark.to}`}`;
}

/** Writes lines by the forms of the document: whatever it has a form for is said by that, the rest by headings and pairs. */
export function formWriter(release: Firmware, idiom: Idiom): LineWriter {
  const forms = new Forms(idiom);
  const values = new ValueLines(release, forms);
  const { recital } = idiom;
  const closing = forms.find("leave");
  const close = closing ? [forms.say(closing, {})] : [];
  // lines are set in where their headings are closed: else nothing would tell how far
  const inset = (lines: readonly string[], depth = 1) =>
    lines.map((line) => (closing && idiom.text.indent !== undefined ? idiom.text.indent.repeat(depth) + line : line));
  const isSection = (numbered: boolean) => (form: LineForm) =>
    says(form, "section") && says(form, "number") === numbered && !says(form, "prefix") && !form.active;
  const isHead = (form: LineForm) => says(form, "prefix") && !says(form, "section");
  const heading = (section: string, number = "") => {
    const fields = { section, ...(number === "" ? {} : { number }) };
    const form = forms.find("section", fields, isSection(number !== ""));
    const head = form || number !== "" ? undefined : forms.find("section", { prefix: section }, isHead);
    return head ? forms.say(head, { prefix: section }) : forms.need("section", fields, isSection(number !== ""));
  };
  const pair = (key: string, value: string) =>
    forms.need("set", { key, value }, (form) => form.list === undefined && !says(form, "number"));
  const block = (head: string, lines: readonly string[]) => [head, ...inset(lines), ...close];
  /** The heading of a profile's place, where it has one. */
  const profileHeading = (kind: string, number: number, isActive: boolean): string => {
    const section = { section: kind, number: profileName(number, idiom) };
    const isMarked = (form: LineForm) => form.active && says(form, "number");
    const marked = isActive ? forms.find("section", section, isMarked) : undefined;
    return marked ? forms.say(marked, section) : heading(kind, section.number);
  };
  const selectLine = (kind: string, number: number, isActive: boolean): string | undefined => {
    const said = { profile: kind, number: profileName(number, idiom) };
    const selecting = (marked: boolean) => forms.find("select", said, (form) => form.active === marked);
    const select = (isActive ? selecting(true) : undefined) ?? selecting(false);
    return select && forms.say(select, said);
  };
  /** Values of the system stand under what their keys begin with, and under nothing else. */
  const byKeys =
    idiom.keysUnder !== undefined &&
    recital.systemSection === undefined &&
    !forms.find("section", {}, isSection(false));
  const systemHeading = (area: string): string | undefined => {
    if (recital.systemSection !== undefined) return heading(recital.systemSection, area);
    const form = values.saysArea || byKeys ? undefined : forms.find("section", { section: area }, isSection(false));
    return form && forms.say(form, { section: area });
  };
  /** The heading of a place, and what the keys under it need not say. */
  const placeOf = (scope: ScopeId, area: string, active: Readonly<Record<string, number>> = {}) => {
    const profile = profileOf(scope);
    if (!profile) return { head: systemHeading(area), name: area };
    const { kind, number } = profile;
    const select = selectLine(kind, number, active[kind] === number);
    if (select !== undefined || values.saysPlace(kind)) return { select, head: undefined, name: "" };
    return { head: profileHeading(kind, number, active[kind] === number), name: kind };
  };
  /** Values under the headings of their keys. */
  const grouped = (scope: ScopeId, area: string, written: readonly WrittenValue[]): string[] => {
    const { head: placeHead, name } = placeOf(scope, area);
    const profile = profileOf(scope);
    const whole =
      profile &&
      forms.find(
        "section",
        { section: profile.kind },
        (form) => says(form, "section") && says(form, "number") && says(form, "prefix"),
      );
    // where no heading says how keys begin they say it themselves
    const headed = whole !== undefined || forms.find("section", {}, isHead) !== undefined;
    const groups = values.groups(scope, area, written, placeHead === undefined ? "" : name, headed);
    const lines = groups.flatMap(({ head, lines }) => {
      if (head === "") return lines;
      if (profile && whole) {
        const fields = { section: profile.kind, number: profileName(profile.number, idiom), prefix: head };
        return block(forms.say(whole, fields), lines);
      }
      // where headings are closed they stand in each other, one for each part
      const parts = closing && idiom.keysUnder ? head.split(idiom.keysUnder.join) : [head];
      return parts.reduceRight<readonly string[]>(
        (inner, prefix) => block(forms.need("section", { prefix }, isHead), inner),
        lines,
      );
    });
    return placeHead === undefined ? lines : inset(lines);
  };
  const withMark = (list: readonly string[]) => list.join(idiom.rows.between ?? " ");
  const parted = idiom.rows.between?.trim();
  const quotedWord = (word: string) => forms.quoted(word, parted === "" ? undefined : parted);
  const rowByCells = (form: LineForm, table: TableDefinition, key: string, cells: Readonly<Record<string, Value>>) => {
    const row = withMark(key.split(" "));
    const moved = table.columns.filter(
      (c) => idiom.rows.sparse !== true || !equalValues(cells[c.name] ?? c.default, c.default, c.type),
    );
    // a row that says nothing would not be there
    return (moved.length === 0 ? table.columns.slice(0, 1) : moved).map((c) =>
      forms.say(form, {
        table: table.name,
        row,
        column: c.name,
        value: forms.quoted(formatValue(cells[c.name] ?? c.default, c.type, idiom.rowSpelling)),
      }),
    );
  };
  const marksActive = idiom.tellsActive && recital.activeSection === undefined && !forms.find("activate");
  return {
    byKeys,
    marksActive,
    enter: (scope, area, active) => {
      const { select, head } = placeOf(scope, area, active);
      const line = select ?? head;
      return line === undefined ? [] : [line];
    },
    set: grouped,
    leave: (scope, area) => (placeOf(scope, area).head === undefined ? [] : close),
    saysAcross: (kind) => values.listAcross(kind) !== undefined,
    across: (kind, key, all) => values.across(kind, key, all),
    clear: (table) => {
      const form = forms.find("clear", { table });
      if (form) return [forms.say(form, { table })];
      return idiom.rows.unopened === true ? [] : [heading(table, recital.freshWord ?? ""), ...close];
    },
    row: (name, key, cells) => {
      const table = tableOf(release, name);
      const form = forms.find("row", { table: name });
      const cell = form ? undefined : forms.find("cell", { table: name });
      if (cell) return rowByCells(cell, table, key, cells);
      if (!form)
        return block(
          heading(name, key),
          table.columns.map((c) => pair(c.name, forms.value(cells[c.name] ?? c.default, c.type))),
        );
      const words = [...key.split(" "), ...cellWords(table, cells, idiom)].map(quotedWord);
      return [forms.say(form, { table: name, cells: withMark(words) })];
    },
    activate: (active) => {
      const all = Object.entries(active).map(([kind, number]) => ({
        profile: kind,
        number: profileName(number, idiom),
      }));
      const own = all.map((said) => ({ said, form: forms.find("activate", said) }));
      if (own.some(({ form }) => form !== undefined))
        return own.flatMap(({ said, form }) => (form ? [forms.say(form, said)] : []));
      if (recital.activeSection !== undefined)
        return block(
          heading(recital.activeSection),
          all.map(({ profile, number }) => pair(profile, number)),
        );
      if (marksActive)
        return Object.entries(active).flatMap(([kind, number]) => {
          const line = selectLine(kind, number, true);
          return line === undefined ? block(profileHeading(kind, number, true), []) : [line];
        });
      return all.flatMap((said) => {
        const form = forms.find("select", said);
        return form ? [forms.say(form, said)] : [];
      });
    },
    facts: (about, facts) => factLines(forms, about, facts, { heading, pair }),
    end: (before) => endLines(forms, before, { heading, pair }),
  };
}
