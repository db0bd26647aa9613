/**
 * Line patterns of idiom documents: plain text with {name} for one stretch and {name...} for the rest of the line;
 * {name:digits}, {name:letters} and {name:hex} go as far as such characters stand, so that no mark has to follow them;
 * {name:12} is written with blanks behind it, twelve characters wide. What is passed over may be nothing.
 * {{ and }} stand for braces. A blank in a pattern fits one or more blanks. Matching walks the line once and never goes
 * back: no pattern from a document can make it slower than linear.
 */
export interface Pattern {
  readonly source: string;
  readonly parts: readonly Part[];
  readonly anyCase: boolean;
  /** Names of its fields, in their order. */
  readonly fields: readonly string[];
  /** Where the rest of a line may be nothing: the mark that such a line ends with, without the blank behind it. */
  readonly opens: string | undefined;
  /** Places of fields whose name stood before: they say the same words again. */
  readonly again: readonly (readonly [first: number, later: number])[];
}

export const SHAPES = ["digits", "letters", "hex"] as const;
export type Shape = (typeof SHAPES)[number];
/** Plain text of a pattern, looked at once: every line is held against it. */
interface Literal {
  readonly text: string;
  readonly hasBlanks: boolean;
  /** Without the blanks at its ends. */
  readonly mark: string;
  readonly leads: boolean;
  readonly trails: boolean;
}

/** Plain text, or a field; both of one shape, because so many of them are walked over. */
interface Part {
  readonly literal: Literal | undefined;
  readonly field: string;
  readonly rest: boolean;
  readonly shape: Shape | undefined;
  /** Filled up with blanks to so many characters where it is written. */
  readonly width: number | undefined;
  /** Nothing may stand there. */
  readonly loose: boolean;
}

const literalPart = (text: string): Part => {
  const literal = {
    text,
    hasBlanks: text.includes(" "),
    mark: text.trim(),
    leads: text.startsWith(" "),
    trails: text.endsWith(" "),
  };
  return { literal, field: "", rest: false, shape: undefined, width: undefined, loose: false };
};

/** Fields that say nothing about settings when they are read; what a definition says of a setting is written there. */
export const TOLD_FIELDS = ["title", "unit"] as const;
const isLoose = (name: string) => name.startsWith("text") || TOLD_FIELDS.some((field) => field === name);

/** How wide a stretch is written: a number in the place of a shape. */
export const widthOf = (word: string | undefined): number | undefined =>
  word !== undefined && /^[1-9]\d?$/.test(word) ? Number(word) : undefined;

const isShape = (word: string | undefined): word is Shape => SHAPES.some((shape) => shape === word);

function isOf(code: number, shape: Shape): boolean {
  const digit = code >= 48 && code <= 57;
  const lower = code | 32;
  if (shape === "digits") return digit;
  return shape === "hex" ? digit || (lower >= 97 && lower <= 102) : code < 128 ? lower >= 97 && lower <= 122 : true;
}

function endOf(text: string, at: number, shape: Shape): number {
  let end = at;
  while (end < text.length && isOf(text.charCodeAt(end), shape)) end++;
  return end;
}

/** The mark before the rest of a line, where a blank parts the two. */
function openingOf(parts: readonly Part[]): string | undefined {
  const [mark, rest] = parts.slice(-2);
  if (!mark?.literal || rest?.rest !== true || !mark.literal.trails) return undefined;
  const bare = mark.literal.text.trimEnd();
  return bare === "" ? undefined : bare;
}

/** `mayBeEmpty`: the rest of a line, behind a mark and a blank, may be nothing. */
export function compilePattern(source: string, anyCase = false, mayBeEmpty = false): Pattern {
  const parts: Part[] = [];
  let literal = "";
  const flush = () => {
    if (literal !== "") parts.push(literalPart(anyCase ? literal.toLowerCase() : literal));
    literal = "";
  };
  for (let at = 0; at < source.length; at++) {
    const c = source.charAt(at);
    if ((c === "{" || c === "}") && source.charAt(at + 1) === c) {
      literal += c;
      at++;
      continue;
    }
    const close = c === "{" ? source.indexOf("}", at) : -1;
    if (close < 0) {
      literal += c;
      continue;
    }
    flush();
    const [name = "", shape] = source.slice(at + 1, close).split(":");
    const rest = name.endsWith("...");
    parts.push({
      literal: undefined,
      field: rest ? name.slice(0, -3) : name,
      rest,
      shape: isShape(shape) ? shape : undefined,
      width: widthOf(shape),
      loose: isLoose(name),
    });
    at = close;
  }
  flush();
  const opens = mayBeEmpty ? openingOf(parts) : undefined;
  const fields = parts.flatMap(({ literal, field }) => (literal ? [] : [field]));
  const again = fields.flatMap((name, i): [number, number][] => {
    const first = fields.indexOf(name);
    return first < i && !isLoose(name) ? [[first, i]] : [];
  });
  return { source, parts, anyCase, opens, again, fields };
}

const isBlank = (text: string, at: number) => text.charCodeAt(at) === 32 || text.charCodeAt(at) === 9;

/** Where a literal that begins here ends, or -1. */
function literalEnd(text: string, { text: literal, hasBlanks, trails }: Literal, at: number): number {
  if (text.startsWith(literal, at)) {
    let end = at + literal.length;
    if (trails) while (isBlank(text, end)) end++;
    return end;
  }
  if (!hasBlanks) return -1;
  let from = at;
  for (let i = 0; i < literal.length; i++) {
    if (literal.charCodeAt(i) === 32) {
      if (!isBlank(text, from)) return -1;
      while (isBlank(text, from)) from++;
    } else if (literal.charCodeAt(i) === text.charCodeAt(from)) from++;
    else return -1;
  }
  return from;
}

