import {
  bytesOf,
  CHECK_KINDS,
  checkDigits,
  checkFits,
  checkForm,
  checkOf,
  checkTitle,
  saidCheck,
  type CheckKind,
  type Digits,
  type Encoding,
} from "@/core/idiom";
import { note, openLines, type Draft, type SampleLine } from "@/core/learn/propose/sample";

/** So many lines are tried with each kind before all are. */
const TRIED = 6;
const MOST_LINES = 4000;

const digitsOf = (said: string): Digits => (/[a-f]/.test(said) ? "hex" : "HEX");

interface Carried {
  readonly line: SampleLine;
  /** What stands beside it. */
  readonly own: string;
  readonly said: string;
}

const isCheck = (said: string) => /^[0-9A-Fa-f]{2,8}$/.test(said) && said.length % 2 === 0;

const carriedBehind = (lines: readonly SampleLine[], mark: string): Carried[] =>
  lines.flatMap((line) => {
    const at = line.text.lastIndexOf(mark);
    const said = at < 0 ? "" : line.text.slice(at + mark.length);
    return at > 0 && isCheck(said) ? [{ line, own: line.text.slice(0, at), said }] : [];
  });

const carriedBefore = (lines: readonly SampleLine[], mark: string): Carried[] =>
  lines.flatMap((line) => {
    const at = line.text.indexOf(mark);
    const said = at < 0 ? "" : line.text.slice(0, at);
    return isCheck(said) ? [{ line, own: line.text.slice(at + mark.length), said }] : [];
  });

const WAYS = [
  { at: "end", marks: [" *", "*", " !", " #", " ~", " |", ",", " "], carried: carriedBehind },
  { at: "start", marks: ["> ", ">", ": ", ":", "| ", "|", "* ", "*", "# ", " "], carried: carriedBefore },
] as const;

const ENCODINGS: readonly Encoding[] = ["utf-8", "latin-1"];

/** Divisors that are in use, with what a register may begin and end with. */
const POLYNOMIALS = { 8: [0x07, 0x1d, 0x2f, 0x31, 0x9b, 0xd5], 16: [0x1021, 0x3d65, 0x8005, 0x8bb7, 0xc867] } as const;

/** What is tried: the kinds that have a name first, then others by their parameters. */
const TRIED_KINDS: readonly CheckKind[] = [
  ...CHECK_KINDS,
  ...([8, 16] as const).flatMap((crc) =>
    POLYNOMIALS[crc].flatMap((poly) =>
      [0, 2 ** crc - 1].flatMap((init) =>
        [false, true].flatMap((reflected) => [0, 2 ** crc - 1].map((xor) => ({ crc, poly, init, reflected, xor }))),
      ),
    ),
  ),
  ...([8, 16] as const).flatMap((sum) => (["one", "two"] as const).map((complement) => ({ sum, complement }))),
];

