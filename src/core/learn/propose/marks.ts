import { parseDocument, type Document } from "yaml";
import { FACT_FIELDS, FIELDS_OF, NEEDED, readDocument, type FieldName, type LineMeaning } from "@/core/catalog";
import { literal, type WrittenForm } from "@/core/learn/propose/sample";
import { ok, refuse, type Result } from "@/core/problem";

/** A stretch of a line that somebody marked, from character to character, and what it is. */
export interface Mark {
  readonly from: number;
  readonly to: number;
  readonly field: FieldName;
}

const REST: ReadonlySet<FieldName> = new Set<FieldName>(["value", "values", "cells"]);

/** What marked stretches make of their line, where nobody says what it means: the meaning whose fields they are. */
function meaningOfMarks(marks: readonly Mark[]): LineMeaning | undefined {
  const fields = new Set(marks.map(({ field }) => field));
  if (FACT_FIELDS.some((field) => fields.has(field)) || fields.has("name")) return "fact";
  const fits = (Object.keys(FIELDS_OF) as LineMeaning[]).filter(
    (means) =>
      fields.size > 0 &&
      [...fields].every((field) => FIELDS_OF[means].includes(field)) &&
      NEEDED[means].every((any) => any.some((field) => fields.has(field))),
  );
  return fits[0];
}

/**
 * The form of a line whose stretches were marked: they are its placeholders, the rest of it stands as it is. Refuses
 * stretches that overlap, that say nothing together, or that nothing parts.
 */
export function formOfMarks(text: string, marks: readonly Mark[], wanted?: LineMeaning): Result<WrittenForm> {
  const means = wanted ?? meaningOfMarks(marks);
  if (means === undefined)
    return refuse({
      code: "marks-open",
      message: "These stretches say nothing together",
      hint: "Mark name and value, or say what the line means",
    });
  const sorted = marks.toSorted((a, b) => a.from - b.from);
  const head = text.length - text.trimStart().length;
  let pattern = "";
  let at = head;
  for (const { from, to, field } of sorted) {
    if (from < at || to <= from || to > text.length)
      return refuse({ code: "marks-overlap", message: "Two stretches overlap", detail: text.slice(from, to) });
    pattern += literal(text.slice(at, from));
    const last = text.slice(to).trim() === "";
    const blanks = /\s/.test(text.slice(from, to));
    pattern += last && (REST.has(field) || blanks) ? `{${field}...}` : `{${field}}`;
    at = to;
  }
  pattern += literal(text.slice(at).trimEnd());
  if (sorted.length === 0 && (means === "comment" || means === "answer"))
    pattern = `${literal(/^\W+/.exec(text.trim())?.[0].trim() ?? text.trim().split(" ")[0] ?? "")}{text...}`;
  return ok({ means, pattern });
}

/**
 * A definition with another form before its others, its text otherwise as it was; refuses what does not hold together.
 * Where lines carry checks and the one that it was made of carries none, lines of its meaning need none.
 */
export function withForm(definition: string, form: WrittenForm, line = ""): Result<string> {
  const parsed = parseDocument(definition);
  const lines: unknown = parsed.get("lines");
  if (typeof lines !== "object" || lines === null || !("items" in lines) || !Array.isArray(lines.items))
    return refuse({ code: "idiom-lines", message: "The definition has no list of lines" });
  lines.items.unshift(parsed.createNode(inItsComment(form, parsed)));
  const mark: unknown = parsed.getIn(["text", "lineCheck", "mark"]);
  if (
    typeof mark === "string" &&
    !/^[0-9A-Fa-f]{2,10}$/.test(line.slice(line.lastIndexOf(mark) + mark.length).trim())
  ) {
    const bare: unknown = parsed.getIn(["text", "lineCheck", "without"]);
    const means =
      typeof bare === "object" && bare !== null && "toJSON" in bare ? (bare as { toJSON(): string[] }).toJSON() : [];
    parsed.setIn(["text", "lineCheck", "without"], [...new Set([...means, form.means])]);
  }
  return checked(parsed.toString({ lineWidth: 0 }));
}

/**
 * The form of a line that was a comment so far. Where statements are counted or checked without comments it stays one, for
 * what the closing line says would not hold with it.
 */
function inItsComment(form: WrittenForm, parsed: Document): WrittenForm {
  const end: unknown = parsed.getIn(["recital", "end"]);
  const of = JSON.stringify(end ?? {});
  if (!of.includes('"statements"') || form.means !== "fact") return form;
  const { lines = [] } = parsed.toJS() as { readonly lines?: readonly WrittenForm[] };
  const mark = lines
    .flatMap(({ means, pattern }) =>
      means === "comment" && pattern.endsWith("{text...}") ? [pattern.slice(0, -9)] : [],
    )
    .find((from) => from.trim() !== "" && form.pattern.startsWith(from));
  if (mark === undefined) return form;
  const from = mark.replaceAll("{{", "{").replaceAll("}}", "}").trim();
  const known: unknown = (parsed.toJS() as { readonly text?: { readonly comments?: readonly unknown[] } }).text
    ?.comments;
  parsed.setIn(["text", "comments"], [...(Array.isArray(known) ? (known as unknown[]) : []), { from }]);
  return { ...form, inComment: true, pattern: form.pattern.slice(mark.length).trimStart() };
}

/** A definition whose language says a fact of every text: the same in each. */
export function withGiven(definition: string, field: string, word: string): Result<string> {
  const parsed = parseDocument(definition);
  parsed.setIn(["given", field], word);
  return checked(parsed.toString({ lineWidth: 0 }));
}

function checked(text: string): Result<string> {
  const document = readDocument(text);
  return document.ok ? ok(text) : document;
}
