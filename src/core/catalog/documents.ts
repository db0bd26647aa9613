import Ajv, { type ErrorObject, type ValidateFunction } from "ajv/dist/2020";
import { isMap, isNode, isScalar, isSeq, LineCounter, parseDocument, visit, type Document } from "yaml";
import boardModelSchema from "@docs/formats/board-model.schema.json";
import idiomSchema from "@docs/formats/idiom.schema.json";
import layoutSchema from "@docs/formats/layout.schema.json";
import processorSchema from "@docs/formats/processor.schema.json";
import partReleaseSchema from "@docs/formats/part-release.schema.json";
import releaseSchema from "@docs/formats/release.schema.json";
import { idiomFaults } from "@/core/catalog/idiom-faults";
import { RULE_KINDS, rulesSchema } from "@/core/catalog/rules";
import { ok, refuse, type Problem, type Result, type Where } from "@/core/problem";

export const DOCUMENT_KINDS = ["processor", "board-model", "idiom", "release", "part-release", "layout"] as const;
export type DocumentKind = (typeof DOCUMENT_KINDS)[number];

/** A catalogue document that its published schema has accepted. */
export interface CatalogueDocument {
  readonly document: DocumentKind;
  readonly id: string;
  readonly [field: string]: unknown;
}

const MAX_BYTES = 2_000_000;
const schemas: Record<DocumentKind, object> = {
  processor: processorSchema,
  "board-model": boardModelSchema,
  idiom: idiomSchema,
  release: releaseSchema,
  "part-release": partReleaseSchema,
  layout: layoutSchema,
};

let files: ReadonlyMap<string, object> | undefined;
/** A published schema by the name of its file. */
export function publishedSchema(file: string): object {
  files ??= new Map([
    ...DOCUMENT_KINDS.map((kind) => [`${kind}.schema.json`, schemas[kind]] as const),
    ["rule.schema.json", rulesSchema()],
  ]);
  const schema = files.get(file);
  if (!schema) throw new Error(`no schema is published as ${file}`);
  return schema;
}

let ajv: Ajv | undefined;

/** Made when it is first asked for: most who import this folder read no document. */
function validatorOf(kind: DocumentKind): ValidateFunction {
  // all together: what settings, rules and the like look like is published once, with the release
  ajv ??= new Ajv({
    allErrors: false,
    strict: false,
    // YAML knows .nan and .inf, which are no numbers here (JSON Schema, 6.1.1 of its validation part)
    strictNumbers: true,
    discriminator: true,
    schemas: [...Object.values(schemas), rulesSchema()],
  });
  const validate = ajv.getSchema(`${kind}.schema.json`);
  if (!validate) throw new Error(`no schema is published for ${kind}`);
  return validate;
}

function sentence(error: ErrorObject): string {
  const { additionalProperty, allowedValue, allowedValues, tag, tagValue } = error.params as Record<string, unknown>;
  if (error.keyword === "discriminator")
    return `${String(tag)}: there is no ${tagValue === undefined ? "kind without a name" : JSON.stringify(tagValue)}; known are ${RULE_KINDS.map(({ rule }) => rule).join(", ")}`;
  const named = additionalProperty ?? allowedValue ?? allowedValues;
  const text = error.message ?? "does not fit the schema";
  return named === undefined ? text : `${text}: ${JSON.stringify(named)}`;
}

/** Checks a plain object against the published schema of its kind (JSON Schema 2020-12, docs/formats). */
export function checkDocument(body: unknown): Result<CatalogueDocument> {
  const kind = typeof body === "object" && body !== null ? (body as { document?: unknown }).document : undefined;
  if (!DOCUMENT_KINDS.includes(kind as DocumentKind))
    return refuse({
      code: "document-kind",
      message: "This is not a catalogue document",
      detail: `Its field "document" is ${kind === undefined ? "missing" : JSON.stringify(kind)}`,
      hint: `Known kinds: ${DOCUMENT_KINDS.join(", ")}`,
    });
  const validate = validatorOf(kind as DocumentKind);
  if (validate(body)) return checkWords(body as CatalogueDocument);
  const error = validate.errors?.[0];
  return refuse({
    code: "document-schema",
    message: `The ${String(kind)} document does not fit its format`,
    detail: error ? sentence(error) : "unknown",
    hint: `The format is published in docs/formats/${String(kind)}.schema.json`,
    where: { path: error?.instancePath ?? "" },
  });
}

/** What a schema cannot say of a document's words. */
function checkWords(body: CatalogueDocument): Result<CatalogueDocument> {
  const [fault, ...more] = body.document === "idiom" ? idiomFaults(body) : [];
  if (!fault) return ok(body);
  return refuse({
    code: "document-words",
    message: fault.message,
    detail:
      more.length === 0
        ? `In ${body.id}`
        : `In ${body.id}; and ${more.length} more, the next: ${more[0]?.message ?? ""}`,
    hint: "docs/formats/idioms.md tells every placeholder, with examples",
    where: { path: `/${fault.path.join("/")}` },
  });
}

