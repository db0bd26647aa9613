import type { FieldName } from "@/core/catalog";
import { NO_QUOTE, ownName, type Idiom, type LineForm } from "@/core/idiom/definition/definition";
import { isCount, profileNumber, type InlinePlace, type Statement } from "@/core/idiom/reading/statement";
import { splitWords } from "@/core/idiom/reading/text";

/** A value as it stands after its key: one word, or with units the rest of the line. */
function valueText(text: string, idiom: Idiom): string | undefined {
  // most values are one bare word
  if (text === "") return idiom.spelling.empty === "" ? text : undefined;
  if (!text.includes(" ") && !text.includes(idiom.quote)) return text;
  // where nothing stands in quotes a value is all that the line has left
  if (idiom.quote === NO_QUOTE) return text.trim();
  if (isBareList(text, idiom)) return text.trim();
  const words = splitWords(text, idiom.quote, idiom.escape);
  if (!words) return undefined;
  if (words.length === 1) return words[0];
  return idiom.spelling.unit === undefined || text.includes(idiom.quote) ? undefined : text.trim();
}

/** Flags that stand as they are: between their brackets, or words that nothing but the mark parts. */
function isBareList(text: string, { quote, spelling: { list, listMark } }: Idiom): boolean {
  if (!list) return false;
  const whole = text.trim();
  if (list.open !== "") return whole.startsWith(list.open) && whole.endsWith(list.close);
  const parts = whole.split(listMark);
  const bare = (part: string) =>
    list.quote === ""
      ? !/[ \t]/.test(part) && !part.includes(quote)
      : part.length >= 2 && part.startsWith(list.quote) && part.endsWith(list.quote);
  return parts.length > 1 && parts.every((part) => part !== "" && bare(part));
}

/** A fact's word without the quotes that it may stand in. */
function unquoted(text: string | undefined, { quote, escape }: Idiom): string | undefined {
  if (!text?.startsWith(quote)) return text;
  const words = splitWords(text, quote, escape);
  return words?.length === 1 ? words[0] : text;
}

/** Words that a mark parts, outside of quotes; blanks around them do not count. Undefined when a quote is left open. */
function splitList(text: string, written: string, { quote, escape = "\\" }: Idiom): string[] | undefined {
  const mark = written.trim();
  // where blanks are the mark, so many of them are one
  if (mark === "") return splitWords(text, quote, escape);
  const words: string[] = [];
  let word = "";
  let quoted = false;
  for (let i = 0; i < text.length;) {
    const c = text.charAt(i);
    if (quoted && c === escape && i + 1 < text.length && (escape !== quote || text.charAt(i + 1) === quote)) {
      word += text.charAt(i + 1);
      i += 2;
    } else if (c === quote) {
      quoted = !quoted;
      i++;
    } else if (!quoted && text.startsWith(mark, i)) {
      words.push(word.trim());
      word = "";
      i += mark.length;
    } else {
      word += c;
      i++;
    }
  }
  words.push(word.trim());
  return quoted ? undefined : words;
}

/** What a line's fields say: what stands in them, else what its form says by itself. */
type Said = (field: FieldName) => string | undefined;

const saidBy =
  ({ at, fixed }: LineForm, found: readonly string[]): Said =>
  (field) =>
    at[field] >= 0 ? found[at[field]] : fixed[field];

/** The profile that a line names for its own value. */
function ownPlace(said: Said, idiom: Idiom): InlinePlace | undefined | "odd" {
  const text = said("number");
  if (text === undefined) return undefined;
  const number = profileNumber(text, idiom);
  const profile = said("profile");
  if (number === undefined) return "odd";
  return profile === undefined ? { number } : { number, profile };
}

function buildPlainSet({ at }: LineForm, found: readonly string[], idiom: Idiom): Statement[] | undefined {
  const value = valueText(found[at.value] ?? "", idiom);
  return value === undefined ? undefined : [{ kind: "set", key: found[at.key] ?? "", value }];
}

function buildSet(form: LineForm, said: Said, idiom: Idiom): Statement[] | undefined {
  const place = form.at.number < 0 && form.fixed.number === undefined ? undefined : ownPlace(said, idiom);
  if (place === "odd") return undefined;
  const own = place ? { place } : {};
  const key = said("key") ?? "";
  if (form.list) {
    const values = splitList(said("values") ?? "", form.list.mark, idiom);
    if ("pairs" in form.list) return values && buildPairs(values, form.list.pairs, own);
    if (!values || values.length < 2) return undefined;
    if ("over" in form.list) {
      const profile = said("profile");
      const kind = profile === undefined ? {} : { profile };
      return values.map((value, i) => ({ kind: "set", key, value, place: { number: i + 1, ...kind } }));
    }
    const { join, from = 1 } = form.list;
    return values.map((value, i) => ({ kind: "set", key: `${key}${join}${i + from}`, value, ...own }));
  }
  const value = valueText(said("value") ?? "", idiom);
  if (value === undefined) return undefined;
  return [place ? { kind: "set", key, value, place } : { kind: "set", key, value }];
}

