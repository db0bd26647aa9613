import { stringify } from "yaml";
import { readDocument } from "@/core/catalog";
import { idiomOf, readStatements, unwritable, type Idiom } from "@/core/idiom";
import { findEnd, findLineChecks } from "@/core/learn/propose/checks";
import { findColumns } from "@/core/learn/propose/columns";
import { findFields, findPairs } from "@/core/learn/propose/fields";
import { findHeadings } from "@/core/learn/propose/headings";
import { findRowsAmongValues, findStatements } from "@/core/learn/propose/places";
import { proposeRecords } from "@/core/learn/propose/records";
import { draftOf, openLines, type Draft, type Found } from "@/core/learn/propose/sample";
import { findSpelling } from "@/core/learn/propose/spelling";
import {
  findComments,
  findEnds,
  findFacts,
  findHeaderFacts,
  findOrnaments,
  findPrompt,
  findSectionFacts,
  findTopFacts,
} from "@/core/learn/propose/texts";
import { findValues, valueShape } from "@/core/learn/propose/values";
import { ok, refuse, type Result } from "@/core/problem";

export { formOfMarks, withForm, withGiven, type Mark } from "@/core/learn/propose/marks";
export type { Found } from "@/core/learn/propose/sample";

/** What the product cannot tell, asked on the sample itself: the lines that it is about, and what they may be. */
export interface Question {
  readonly id: string;
  readonly ask: string;
  readonly lines: readonly { readonly no: number; readonly text: string }[];
  /** Meanings that can be chosen with one word; without them a stretch is marked. */
  readonly choices: readonly string[];
}

/** A language that was made from a sample alone. */
export interface ProposedIdiom {
  /** The document, as text. */
  readonly definition: string;
  readonly found: readonly Found[];
  readonly questions: readonly Question[];
  /** Lines that say something, and how many of them are understood. */
  readonly meaningful: number;
  readonly understood: number;
  /** What the language can be read in and not written. */
  readonly unwritable: readonly string[];
}

const LEAST_LINES = 4;
const MOST_LINES = 20_000;

/** Proposes the language of a sample: what its lines mean, how sure that is, and what has to be asked. */
export function proposeIdiom(
  sample: string,
  about: { readonly id: string; readonly title: string },
): Result<ProposedIdiom> {
  const draft = draftOf(sample);
  const said = openLines(draft).length;
  if (said < LEAST_LINES || draft.lines.length > MOST_LINES)
    return refuse({
      code: "sample-lines",
      message: said < LEAST_LINES ? "The sample is too short to tell a language by" : "The sample is too long",
      detail: `${draft.lines.length} lines`,
      hint: `A whole read-out of a console is best; ${LEAST_LINES} to ${MOST_LINES} lines`,
    });
  if (!proposeRecords(draft)) proposeLines(draft);
  return finished(draft, about);
}

function proposeLines(draft: Draft): void {
  findPrompt(draft);
  // a check may stand before the mark that ends a statement, or behind it
  findEnds(draft);
  findLineChecks(draft);
  if (draft.text.ends === undefined && findEnds(draft) && draft.text.lineCheck !== undefined)
    draft.text.lineCheck = { ...(draft.text.lineCheck as object), of: "line" };
  findComments(draft);
  findEnd(draft);
  const paired = findPairs(draft);
  const fields = paired ? undefined : findFields(draft);
  // their forms are written down already
  const columns = paired ?? (fields ? undefined : findColumns(draft));
  const shape = columns ?? fields ?? valueShape(draft);
  if (shape && !columns) findValues(draft, shape);
  findHeaderFacts(draft);
  findHeadings(draft);
  if (shape && !columns) findTopFacts(draft, shape.joint);
  if (shape && !columns) findRowsAmongValues(draft, shape);
  findStatements(draft);
  findFacts(draft);
  findSectionFacts(draft);
  findOrnaments(draft);
  findSpelling(draft, shape);
  if (draft.text.lineCheck !== undefined) bareMeanings(draft);
}

/** Meanings whose lines carry no check, though others do. */
function bareMeanings(draft: Draft): void {
  const bare = draft.lines.filter(
    ({ raw, text, means }) => means !== undefined && means !== "comment" && raw.trim() === text && text !== "",
  );
  const means = [
    ...new Set(bare.flatMap((line) => (line.means === undefined || line.means === "member" ? [] : [line.means]))),
  ];
  if (means.length > 0) draft.text.lineCheck = { ...(draft.text.lineCheck as object), without: means };
}

