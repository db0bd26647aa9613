import { FIELD_NAMES, FIELDS_OF, NEEDED, type FieldName, type LineMeaning } from "@/core/catalog/line-fields";
import { SHAPES, widthOf } from "@/core/catalog/pattern";

/** What is wrong in a document that fits its schema: where, as a path of keys, and in words. */
export interface DocumentFault {
  readonly path: readonly (string | number)[];
  readonly message: string;
}

interface WrittenForm {
  readonly means: string;
  readonly pattern?: string;
  readonly with?: Readonly<Record<string, string>>;
  readonly inComment?: boolean;
  readonly list?: object;
  readonly before?: readonly string[];
  readonly after?: readonly string[];
}

interface WrittenCheck {
  readonly kind?: unknown;
}

interface WrittenIdiom {
  readonly facts: Readonly<Record<string, string>>;
  readonly lines: readonly WrittenForm[];
  readonly quote?: string;
  readonly quoted?: string;
  readonly spelling: { readonly list?: { readonly quoted?: boolean } };
  readonly text?: {
    readonly comments?: readonly { readonly from: string }[];
    readonly ends?: string;
    readonly noise?: readonly string[];
    readonly lineCheck?: WrittenCheck;
  };
  readonly recital: { readonly end?: { readonly check?: unknown } };
  readonly keysUnder?: unknown;
  readonly keys?: string;
  readonly console?: {
    readonly commands?: Readonly<Record<string, string>>;
    readonly replies?: Readonly<Record<string, unknown>>;
    readonly intake?: Readonly<Record<string, string>>;
  };
}

interface Placeholder {
  readonly name: string;
  readonly shape?: string;
  readonly rest: boolean;
  readonly next: string;
}

/** The placeholders of a pattern, each with what follows it; or what is wrong with its braces. */
function placeholdersOf(pattern: string): readonly Placeholder[] | string {
  const found: Placeholder[] = [];
  for (let at = 0; at < pattern.length; at++) {
    const c = pattern.charAt(at);
    if ((c === "{" || c === "}") && pattern.charAt(at + 1) === c) {
      at++;
      continue;
    }
    if (c === "}") return `A brace is closed at character ${at + 1} that was not opened; }} stands for a brace`;
    if (c !== "{") continue;
    const close = pattern.indexOf("}", at);
    if (close < 0) return `The placeholder that begins at character ${at + 1} is not closed; {{ stands for a brace`;
    const [name = "", shape] = pattern.slice(at + 1, close).split(":");
    const rest = name.endsWith("...");
    found.push({
      name: rest ? name.slice(0, -3) : name,
      rest,
      next: pattern.slice(close + 1),
      ...(shape === undefined ? {} : { shape }),
    });
    at = close;
  }
  return found;
}

const quoted = (names: readonly string[]) => names.map((name) => `{${name}}`).join(", ");

/** Names that are passed over: what stands there says nothing. */
const isPassedOver = (name: string) => name.startsWith("text") || name === "no";

function patternFault(pattern: string, known: readonly string[], what: string): string | undefined {
  const found = placeholdersOf(pattern);
  if (typeof found === "string") return found;
  const names = found.map(({ name }) => name).filter((name) => !isPassedOver(name));
  const odd = names.find((name) => !known.includes(name));
  if (odd !== undefined) return `There is no placeholder {${odd}} ${what}; known are ${quoted([...known, "text"])}`;
  for (const { name, shape, rest, next } of found) {
    const width = widthOf(shape);
    if (shape !== undefined && width === undefined && !SHAPES.some((each) => each === shape))
      return `There is no shape “${shape}” of {${name}}; known are ${SHAPES.join(", ")} and a width of 1 to 99`;
    if (rest && next !== "") return `{${name}...} is the rest of the line, so nothing can follow it: “${next}”`;
    if ((shape === undefined || width !== undefined) && next.startsWith("{") && !next.startsWith("{{"))
      return `Nothing tells where {${name}} ends: a mark has to follow it, or a shape as {${name}:digits}`;
  }
  return undefined;
}

const isMeaning = (means: string): means is LineMeaning => Object.hasOwn(FIELDS_OF, means);

function formFaults(form: WrittenForm, i: number, { text, keysUnder, lines }: WrittenIdiom): DocumentFault[] {
  const { means, pattern } = form;
  if (pattern === undefined || !isMeaning(means)) return [];
  const at = (field: string): DocumentFault["path"] => ["lines", i, field];
  const wrong = patternFault(pattern, FIELDS_OF[means], `in a line that means “${means}”`);
  if (wrong !== undefined) return [{ path: at("pattern"), message: wrong }];
  const fixed = Object.keys(form.with ?? {});
  const found = placeholdersOf(pattern);
  const names = typeof found === "string" ? [] : found.map(({ name }) => name);
  const has = (field: FieldName) => names.includes(field) || fixed.includes(field);
  const faults: DocumentFault[] = [];
  const strange = fixed.find((field) => !FIELD_NAMES.some((each) => each === field && FIELDS_OF[means].includes(each)));
  if (strange !== undefined)
    faults.push({
      path: [...at("with"), strange],
      message: `A line that means “${means}” has no field ${strange}; it has ${FIELDS_OF[means].join(", ")}`,
    });
  // pairs say their names themselves
  const paired = form.list !== undefined && "pairs" in form.list;
  const lacking = NEEDED[means].find((any) => !any.some(has) && !(paired && any.includes("key")));
  if (lacking)
    faults.push({
      path: at("pattern"),
      message: `A line that means “${means}” has to say ${lacking.map((name) => `{${name}}`).join(" or ")}`,
    });
  if (form.list !== undefined && !has("values"))
    faults.push({ path: at("list"), message: "A list needs {values} in its pattern" });
  if (has("prefix") && keysUnder === undefined)
    faults.push({
      path: at("pattern"),
      message: '{prefix} is what keys begin with: keysUnder says what joins the two, as keysUnder: "."',
    });
  const opens = (any: WrittenForm) => any.means === "section" || any.means === "clear";
  if ((means === "row" || means === "cell") && !has("table") && !lines.some(opens))
    faults.push({
      path: at("pattern"),
      message: `Nothing says which table it is of: {table}, or a line before it that means “clear” or “section”`,
    });
  if (means === "leave" && !lines.some((any) => any.means === "section"))
    faults.push({ path: at("means"), message: "Nothing is left where no line means “section”" });
  if (form.inComment === true && (text?.comments ?? []).length === 0)
    faults.push({ path: at("inComment"), message: "The language has no comments: text.comments says how they begin" });
  return faults;
}