/** Where a mark with a blank before it or behind it begins, with all the blanks before it; or -1. */
function findMark(text: string, { mark, leads, trails }: Literal, at: number): number {
  for (let found = text.indexOf(mark, at); found >= 0; found = text.indexOf(mark, found + 1)) {
    if (trails && !isBlank(text, found + mark.length)) continue;
    if (!leads) return found;
    let from = found;
    while (from > at && isBlank(text, from - 1)) from--;
    if (from < found) return from;
  }
  return -1;
}

/** Where a literal begins at or after a place, or -1. Inside a run of blanks only its first place is tried. */
function findLiteral(text: string, literal: Literal, at: number): number {
  const { text: plainText, hasBlanks, mark, leads } = literal;
  if (!hasBlanks) return text.indexOf(plainText, at);
  if (plainText === " ") {
    const blank = text.indexOf(" ", at);
    const tab = text.indexOf("\t", at);
    return blank < 0 || (tab >= 0 && tab < blank) ? tab : blank;
  }
  // blanks around one mark, as most patterns have it: the mark is looked for, and blanks beside it
  if (mark !== plainText && mark !== "" && !mark.includes(" ")) return findMark(text, literal, at);
  const plain = text.indexOf(plainText, at);
  // only where blanks stand doubled, or as tabs, can a literal with blanks begin earlier than it does to the letter
  if (!text.includes("  ", at) && !text.includes("\t", at)) return plain;
  const limit = plain < 0 ? text.length : plain;
  for (let from = at; from < limit; from++) {
    if (leads && (!isBlank(text, from) || (from > at && isBlank(text, from - 1)))) continue;
    if (literalEnd(text, literal, from) >= 0) return from;
  }
  return plain;
}

/** Trims only where there is something to trim: most lines of a read-out begin and end with a letter or digit. */
export const trimmed = (line: string) =>
  line.charCodeAt(0) > 32 && line.charCodeAt(line.length - 1) > 32 && line.charCodeAt(line.length - 1) < 127
    ? line
    : line.trim();

/** A text in small letters, each in its place: a letter whose small one is longer stays as it is. */
export function inSmall(text: string): string {
  const small = text.toLowerCase();
  if (small.length === text.length) return small;
  return Array.from(text, (letter) => {
    const own = letter.toLowerCase();
    return own.length === letter.length ? own : letter;
  }).join("");
}

/** What a line must begin with to fit, as it stands in the pattern; an early no for most patterns. */
export const headOf = (pattern: Pattern): string => {
  const first = pattern.parts[0];
  return first?.literal?.text.split(" ")[0] ?? "";
};

/** What a line must end with to fit: as early a no. */
export const tailOf = (pattern: Pattern): string => {
  const last = pattern.parts.at(-1);
  return last?.literal?.text.split(" ").at(-1) ?? "";
};

/** The longest mark that a line must have in it to fit, behind what it begins with. */
export const innerOf = (pattern: Pattern): string =>
  pattern.parts
    .slice(1)
    .flatMap(({ literal }) => literal?.mark.split(" ") ?? [])
    .reduce((longest, mark) => (mark.length > longest.length ? mark : longest), "");

/**
 * What stands in a line's fields, in the pattern's order, or undefined when it does not fit. Blanks at its ends do not count;
 * `lowered`: the line `inSmall`, where several patterns are tried that take any case.
 */
export function matchFields(pattern: Pattern, line: string, lowered?: string): string[] | undefined {
  const { opens } = pattern;
  let text = trimmed(line);
  // nothing stands behind its mark: the blank between the two went with the blanks at the line's end
  if (opens !== undefined && (pattern.anyCase ? inSmall(text) : text).endsWith(opens)) text += " ";
  const probe = pattern.anyCase
    ? lowered === undefined || opens !== undefined
      ? inSmall(text)
      : trimmed(lowered)
    : text;
  const { parts } = pattern;
  const found: string[] = [];
  let at = 0;
  for (let i = 0; i < parts.length; i++) {
    const part = parts[i];
    if (part === undefined) return undefined;
    if (part.literal !== undefined) {
      at = literalEnd(probe, part.literal, at);
      if (at < 0) return undefined;
      continue;
    }
    const next = parts[i + 1];
    const end =
      part.shape !== undefined
        ? endOf(text, at, part.shape)
        : part.rest || next === undefined
          ? text.length
          : next.literal === undefined
            ? -1
            : findLiteral(probe, next.literal, at);
    if (end < at || (end === at && !part.rest && !part.loose)) return undefined;
    const value = text.slice(at, end);
    if (!part.rest && next === undefined && part.shape === undefined && value.includes(" ")) return undefined;
    found.push(part.width === undefined ? value : value.trimEnd());
    at = end;
  }
  if (at < text.length) return undefined;
  const { again } = pattern;
  return again.length === 0 || again.every(([first, later]) => found[first] === found[later]) ? found : undefined;
}

/** The same by the fields' names. */
export function matchPattern(pattern: Pattern, line: string): Record<string, string> | undefined {
  const found = matchFields(pattern, line);
  return found && Object.fromEntries(pattern.fields.map((name, i) => [name, found[i] ?? ""]));
}

export function fillPattern(pattern: Pattern, fields: Readonly<Record<string, string | number>>): string {
  return pattern.parts
    .map(({ literal, field, width = 0 }) => literal?.text ?? String(fields[field] ?? "").padEnd(width))
    .join("");
}