const documentOf = ({ text, spelling, forms, recital, rows, facts, given, top }: Draft, about: object) => ({
  document: "idiom",
  ...about,
  ...(Object.keys(text).length > 0 ? { text } : {}),
  spelling: { decimalMark: ".", on: "on", off: "off", listMark: "+", empty: "none", ...spelling },
  quote: '"',
  ...top,
  facts,
  ...(Object.keys(given).length > 0 ? { given } : {}),
  lines: forms,
  ...(Object.keys(rows).length > 0 ? { rows } : {}),
  recital,
});

function finished(draft: Draft, about: { readonly id: string; readonly title: string }): Result<ProposedIdiom> {
  // a table begins in a line of its own, which a row's pattern may fit as well
  draft.forms.sort((a, b) => Number(b.means === "clear") - Number(a.means === "clear"));
  if (draft.last) draft.forms.push(draft.last);
  if (draft.forms.length === 0) draft.forms.push({ means: "comment", pattern: "{text...}" });
  const definition = stringify(documentOf(draft, about), { lineWidth: 0 });
  const sample = draft.lines.map(({ raw }) => raw).join("\n");
  const examined = examine(definition, sample);
  return examined.ok ? ok({ definition, found: draft.found, ...examined.value }) : examined;
}

/** What a definition makes of a sample, and what has to be asked of it still. */
export type Examined = Pick<ProposedIdiom, "questions" | "meaningful" | "understood" | "unwritable">;

export function examine(definition: string, sample: string): Result<Examined> {
  const document = readDocument(definition);
  if (!document.ok) return document;
  const idiom = idiomOf(document.value);
  const { meaningful, understood, left } = heldAgainst(sample, idiom);
  return ok({ questions: questionsOf(sample, idiom, left), meaningful, understood, unwritable: unwritable(idiom) });
}

const SILENT: ReadonlySet<string> = new Set(["blank", "comment", "answer", "echo"]);

/** What of a sample a language understands, and the lines that are left over. */
export function heldAgainst(sample: string, idiom: Idiom) {
  const left: { no: number; text: string }[] = [];
  let [meaningful, understood] = [0, 0];
  for (const { line, text, statements } of readStatements(sample, idiom).clauses)
    for (const { kind } of statements) {
      if (SILENT.has(kind)) continue;
      meaningful++;
      if (kind === "foreign") left.push({ no: line, text });
      else understood++;
    }
  return { meaningful, understood, left };
}

const MEANINGS = ["fact", "set", "row", "select", "section", "leave", "activate", "clear", "end", "comment"] as const;
const MOST_QUESTIONS = 12;

/** What is to be asked, the most lines first. */
function questionsOf(sample: string, idiom: Idiom, left: readonly { no: number; text: string }[]): Question[] {
  const questions: Question[] = [];
  const groups = new Map<string, { no: number; text: string }[]>();
  for (const line of left) {
    const shape = line.text.trim().replace(/\d+/g, "0").split(/\s+/)[0] ?? "";
    const group = groups.get(shape);
    if (group) group.push(line);
    else groups.set(shape, [line]);
  }
  for (const [shape, lines] of [...groups].toSorted((a, b) => b[1].length - a[1].length))
    questions.push({
      id: `line ${shape}`,
      ask: lines.length === 1 ? "What does this line say?" : `What do these ${lines.length} lines say?`,
      lines: lines.slice(0, 5),
      choices: MEANINGS,
    });
  const facts = new Set([...idiom.factFields.values(), ...Object.keys(idiom.given ?? {})]);
  const heads = sample
    .split(/\r?\n/)
    .map((text, i) => ({ no: i + 1, text }))
    .filter(({ text }) => text.trim() !== "")
    .slice(0, 12);
  for (const [field, what] of [
    ["family", "which firmware this is"],
    ["release", "which release of it"],
    ["target", "which target it was built for"],
  ] as const)
    if (!facts.has(field))
      questions.push({
        id: field,
        ask: `Which words say ${what}? Mark them, or say that nothing does.`,
        lines: heads,
        choices: [],
      });
  return questions.slice(0, MOST_QUESTIONS);
}