/** Lines around a form that would be read as the beginning of a statement: there a statement goes on until it is ended. */
function silentFaults(form: WrittenForm, i: number, { text }: WrittenIdiom): DocumentFault[] {
  const { ends, comments = [] } = text ?? {};
  if (ends === undefined) return [];
  return (["before", "after"] as const).flatMap((field) =>
    (form[field] ?? []).flatMap((line, n) => {
      if (line.trim() === "" || comments.some(({ from }) => line.trimStart().startsWith(from))) return [];
      const message = `Statements go on until “${ends}” here, so a line that says nothing has to be a comment`;
      return [{ path: ["lines", i, field, n], message }];
    }),
  );
}

/** What asks for quotes in a language that has none. */
function quoteFaults({ quote, quoted, spelling }: WrittenIdiom): DocumentFault[] {
  if (quote !== undefined) return [];
  const message = "The language has no quotes: quote says which character they are";
  return [
    ...(quoted === "texts" || quoted === "all" ? [{ path: ["quoted"], message }] : []),
    ...(spelling.list?.quoted === true ? [{ path: ["spelling", "list", "quoted"], message }] : []),
  ];
}

/** Parameters of a CRC that are wider than it is. */
function checkFaults(kind: unknown, path: DocumentFault["path"]): DocumentFault[] {
  const form = typeof kind === "object" && kind !== null ? (kind as Readonly<Record<string, unknown>>) : {};
  const { crc } = form;
  if (typeof crc !== "number") return [];
  return ["poly", "init", "xor"].flatMap((name) => {
    const value = form[name];
    if (typeof value !== "number" || value < 2 ** crc) return [];
    return [
      { path: [...path, name], message: `0x${value.toString(16)} does not fit into the ${crc} bits of the check` },
    ];
  });
}

const REPLY_FIELDS: Readonly<Record<string, readonly string[]>> = {
  accepted: [],
  adjusted: ["value"],
  refused: ["cause"],
};

/** What a check over a document's words finds that no schema can say: placeholders, fields and marks that do not fit. */
export function idiomFaults(body: unknown): DocumentFault[] {
  const idiom = body as WrittenIdiom;
  const faults = idiom.lines.flatMap((form, i) => [...formFaults(form, i, idiom), ...silentFaults(form, i, idiom)]);
  faults.push(...quoteFaults(idiom));
  const plain = (path: DocumentFault["path"], pattern: unknown, known: readonly string[], what: string) => {
    const message = typeof pattern === "string" ? patternFault(pattern, known, what) : undefined;
    if (message !== undefined) faults.push({ path, message });
  };
  for (const [name, pattern] of Object.entries(idiom.console?.commands ?? {}))
    plain(["console", "commands", name], pattern, name === "starter" ? ["name"] : [], "in a command");
  for (const [name, known] of Object.entries(REPLY_FIELDS))
    plain(["console", "replies", name], idiom.console?.replies?.[name], known, "in an answer");
  plain(
    ["console", "intake", "refusedLine"],
    idiom.console?.intake?.refusedLine,
    ["line", "cause"],
    "in a refused line",
  );
  const closing = idiom.recital.end?.check;
  const written = (closing as WrittenCheck | undefined)?.kind === undefined ? ["check"] : ["check", "kind"];
  faults.push(...checkFaults((closing as WrittenCheck | undefined)?.kind ?? closing, ["recital", "end", ...written]));
  faults.push(...checkFaults(idiom.text?.lineCheck?.kind, ["text", "lineCheck", "kind"]));
  if (idiom.keysUnder !== undefined && idiom.keys === "number")
    faults.push({ path: ["keysUnder"], message: "Settings that are written by number have no beginning to leave out" });
  const has = (means: string) => idiom.lines.some((form) => form.means === means);
  if (idiom.recital.end && !has("end"))
    faults.push({
      path: ["recital", "end"],
      message: "The closing line has no pattern: a line that means “end” says it",
    });
  const named = idiom.lines.some((form) => form.means === "fact" && form.pattern?.includes("{name") === true);
  const pairs = has("section") || has("record");
  if (Object.keys(idiom.facts).length > 0 && !named && !pairs && Object.values(idiom.facts).some((name) => name !== ""))
    faults.push({
      path: ["facts"],
      message: "No line says these facts: a line that means “fact” with {name} and {value} does",
    });
  return faults;
}