/** Mappings, lists and values together; the largest release of the demo has a tenth. */
const MAX_NODES = 400_000;

/** What a walk over a document's tree finds first: a key that stands twice in one mapping, too many nodes. */
function faultIn(parsed: Document): { message: string; at: number } | undefined {
  let nodes = 0;
  let fault: { message: string; at: number } | undefined;
  const at = (node: unknown) => (isNode(node) ? (node.range?.[0] ?? 0) : 0);
  visit(parsed, (_, node) => {
    if (++nodes > MAX_NODES) fault = { message: `More than ${MAX_NODES} values and keys`, at: at(node) };
    if (fault) return visit.BREAK;
    if (!isMap(node)) return undefined;
    const keys = new Set<unknown>();
    for (const { key } of node.items) {
      const name: unknown = isScalar(key) ? key.value : key;
      if (keys.has(name)) fault = { message: `Map keys must be unique: ${JSON.stringify(name)}`, at: at(key) };
      keys.add(name);
    }
    return fault ? visit.BREAK : undefined;
  });
  return fault;
}

const malformed = (detail: string, where?: Where): Result<never> =>
  refuse({
    code: "document-syntax",
    message: "The document is not well-formed YAML",
    detail,
    ...(where ? { where } : {}),
  });

/**
 * Reads a document from YAML 1.2 text (and so from JSON). Refuses more than 2 MB, too many or too deep nodes, anchors bombs
 * and anything malformed; in time that grows with the text.
 */
export function readDocument(text: string): Result<CatalogueDocument> {
  try {
    return readTree(text);
  } catch (cause) {
    // what nests too deep ends the parser's own calls into itself
    if (cause instanceof RangeError) return malformed("It nests too deep");
    throw cause;
  }
}

/** A step of a path in a list: by its place, or by the key or name of an entry. */
function stepIn(node: unknown, step: string): unknown {
  if (isMap(node)) return node.get(step, true);
  if (!isSeq(node)) return undefined;
  if (/^\d+$/.test(step)) return node.get(Number(step), true);
  return node.items.find((item) => isMap(item) && (item.get("key") === step || item.get("name") === step));
}

/** A problem with the line and column of the path that it names, or of the nearest part of it that is there. */
function located(problem: Problem, parsed: Document, place: (offset: number) => Where | undefined): Problem {
  let node: unknown = parsed.contents;
  let start = isNode(node) ? node.range?.[0] : undefined;
  for (const step of (problem.where?.path ?? "").split("/").filter(Boolean)) {
    node = stepIn(node, step);
    if (!isNode(node)) break;
    start = node.range?.[0] ?? start;
  }
  return start === undefined ? problem : { ...problem, where: { ...problem.where, ...place(start) } };
}

/** The same for a problem that was found later, when the document was put beside the others. */
export function locatedIn(text: string, problem: Problem): Problem {
  if (problem.where?.path === undefined || problem.where.line !== undefined) return problem;
  const lineCounter = new LineCounter();
  const parsed = parseDocument(text, { uniqueKeys: false, lineCounter });
  return located(problem, parsed, (offset) => {
    const { line, col } = lineCounter.linePos(offset);
    return { line, column: col };
  });
}

function readTree(text: string): Result<CatalogueDocument> {
  if (text.length > MAX_BYTES)
    return refuse({
      code: "document-size",
      message: "The document is too large",
      detail: `${text.length} characters, ${MAX_BYTES} are the limit`,
    });
  // the parser's own check for keys that stand twice takes time that grows with their square
  const lineCounter = new LineCounter();
  const parsed = parseDocument(text, { uniqueKeys: false, lineCounter });
  const place = (offset: number | undefined): Where | undefined => {
    if (offset === undefined) return undefined;
    const { line, col } = lineCounter.linePos(offset);
    return { line, column: col };
  };
  const error = parsed.errors[0];
  if (error)
    return malformed(
      (error.message.split("\n")[0] ?? error.code).replace(/ at line \d+, column \d+:?$/, ""),
      place(error.pos[0]),
    );
  const fault = faultIn(parsed);
  if (fault) return malformed(fault.message, place(fault.at));
  try {
    const checked = checkDocument(parsed.toJS({ maxAliasCount: 20 }));
    return checked.ok ? checked : refuse(located(checked.problem, parsed, place));
  } catch (cause) {
    return refuse({
      code: "document-syntax",
      message: "The document refers to itself too often",
      detail: String(cause),
    });
  }
}
