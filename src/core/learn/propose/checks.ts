import { CHECK_KINDS, checkFits, checkForm, type CheckForm, type Digits, type Encoding } from "@/core/idiom";
import { note, openLines, type Draft, type SampleLine } from "@/core/learn/propose/sample";

const MARKS = [" *", "*", " !", " #", " ~", " |", ",", " "] as const;
/** So many lines are tried with each kind before all are. */
const TRIED = 6;
const MOST_LINES = 4000;

const digitsOf = (said: string): Digits => (/[a-f]/.test(said) ? "hex" : "HEX");

interface Carried {
  readonly line: SampleLine;
  readonly before: string;
  readonly said: string;
}

const carriedBehind = (lines: readonly SampleLine[], mark: string): Carried[] =>
  lines.flatMap((line) => {
    const at = line.text.lastIndexOf(mark);
    const said = at < 0 ? "" : line.text.slice(at + mark.length);
    return at > 0 && /^[0-9A-Fa-f]{2,8}$/.test(said) && said.length % 2 === 0
      ? [{ line, before: line.text.slice(0, at), said }]
      : [];
  });

const ENCODINGS: readonly Encoding[] = ["utf-8", "latin-1"];

/** The kind that all of some lines carry, with what it is made over. */
function kindOn(carried: readonly Carried[], mark: string) {
  for (const kind of CHECK_KINDS)
    for (const withMark of [false, true])
      for (const after of new Set(["", carried[0]?.before.charAt(0) ?? ""])) {
        const over = ({ before }: Carried) =>
          (after !== "" && before.startsWith(after) ? before.slice(after.length) : before) + (withMark ? mark : "");
        const form = checkForm(kind);
        const fits = (each: Carried, encoding?: Encoding) => checkFits(each.said, over(each), form, encoding);
        if (!carried.slice(0, TRIED).every((each) => fits(each))) continue;
        const [plain, one] = ENCODINGS.map((encoding) => carried.filter((each) => fits(each, encoding)));
        const latin = (one?.length ?? 0) > (plain?.length ?? 0);
        return { kind, withMark, after, latin, fits: (latin ? one : plain) ?? [] };
      }
  return undefined;
}

/** Checks that lines carry, by trying every kind on them; what is found is taken off the lines. */
export function findLineChecks(draft: Draft): void {
  const lines = openLines(draft).slice(0, MOST_LINES);
  for (const mark of MARKS) {
    const carried = carriedBehind(lines, mark);
    if (carried.length < 3 || carried.length < lines.length * 0.4) continue;
    const found = kindOn(carried, mark);
    if (!found || found.fits.length < carried.length * 0.9) continue;
    const { kind, withMark, after, latin, fits } = found;
    const lower = fits.some(({ said }) => digitsOf(said) === "hex");
    draft.text.lineCheck = {
      ...{ mark, kind, digits: lower ? "hex" : "HEX" },
      ...(withMark ? { withMark } : {}),
      ...(after === "" ? {} : { after }),
    };
    if (latin) draft.text.encoding = "latin-1";
    note(
      draft,
      `Each line carries a check behind “${mark.trim()}”: ${kind}${latin ? ", over Latin-1" : ""}`,
      fits.length / carried.length,
      fits.map(({ line }) => line),
      carried.flatMap((each) => (fits.includes(each) ? [] : [each.line])),
    );
    for (const { line, before } of fits) line.text = before.trim();
    return;
  }
}

interface Closing {
  readonly pattern: string;
  readonly recital: Record<string, unknown>;
  readonly what: string;
}

const ENDS = { lf: "\n", crlf: "\r\n", none: "" } as const;

/** What the last line may count: lines or statements before it, itself with them or not. */
function countFound(
  n: number,
  there: Readonly<Record<"lines" | "statements", number>>,
  order: readonly ("lines" | "statements")[],
) {
  for (const itself of [false, true])
    for (const counts of order)
      if (n === there[counts] + (itself ? 1 : 0)) return { counts, ...(itself ? { itself } : {}) };
  return undefined;
}

function checkFound(
  said: string,
  texts: Readonly<Record<"lines" | "statements", readonly string[]>>,
  encoding: Encoding | undefined,
) {
  for (const [over, parts] of Object.entries(texts))
    for (const [lineEnds, end] of Object.entries(ENDS)) {
      const text = parts.map((part) => part + end).join("");
      for (const kind of CHECK_KINDS)
        for (const digits of ["hex", "decimal"] as const) {
          const form: CheckForm = { kind, digits };
          if (!checkFits(said, text, form, encoding)) continue;
          // a short check fits by chance now and then: it has to be written as wide as it is
          if (
            digits === "hex" &&
            said.replace(/^0x/i, "").length < (kind.includes("32") ? 8 : kind.includes("16") ? 4 : 2)
          )
            continue;
          const written = digits === "decimal" ? digits : /[A-F]/.test(said) ? "HEX" : "hex";
          return { kind, over, lineEnds, digits: written };
        }
    }
  return undefined;
}

/** The closing line: the last one, where a number in it counts what stands before or digits are a check of that. */
export function findEnd(draft: Draft): void {
  const told = draft.lines.filter(({ text }) => text !== "");
  const last = told.at(-1);
  if (!last) return;
  const before = draft.lines.filter(({ no }) => no < last.no);
  const lines = before.map(({ raw }) => raw);
  const statements = before.filter(({ text, means }) => text !== "" && means !== "comment").map(({ text }) => text);
  const encoding = draft.text.encoding as Encoding | undefined;
  const order = draft.text.ends === undefined ? (["lines", "statements"] as const) : (["statements", "lines"] as const);
  const closing: { fields: Record<string, string>; recital: Record<string, unknown>; words: string[] } = {
    fields: {},
    recital: {},
    words: [],
  };
  for (const [word] of last.text.matchAll(/(?:0x)?[0-9A-Fa-f]{2,10}|\d+/g)) {
    const counted =
      /^\d{1,7}$/.test(word) && closing.fields.lines === undefined
        ? countFound(Number(word), { lines: lines.length, statements: statements.length }, order)
        : undefined;
    if (counted) {
      closing.fields.lines = word;
      Object.assign(closing.recital, counted);
      closing.words.push(`counts ${counted.counts}`);
      continue;
    }
    const check = closing.fields.check === undefined ? checkFound(word, { lines, statements }, encoding) : undefined;
    if (!check) continue;
    closing.fields.check = word;
    const { kind, over, lineEnds, digits } = check;
    Object.assign(closing.recital, {
      check: digits === "hex" ? kind : { kind, digits },
      ...(over === "lines" ? {} : { over }),
      ...(lineEnds === "lf" ? {} : { lineEnds }),
    });
    closing.words.push(`carries ${kind} over them`);
  }
  if (closing.words.length === 0) return;
  const end: Closing = {
    pattern: patternOf(last.text, closing.fields),
    recital: closing.recital,
    what: closing.words.join(", "),
  };
  draft.forms.unshift({ means: "end", pattern: end.pattern });
  draft.recital.end = end.recital;
  last.means = "end";
  note(draft, `The last line closes the read-out: it ${end.what}`, closing.words.length === 2 ? 1 : 0.9, [last]);
}

/** A line with some of its stretches as placeholders. */
function patternOf(text: string, fields: Readonly<Record<string, string>>): string {
  let pattern = text.replaceAll("{", "{{").replaceAll("}", "}}");
  for (const [name, word] of Object.entries(fields)) pattern = pattern.replace(word, `{${name}}`);
  return pattern;
}