/** Several names with their values in one line. */
function buildPairs(
  words: readonly string[],
  mark: string,
  own: { readonly place?: InlinePlace },
): Statement[] | undefined {
  const sets = words.map((word): Statement | undefined => {
    const at = word.indexOf(mark);
    return at > 0 ? { kind: "set", key: word.slice(0, at), value: word.slice(at + mark.length), ...own } : undefined;
  });
  return sets.includes(undefined) || sets.length === 0 ? undefined : sets.filter((each) => each !== undefined);
}

function buildFacts(form: LineForm, said: Said): Statement[] | undefined {
  const [name, value] = [said("name"), said("value")];
  if (name !== undefined && value !== undefined) return [{ kind: "fact", name, value }];
  return form.facts.map((field) => ({ kind: "fact", name: ownName(field), value: said(field) ?? "" }));
}

/** What a line of a form means, or undefined where its fields cannot be that. */
export function build(form: LineForm, found: readonly string[], idiom: Idiom): Statement[] | undefined {
  if (form.plain) return buildPlainSet(form, found, idiom);
  const said = saidBy(form, found);
  switch (form.means) {
    case "set":
      return buildSet(form, said, idiom);
    case "raise":
    case "lower": {
      const place = ownPlace(said, idiom);
      const [key = "", member = ""] = [said("key"), said("member")];
      return place === "odd"
        ? undefined
        : [{ kind: "member", key, member, on: form.means === "raise", ...(place ? { place } : {}) }];
    }
    case "fact":
      return buildFacts(form, (field) => unquoted(said(field), idiom));
    case "end": {
      const [lines, check] = [said("lines"), said("check")];
      if (lines !== undefined && !isCount(lines)) return undefined;
      return [
        {
          kind: "end",
          ...(lines === undefined ? {} : { lines: Number(lines) }),
          ...(check === undefined ? {} : { check: check.toLowerCase() }),
        },
      ];
    }
    case "row": {
      const row = buildRow(said("table") ?? "", said("cells") ?? "", idiom);
      return row && [row];
    }
    case "cell": {
      const [table = "", row = "", column = ""] = [said("table"), said("row"), said("column")];
      const value = valueText(said("value") ?? "", idiom);
      return value === undefined ? undefined : [{ kind: "cell", table, row: row.trim(), column, value }];
    }
    case "select":
    case "activate": {
      const text = said("number") ?? "";
      const number = profileNumber(text, idiom);
      const profile = said("profile") ?? "";
      if (number === undefined) return undefined;
      const active: Statement = { kind: "activate", profile, number, value: text };
      if (form.means === "activate") return [active];
      return form.active ? [{ kind: "select", profile, number }, active] : [{ kind: "select", profile, number }];
    }
    case "clear":
      return [{ kind: "clear", table: said("table") ?? "" }];
    case "section": {
      const [name, text] = [said("section") ?? "", (said("number") ?? "").trim()];
      const prefix = said("prefix");
      const section: Statement = { kind: "section", name, number: text, ...(prefix === undefined ? {} : { prefix }) };
      const number = form.active ? profileNumber(text, idiom) : undefined;
      return number === undefined ? [section] : [section, { kind: "activate", profile: name, number, value: text }];
    }
    case "leave":
      return [{ kind: "leave" }];
    case "comment":
      return [{ kind: "comment" }];
    case "answer":
      return [{ kind: "answer" }];
  }
}

function buildRow(table: string, text: string, idiom: Idiom): Statement | undefined {
  const { between, cells: how, mask } = idiom.rows;
  const words = between === undefined ? splitWords(text, idiom.quote, idiom.escape) : splitList(text, between, idiom);
  if (!words) return undefined;
  if (how === "placed" || mask === true) return { kind: "row", table, keys: words, cells: {}, placed: true };
  const mark = idiom.recital.cellMark ?? "=";
  const firstCell = words.findIndex((word) => word.includes(mark));
  const keys = firstCell < 0 ? words : words.slice(0, firstCell);
  const cells: Record<string, string> = {};
  for (const word of firstCell < 0 ? [] : words.slice(firstCell)) {
    const at = word.indexOf(mark);
    if (at <= 0) return undefined;
    cells[word.slice(0, at)] = word.slice(at + mark.length);
  }
  return { kind: "row", table, keys, cells };
}
