import { readDocument, resolveRelease, checkDocument, type Catalogue } from "@/core/catalog";
import {
  defaultConfiguration,
  idiomOf,
  reciteLines,
  readStatements,
  type ReadClause,
  type Statement,
} from "@/core/idiom";
import { learnRelease } from "@/core/learn/release";
import { ok, refuse, type Problem, type Result } from "@/core/problem";

/** What one line of a sample is understood as. */
export interface TriedLine {
  readonly line: number;
  readonly text: string;
  readonly kind: Statement["kind"];
  /** In words: “sets gyro.smoothing to 90”. */
  readonly says: string;
}

export interface TriedIdiom {
  readonly title: string;
  readonly lines: readonly TriedLine[];
  readonly understood: number;
  readonly leftOver: number;
  /** What a board that holds the sample would print, written by the definition; or why it cannot be written. */
  readonly readBack: readonly string[];
  readonly readBackProblem?: Problem;
}

function inWords(statement: Statement): string {
  switch (statement.kind) {
    case "fact":
      return `says that ${statement.name} is ${statement.value}`;
    case "end":
      return "closes the read-out";
    case "set":
      return `sets ${statement.key} to ${statement.value}`;
    case "member":
      return `${statement.on ? "sets" : "clears"} ${statement.member} of ${statement.key}`;
    case "cell":
      return `${statement.column} of row ${statement.row} of ${statement.table} is ${statement.value}`;
    case "row":
      return `a row of ${statement.table}: ${statement.keys.join(" ")}`;
    case "select":
      return `chooses ${statement.profile} ${statement.number}`;
    case "activate":
      return `${statement.profile} ${statement.number} is in use`;
    case "clear":
      return `${statement.table} begins anew`;
    case "section":
      return `goes to ${[statement.name, statement.number, statement.prefix].filter(Boolean).join(" ")}`;
    case "leave":
      return "goes back";
    case "record":
      return `${statement.values.length} values of ${statement.name} ${statement.number}`.trim();
    case "comment":
      return "a comment";
    case "answer":
      return "an answer";
    case "echo":
      return "what was typed";
    case "blank":
      return "";
    case "foreign":
      return statement.reason ?? "not understood";
  }
}

const triedLines = (clause: ReadClause): TriedLine[] =>
  clause.statements.map((statement) => ({
    line: clause.line,
    text: clause.text,
    kind: statement.kind,
    says: inWords(statement),
  }));

const EMPTY_CATALOGUE: Catalogue = {
  processors: new Map(),
  models: new Map(),
  idioms: new Map(),
  parts: new Map(),
  layouts: new Map(),
  releases: new Map(),
};
const MAX_SAMPLE = 400_000;

/**
 * Tries a definition on a sample of a console's output: what each line is understood as, what is left over, and what the
 * first read-back of it would look like. Refuses a definition that its published format does not accept.
 */
export function tryIdiom(definition: string, sample: string): Result<TriedIdiom> {
  if (sample.length > MAX_SAMPLE)
    return refuse({
      code: "sample-size",
      message: "The sample is too large",
      detail: `${sample.length} characters; ${MAX_SAMPLE} are the limit`,
      hint: "A few hundred lines tell as much",
    });
  const document = readDocument(definition);
  if (!document.ok) return document;
  if (document.value.document !== "idiom")
    return refuse({
      code: "document-kind",
      message: "This is not an idiom document",
      detail: document.value.document,
      hint: "Its first line is “document: idiom”",
    });
  let idiom;
  try {
    idiom = idiomOf(document.value);
  } catch (error) {
    return refuse({ code: "idiom-broken", message: "The definition does not hold together", detail: String(error) });
  }
  const lines = readStatements(sample, idiom).clauses.flatMap(triedLines);
  const counted = lines.filter((line) => !["blank", "comment", "answer", "echo"].includes(line.kind));
  const leftOver = counted.filter((line) => line.kind === "foreign").length;
  const common = { title: idiom.title, lines, understood: counted.length - leftOver, leftOver };
  const learnt = learnRelease(sample, idiom, EMPTY_CATALOGUE, { family: "Sample", version: "1" });
  if (!learnt.ok) return ok({ ...common, readBack: [], readBackProblem: learnt.problem });
  const release = checkAndResolve(learnt.value.document);
  if (!release.ok) return ok({ ...common, readBack: [], readBackProblem: release.problem });
  try {
    const configuration = defaultConfiguration(release.value, undefined, { family: "Sample", release: "1" });
    return ok({ ...common, readBack: reciteLines(configuration, release.value, idiom, "all") });
  } catch (error) {
    return ok({
      ...common,
      readBack: [],
      readBackProblem: {
        code: "idiom-mute",
        message: "The definition cannot write what it reads",
        detail: String(error),
      },
    });
  }
}

function checkAndResolve(body: Readonly<Record<string, unknown>>) {
  const checked = checkDocument(structuredClone(body));
  return checked.ok ? resolveRelease(checked.value) : checked;
}
