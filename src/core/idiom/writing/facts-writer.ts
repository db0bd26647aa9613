import { FACT_FIELDS, type FieldName } from "@/core/catalog";
import { fillPattern } from "@/core/catalog/pattern";
import { checkDigits, checkForm } from "@/core/idiom/definition/check";
import { coveredText } from "@/core/idiom/reading/completeness";
import { ownName, says, type Idiom, type LineForm } from "@/core/idiom/definition/definition";
import type { Filled, Forms } from "@/core/idiom/writing/forms";
import { quoteWord, scanText } from "@/core/idiom/reading/text";

interface Pairs {
  readonly heading: (section: string) => string;
  readonly pair: (key: string, value: string) => string;
}

/** The facts that a form says, all of them, or undefined where one of them is not known. */
function factsSaid(form: LineForm, known: ReadonlyMap<string, string>): Filled | undefined {
  const fields: Partial<Record<FieldName, string>> = {};
  for (const field of FACT_FIELDS) {
    if (!says(form, field)) continue;
    const value = known.get(field);
    if (value === undefined || (form.fixed[field] !== undefined && form.fixed[field] !== value)) return undefined;
    fields[field] = value;
  }
  return Object.keys(fields).length === 0 ? undefined : fields;
}

/** What a read-out says of itself. */
export function factLines(
  forms: Forms,
  about: "identity" | "senses",
  facts: readonly (readonly [name: string, value: string])[],
  { heading, pair }: Pairs,
): string[] {
  const { idiom } = forms;
  const plain = [...idiom.lines, ...idiom.linesInComments].find((form) => form.means === "fact" && says(form, "name"));
  const comment = idiom.text.comments?.[0];
  const blank = comment?.from.endsWith(" ") === true ? "" : " ";
  // a comment is neither ended nor checked as statements are
  const line = (form: LineForm, fields: Filled) =>
    idiom.linesInComments.includes(form) && comment
      ? `${comment.from}${blank}${fillPattern(form.pattern, fields)}${comment.to === undefined ? "" : ` ${comment.to}`}`
      : forms.say(form, fields);
  const known = new Map(
    facts.map(
      ([name, value]) => [(about === "identity" ? idiom.factFields.get(name) : undefined) ?? name, value] as const,
    ),
  );
  const said = new Set<string>();
  const direct = [...idiom.lines, ...idiom.linesInComments].flatMap((form) => {
    const fields = form.means === "fact" && !form.mute && about === "identity" ? factsSaid(form, known) : undefined;
    if (!fields || Object.keys(fields).every((field) => said.has(field))) return [];
    for (const field of Object.keys(fields)) said.add(field);
    return [line(form, fields)];
  });
  const rest = facts.filter(
    ([name]) =>
      !said.has(about === "identity" ? (idiom.factFields.get(name) ?? name) : name) && !name.startsWith(ownName("")),
  );
  if (plain) return [...direct, ...rest.map(([name, value]) => line(plain, { name, value }))];
  const section = about === "identity" ? idiom.recital.factsSection : idiom.recital.sensesSection;
  if (section === undefined) return direct;
  return [
    ...direct,
    heading(section),
    ...rest.map(([name, value]) => pair(name, quoteWord(value, idiom.quote, idiom.escape))),
  ];
}

/** What closes a read-out; empty where nothing does. */
export function endLines(forms: Forms, before: readonly string[], { heading, pair }: Pairs): string[] {
  const { idiom } = forms;
  const { end, endSection } = idiom.recital;
  if (endSection) {
    const lines = [heading(endSection.name), pair(endSection.lines, String(before.length))];
    const check = checkForm("crc32");
    return endSection.check === undefined
      ? lines
      : [...lines, pair(endSection.check, checkDigits(coveredText(before, idiom), check))];
  }
  if (!end) return [];
  const statements = end.over === "statements" || end.counts === "statements" ? statementTexts(before, idiom) : [];
  const counted = (end.counts === "statements" ? statements : before).length + (end.itself === true ? 1 : 0);
  const over = coveredText(end.over === "statements" ? statements : before, idiom);
  const check = end.check === undefined ? "" : checkDigits(over, end.check, idiom.text.encoding);
  return [forms.need("end", { lines: counted, check })];
}

/** What lines say, statement by statement, as it is counted and checked. */
const statementTexts = (lines: readonly string[], idiom: Idiom): string[] =>
  scanText(lines.join("\n"), idiom).clauses.flatMap(({ text, comment }) =>
    comment || text.trim() === "" || idiom.silent.has(text.trim()) ? [] : [text],
  );
