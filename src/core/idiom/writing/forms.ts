import { indexOf, type FieldName, type Firmware } from "@/core/catalog";
import { fillPattern } from "@/core/catalog/pattern";
import { formatValue, type Value, type ValueType } from "@/core/config";
import { dressClause } from "@/core/idiom/definition/clause-check";
import { NO_QUOTE, type Idiom, type LineForm, type LineMeaning } from "@/core/idiom/definition/definition";
import { marksOf, quoteWord } from "@/core/idiom/reading/text";
import { ProblemError } from "@/core/problem";

/** An idiom that only reads, or that was changed so that something cannot be said in it. */
export const mute = (idiom: Idiom, what: string) =>
  new ProblemError({
    code: "idiom-mute",
    message: `${idiom.title} cannot write what is wanted`,
    detail: `Its document has no pattern for ${what}`,
    hint: "Complete the document under Firmware, in the idiom workshop; jobs that have begun keep the version that they began with",
  });

export type Filled = Readonly<Partial<Record<FieldName, string | number>>>;

/** Whether a form can say these fields, and does not say others of them by itself. */
const canSay = (form: LineForm, fields: Filled): boolean =>
  Object.entries(form.fixed).every(([field, word]) => {
    const wanted = fields[field as FieldName];
    return wanted === undefined || String(wanted) === word;
  });

/** Writes lines of a document's forms. */
export class Forms {
  private readonly marks: readonly string[];

  constructor(readonly idiom: Idiom) {
    this.marks = marksOf(idiom);
  }

  /** The first form of a meaning that can say these fields, and that fits otherwise. */
  find(means: LineMeaning, fields: Filled = {}, fits: (form: LineForm) => boolean = () => true): LineForm | undefined {
    return this.idiom.lines.find((form) => form.means === means && !form.mute && canSay(form, fields) && fits(form));
  }

  /** The line of a form. */
  say(form: LineForm, fields: Filled): string {
    const all = form.at.title < 0 && form.at.unit < 0 ? fields : { ...fields, ...this.told(form, fields) };
    return dressClause(fillPattern(form.pattern, all), this.idiom, form.means);
  }

  /** What a definition says of a setting, without what would part the line there. */
  private told({ pattern }: LineForm, { title = "", unit = "" }: Filled): Filled {
    const marks = [...this.marks, ...pattern.parts.flatMap(({ literal }) => (literal ? [literal.mark] : []))];
    const bare = (word: string | number) =>
      marks.reduce((text, mark) => (mark === "" ? text : text.replaceAll(mark, " ")), String(word)).trim();
    return { title: bare(title), unit: bare(unit) };
  }

  need(means: LineMeaning, fields: Filled, fits?: (form: LineForm) => boolean): string {
    const form = this.find(means, fields, fits);
    if (!form) throw mute(this.idiom, `a line of the kind “${means}”`);
    return this.say(form, fields);
  }

  /** A word in quotes where it needs them; `between`: what parts words there, where blanks do not. */
  quoted(word: string, between?: string): string {
    const { quote, escape } = this.idiom;
    if (between === undefined) return quoteWord(word, quote, escape, this.marks);
    // blanks inside a word part nothing there; at its ends they would be lost
    const bare = word.trim() === word ? word.replaceAll(" ", "") : word;
    if (quote === NO_QUOTE) return word;
    return bare !== "" && quoteWord(bare, quote, escape, [...this.marks, between]) === bare ? word : this.always(word);
  }

  /** A value as text: in quotes where it needs them, or where the language always writes them. Numbers stand as they are. */
  value(value: Value, type: ValueType, between?: string): string {
    const { spelling, quoted = "needed" } = this.idiom;
    const text = formatValue(value, type, spelling);
    if (type.kind === "number" && quoted !== "all") return text;
    // flags in brackets, or with blanks between them, stand as they are: in a list of values they need quotes all the same
    if (type.kind === "flags" && spelling.list && between === undefined) return text;
    if (quoted === "all" || (quoted === "texts" && type.kind === "text")) return this.always(text);
    return this.quoted(text, between);
  }

  private always(text: string): string {
    const { quote, escape = "\\" } = this.idiom;
    const inner = escape === quote ? text : text.replaceAll(escape, escape + escape);
    return quote + inner.replaceAll(quote, escape + quote) + quote;
  }
}

export function settingOf(release: Firmware, key: string) {
  const setting = indexOf(release).settings.get(key);
  if (!setting) throw new Error(`${release.id} has no setting ${key}`);
  return setting;
}

export function tableOf(release: Firmware, name: string) {
  const table = indexOf(release).tables.get(name);
  if (!table) throw new Error(`${release.id} has no table ${name}`);
  return table;
}