/** The kind that all of some lines carry, with what it is made over. */
function kindOn(carried: readonly Carried[], mark: string, at: "start" | "end") {
  const marks = at === "end" ? new Set(["", carried[0]?.own.charAt(0) ?? ""]) : [""];
  for (const kind of TRIED_KINDS)
    for (const withMark of [false, true])
      for (const after of marks) {
        const over = ({ own }: Carried) => {
          const rest = after !== "" && own.startsWith(after) ? own.slice(after.length) : own;
          return !withMark ? rest : at === "start" ? mark + rest : rest + mark;
        };
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
  for (const { at, marks, carried: carriedBy } of WAYS)
    for (const mark of marks) {
      const carried = carriedBy(lines, mark);
      if (carried.length < 3 || carried.length < lines.length * 0.4) continue;
      const found = kindOn(carried, mark, at);
      if (!found || found.fits.length < carried.length * 0.9) continue;
      const { kind, withMark, after, latin, fits } = found;
      const lower = fits.some(({ said }) => digitsOf(said) === "hex");
      draft.text.lineCheck = {
        ...{ mark, kind, digits: lower ? "hex" : "HEX" },
        ...(at === "start" ? { at } : {}),
        ...(withMark ? { withMark } : {}),
        ...(after === "" ? {} : { after }),
      };
      if (latin) draft.text.encoding = "latin-1";
      note(
        draft,
        `Each line carries a check ${at === "start" ? "before" : "behind"} “${mark.trim()}”: ${checkTitle(kind)}${latin ? ", over Latin-1" : ""}`,
        fits.length / carried.length,
        fits.map(({ line }) => line),
        carried.flatMap((each) => (fits.includes(each) ? [] : [each.line])),
      );
      for (const { line, own } of fits) line.text = own.trim();
      return;
    }
}

interface Closing {
  readonly pattern: string;
  readonly recital: Record<string, unknown>;
  readonly words: readonly string[];
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

/** Kinds that one line alone can be told by: those with a name, and wide ones by their parameters. */
const CLOSING_KINDS: readonly CheckKind[] = [
  ...TRIED_KINDS.filter((kind) => typeof kind === "string" || ("crc" in kind ? kind.crc > 8 : kind.sum > 8)),
  ...[0x04c11db7, 0x1edc6f41, 0x741b8cd7].flatMap((poly) =>
    [0, 2 ** 32 - 1].flatMap((init) =>
      [false, true].flatMap((reflected) =>
        [0, 2 ** 32 - 1].map((xor) => ({ crc: 32, poly, init, reflected, xor }) as const),
      ),
    ),
  ),
];

/** What the check of a line may be made over, in bytes, with what each kind gives of it. */
class Covered {
  private readonly values = new Map<CheckKind, number>();
  constructor(
    readonly over: "lines" | "statements",
    readonly lineEnds: keyof typeof ENDS,
    private readonly bytes: Uint8Array,
  ) {}

  check(kind: CheckKind): number {
    const value = this.values.get(kind) ?? checkOf(this.bytes, checkForm(kind));
    this.values.set(kind, value);
    return value;
  }
}

function coveredBy(
  texts: Readonly<Record<"lines" | "statements", readonly string[]>>,
  encoding: Encoding | undefined,
): Covered[] {
  const seen = new Set<string>();
  return (["lines", "statements"] as const).flatMap((over) =>
    (["lf", "crlf", "none"] as const).flatMap((lineEnds) => {
      const text = texts[over].map((part) => part + ENDS[lineEnds]).join("");
      if (seen.has(text)) return [];
      seen.add(text);
      return [new Covered(over, lineEnds, bytesOf(text, encoding))];
    }),
  );
}

const WIDTHS = new Map(CLOSING_KINDS.map((kind) => [kind, checkDigits("", checkForm(kind)).length]));

function checkFound(said: string, covered: readonly Covered[]) {
  const hex = said.replace(/^0x/i, "");
  for (const each of covered)
    for (const kind of CLOSING_KINDS)
      for (const digits of ["hex", "decimal"] as const) {
        // a short check fits by chance now and then: it has to be written as wide as it is
        const wide = hex.length >= (WIDTHS.get(kind) ?? 8);
        if (digits === "hex" ? !wide : typeof kind === "object" && "crc" in kind) continue;
        const value = saidCheck(said, { kind, digits });
        if (value === undefined || value !== each.check(kind)) continue;
        const written = digits === "decimal" ? digits : /[A-F]/.test(said) ? "HEX" : "hex";
        return { kind, over: each.over, lineEnds: each.lineEnds, digits: written };
      }
  return undefined;
}

/** What a line says of others: where a number in it counts them, or digits are a check of them. */
function closingOf(draft: Draft, line: SampleLine, others: readonly SampleLine[]): Closing | undefined {
  const lines = others.map(({ raw }) => raw);
  const statements = others.filter(({ text, means }) => text !== "" && means !== "comment").map(({ text }) => text);
  const encoding = draft.text.encoding as Encoding | undefined;
  const order = draft.text.ends === undefined ? (["lines", "statements"] as const) : (["statements", "lines"] as const);
  const fields: Record<string, string> = {};
  const recital: Record<string, unknown> = {};
  const words: string[] = [];
  const covered = coveredBy({ lines, statements }, encoding);
  for (const [word] of line.text.matchAll(/(?:0x)?[0-9A-Fa-f]{2,10}|\d+/g)) {
    const counted =
      /^\d{1,7}$/.test(word) && fields.lines === undefined
        ? countFound(Number(word), { lines: lines.length, statements: statements.length }, order)
        : undefined;
    if (counted) {
      fields.lines = word;
      Object.assign(recital, counted);
      words.push(`counts ${counted.counts}`);
      continue;
    }
    const check = fields.check === undefined ? checkFound(word, covered) : undefined;
    if (!check) continue;
    fields.check = word;
    const { kind, over, lineEnds, digits } = check;
    Object.assign(recital, {
      check: digits === "hex" && typeof kind === "string" ? kind : { kind, digits },
      ...(over === "lines" ? {} : { over }),
      ...(lineEnds === "lf" ? {} : { lineEnds }),
    });
    words.push(`carries ${checkTitle(kind)} over them`);
  }
  return words.length === 0 ? undefined : { pattern: patternOf(line.text, fields), recital, words };
}

/** The closing line: the last one; or the first, where it counts what follows. */
export function findEnd(draft: Draft): void {
  const spoken = draft.lines.filter(({ text }) => text !== "");
  const [first, last] = [spoken[0], spoken.at(-1)];
  if (!first || !last) return;
  const foot = closingOf(
    draft,
    last,
    draft.lines.filter(({ no }) => no < last.no),
  );
  const behind = draft.lines.filter(({ no }) => no > first.no && no <= last.no);
  // a number alone may be any: at the head it has to come with a check
  const head = foot ? undefined : closingOf(draft, first, behind);
  const end = foot ?? (head?.words.length === 2 ? head : undefined);
  if (!end) return;
  const line = foot ? last : first;
  if (line.means === "comment") dropComment(draft, line);
  draft.forms.unshift({ means: "end", pattern: end.pattern });
  draft.recital.end = foot ? end.recital : { at: "head", ...end.recital };
  line.means = "end";
  const what = foot ? "The last line closes the read-out" : "The first line speaks of those that follow";
  note(draft, `${what}: it ${end.words.join(", ")}`, end.words.length === 2 ? 1 : 0.9, [line]);
}

/** Takes back what was made of a line alone: that lines which begin like it are comments. */
function dropComment({ forms, found, lines }: Draft, line: SampleLine): void {
  const at = forms.findIndex(({ means, pattern }) => {
    const [head = "", rest] = pattern.split("{text...}");
    return means === "comment" && rest === "" && line.text.startsWith(head);
  });
  const [head = ""] = forms[at]?.pattern.split("{text...}") ?? [];
  if (at < 0 || lines.some((other) => other !== line && other.means === "comment" && other.text.startsWith(head)))
    return;
  forms.splice(at, 1);
  const noted = found.findIndex((each) => each.for.length === 1 && each.for[0] === line.no);
  if (noted >= 0) found.splice(noted, 1);
}

/** A line with some of its stretches as placeholders. */
function patternOf(text: string, fields: Readonly<Record<string, string>>): string {
  let pattern = text.replaceAll("{", "{{").replaceAll("}", "}}");
  for (const [name, word] of Object.entries(fields)) pattern = pattern.replace(word, `{${name}}`);
  return pattern;
}
