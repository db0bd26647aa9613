import type { Release } from "@/core/catalog";
import { fillPattern } from "@/core/catalog/pattern";
import { profileOf } from "@/core/config";
import { says, type Idiom, type LineForm } from "@/core/idiom/definition";
import { endLines, factLines } from "@/core/idiom/facts-writer";
import { Forms, tableOf } from "@/core/idiom/forms";
import type { LineWriter } from "@/core/idiom/line-writer";
import { cellWords } from "@/core/idiom/rows";
import { profileName } from "@/core/idiom/statement";
import { ValueLines } from "@/core/idiom/value-lines";

/** A line that says something to people only; undefined where the language has no comments. */
export function commentLine(text: string, idiom: Idiom): string | undefined {
  const form = idiom.lines.find(({ means }) => means === "comment");
  if (form) return fillPattern(form.pattern, { text: ` ${text}` });
  const [mark] = idiom.text.comments ?? [];
  return mark && `${mark.from} ${text}${mark.to === undefined ? "" : ` ${mark.to}`}`;
}

/** Writes lines by the forms of the document: whatever it has a form for is said by that, the rest by headings and pairs. */
export function formWriter(release: Release, idiom: Idiom): LineWriter {
  const forms = new Forms(idiom);
  const values = new ValueLines(release, forms);
  const { recital } = idiom;
  const isSection = (numbered: boolean) => (form: LineForm) =>
    says(form, "number") === numbered && form.active !== true;
  const heading = (section: string, number = "") =>
    forms.need("section", { section, ...(number === "" ? {} : { number }) }, isSection(number !== ""));
  const pair = (key: string, value: string) =>
    forms.need("set", { key, value }, (form) => form.list === undefined && !says(form, "number"));
  const place = (kind: string, number: number, isActive: boolean): string[] => {
    const said = { profile: kind, number: profileName(number, idiom) };
    const selecting = (marked: boolean) => forms.find("select", said, (form) => (form.active === true) === marked);
    const select = (isActive ? selecting(true) : undefined) ?? selecting(false);
    if (select) return [forms.say(select, said)];
    if (values.saysPlace(kind)) return [];
    const section = { section: kind, number: said.number };
    const marked = isActive && forms.find("section", section, (form) => form.active === true && says(form, "number"));
    return [marked ? forms.say(marked, section) : heading(kind, said.number)];
  };
  const system = (area: string): string[] => {
    if (recital.systemSection !== undefined) return [heading(recital.systemSection, area)];
    const form = values.saysArea ? undefined : forms.find("section", { section: area }, isSection(false));
    return form ? [forms.say(form, { section: area })] : [];
  };
  const withMark = (list: readonly string[]) => list.join(idiom.rows.between ?? " ");
  return {
    enter: (scope, area, active) => {
      const profile = profileOf(scope);
      return profile ? place(profile.kind, profile.number, active?.[profile.kind] === profile.number) : system(area);
    },
    set: (scope, area, written) => values.lines(scope, area, written),
    clear: (table) => {
      const form = forms.find("clear", { table });
      if (form) return [forms.say(form, { table })];
      return idiom.rows.unopened === true ? [] : [heading(table, recital.freshWord ?? "")];
    },
    row: (name, key, cells) => {
      const table = tableOf(release, name);
      const form = forms.find("row", { table: name });
      if (!form)
        return [
          heading(name, key),
          ...table.columns.map((c) => pair(c.name, forms.value(cells[c.name] ?? c.default, c.type))),
        ];
      const words = [...key.split(" "), ...cellWords(table, cells, idiom)].map((word) =>
        forms.quoted(word, idiom.rows.between?.trim()),
      );
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
        return [heading(recital.activeSection), ...all.map(({ profile, number }) => pair(profile, number))];
      if (idiom.tellsActive) return [];
      return all.flatMap((said) => {
        const form = forms.find("select", said);
        return form ? [forms.say(form, said)] : [];
      });
    },
    facts: (about, facts) => factLines(forms, about, facts, { heading, pair }),
    end: (before) => endLines(forms, before, { heading, pair }),
  };
}
