import { ok, refuse, type Result } from "@/core/problem";

/** A value as the product holds it: number in the setting's unit, switch, word or text, set of flags. */
export type Value = number | boolean | string | readonly string[];

export type ValueType =
  | {
      readonly kind: "number";
      readonly unit?: string;
      readonly min: number;
      readonly max: number;
      /** Smallest difference that the firmware keeps; also fixes the decimals it writes. */
      readonly step: number;
    }
  | { readonly kind: "switch" }
  | {
      readonly kind: "choice";
      readonly options: readonly string[];
      /** Further words that a console takes → the option that they mean. */
      readonly aliases?: Readonly<Record<string, string>>;
    }
  | { readonly kind: "flags"; readonly options: readonly string[] }
  | { readonly kind: "text"; readonly maxLength: number };

/** How an idiom spells values. */
export interface Spelling {
  readonly decimalMark: "." | ",";
  readonly on: string;
  readonly off: string;
  /** Joins flags. */
  readonly listMark: string;
  /** How flags stand where they are no word of their own: between brackets, each in quotes, or with blanks between them. */
  readonly list?: { readonly open: string; readonly close: string; readonly quote: string };
  /** Stands for an empty text or an empty set of flags. */
  readonly empty: string;
  /** Joins a number to its unit; absent where units are not written. */
  readonly unit?: string;
  /** The unit stands before the number. */
  readonly unitFirst?: boolean;
  /** Numbers are filled up with zeros to so many characters. */
  readonly width?: number;
  /** Numbers are written with so many decimals, or with as few as say them, whatever their step. */
  readonly decimals?: number | "fewest";
  /** Whole numbers are written in this base, with `prefix` before their digits and `suffix` behind them. */
  readonly base?: 16 | 8 | 2;
  readonly prefix?: string;
  readonly suffix?: string;
  /** Numbers above nothing have a sign as well. */
  readonly signed?: boolean;
  /** A choice is written as its place among the options, counted from this. */
  readonly choicesFrom?: 0 | 1;
  /** A set of flags is written as a number: its bits, the lowest first, are the options. */
  readonly flagsAsBits?: boolean;
  /** Other words that are read for on and off. */
  readonly onAlso?: readonly string[];
  readonly offAlso?: readonly string[];
  /** Words may come in any case. */
  readonly anyCase?: boolean;
}

const decimalsByStep = new Map<number, number>();
/** A catalogue has a few dozen steps; a document that brings more cannot fill the memory. */
const MOST_STEPS = 10_000;

/** How many decimals a step needs; worked out once for each step, because every value of every screen asks. */
export function decimalsOf(step: number): number {
  const known = decimalsByStep.get(step);
  if (known !== undefined) return known;
  const text = step.toString();
  const decimals = text.includes("e-") ? Number(text.split("e-")[1]) : (text.split(".")[1]?.length ?? 0);
  if (decimalsByStep.size < MOST_STEPS) decimalsByStep.set(step, decimals);
  return decimals;
}

/** To the nearest multiple of `step`, free of binary dust. */
export function quantize(value: number, step: number): number {
  // adding zero makes the one of minus zero, as the long way does
  if (step === 1 && Number.isSafeInteger(value)) return value + 0;
  return Number((Math.round(Number((value / step).toPrecision(12))) * step).toFixed(decimalsOf(step)));
}

function decimalDigits(size: number, step: number, decimals: Spelling["decimals"]): string {
  const digits = size.toFixed(typeof decimals === "number" ? decimals : decimalsOf(step));
  return decimals === "fewest" && digits.includes(".") ? digits.replace(/\.?0+$/, "") : digits;
}

function formatNumber(value: number, type: Extract<ValueType, { kind: "number" }>, spelling: Spelling): string {
  const { width = 0, unit, base, prefix = "", suffix = "", decimals, signed = false } = spelling;
  const based = base !== undefined && Number.isInteger(type.step) && Number.isInteger(value);
  const size = Math.abs(value);
  const digits = based ? size.toString(base) : decimalDigits(size, type.step, decimals);
  // what rounds to nothing has no sign
  const below = value < 0 && (based || Number(digits) !== 0 || decimals === undefined);
  const sign = below ? "-" : signed ? "+" : "";
  let text = sign + (based ? prefix : "") + digits.padStart(width - sign.length, "0") + (based ? suffix : "");
  if (spelling.decimalMark === ",") text = text.replace(".", ",");
  if (unit === undefined || type.unit === undefined) return text;
  return spelling.unitFirst === true ? type.unit + unit + text : text + unit + type.unit;
}

/** What stands for a whole number that counts something: no unit and no decimals, in the base of the language. */
const WHOLE = { kind: "number", min: 0, max: Number.MAX_SAFE_INTEGER, step: 1 } as const;

function flagBits(flags: readonly string[], options: readonly string[], spelling: Spelling): string {
  const bits = options.reduce((sum, option, i) => (flags.includes(option) ? sum + 2 ** i : sum), 0);
  return formatNumber(bits, WHOLE, { ...spelling, decimals: "fewest", signed: false });
}

/** The flags that the bits of a number stand for; undefined where it is none, or has a bit that is no flag. */
function flagsOfBits(text: string, options: readonly string[], spelling: Spelling): string[] | undefined {
  const bits = readNumber(text, WHOLE, spelling);
  if (!bits.ok || !Number.isInteger(bits.value) || bits.value < 0 || bits.value >= 2 ** options.length)
    return undefined;
  return options.filter((_, i) => Math.floor(bits.value / 2 ** i) % 2 === 1);
}

/** The option at a place that a text names. */
function choiceAt(text: string, options: readonly string[], from: number): string | undefined {
  return /^\d{1,4}$/.test(text) ? options[Number(text) - from] : undefined;
}

function formatFlags(flags: readonly string[], { list, listMark, empty }: Spelling): string {
  if (!list) return flags.length === 0 ? empty : flags.join(listMark);
  const { open, close, quote } = list;
  if (flags.length === 0 && open === "") return empty;
  return open + flags.map((flag) => quote + flag + quote).join(listMark) + close;
}

/** The words of a set of flags, or undefined where its brackets or quotes are not there. */
function flagWords(text: string, { list, listMark, empty }: Spelling): string[] | undefined {
  if (text === empty) return [];
  if (!list) return text.split(listMark);
  const { open, close, quote } = list;
  if (!text.startsWith(open) || !text.endsWith(close) || text.length < open.length + close.length) return undefined;
  const inner = text.slice(open.length, text.length - close.length).trim();
  if (inner === "") return open === "" ? undefined : [];
  const words = inner.split(listMark.trim() === "" ? listMark : listMark.trim()).map((word) => word.trim());
  // one word alone in quotes has lost them like any other value
  if (quote === "" || (open === "" && words.length === 1 && !inner.includes(quote))) return words;
  return words.every((word) => word.length >= 2 && word.startsWith(quote) && word.endsWith(quote))
    ? words.map((word) => word.slice(1, -1))
    : undefined;
}

export function formatValue(value: Value, type: ValueType, spelling: Spelling): string {
  switch (type.kind) {
    case "number":
      return formatNumber(value as number, type, spelling);
    case "switch":
      return value === true ? spelling.on : spelling.off;
    case "flags":
      return spelling.flagsAsBits === true
        ? flagBits(value as readonly string[], type.options, spelling)
        : formatFlags(value as readonly string[], spelling);
    case "text":
      return value === "" ? spelling.empty : (value as string);
    case "choice":
      return spelling.choicesFrom === undefined
        ? (value as string)
        : String(type.options.indexOf(value as string) + spelling.choicesFrom);
  }
}

const wrong = (code: string, message: string, hint: string) => refuse({ code, message, hint });

/** The word of a list that a text means: as it stands or, where the idiom allows it, in any case. */
function wordOf(text: string, words: readonly string[], spelling: Spelling): string | undefined {
  if (words.includes(text)) return text;
  if (spelling.anyCase !== true) return undefined;
  const lower = text.toLowerCase();
  return words.find((word) => word.toLowerCase() === lower);
}

/** The option that another word stands for. */
function aliasOf(text: string, aliases: Readonly<Record<string, string>> | undefined, spelling: Spelling) {
  const word = aliases && wordOf(text, Object.keys(aliases), spelling);
  return word === undefined ? undefined : aliases?.[word];
}

/**
 * Reads a value as the idiom spells it. A number in another notation or unit is refused, never guessed; a number outside
 * the range is read as it is, because a backup says what was on the board.
 */
export function parseValue(text: string, type: ValueType, spelling: Spelling): Result<Value> {
  switch (type.kind) {
    case "number":
      return readNumber(text, type, spelling);
    case "switch": {
      const { on, off, onAlso = [], offAlso = [] } = spelling;
      if (wordOf(text, [on, ...onAlso], spelling) !== undefined) return ok(true);
      return wordOf(text, [off, ...offAlso], spelling) === undefined
        ? wrong("value-not-switch", `“${text}” is neither on nor off`, `Write ${on} or ${off}`)
        : ok(false);
    }
    case "choice": {
      const { choicesFrom: from } = spelling;
      const named = aliasOf(text, type.aliases, spelling);
      const word =
        (from === undefined ? wordOf(text, type.options, spelling) : choiceAt(text, type.options, from)) ?? named;
      const choices = type.options.map((option, i) => (from === undefined ? option : `${i + from} (${option})`));
      return word === undefined
        ? wrong("value-not-choice", `“${text}” is not one of the choices`, `Choices: ${choices.join(", ")}`)
        : ok(word);
    }
    case "flags": {
      if (spelling.flagsAsBits === true) {
        const set = flagsOfBits(text, type.options, spelling);
        const hint = `Write a number: ${type.options.map((option, i) => `${2 ** i} is ${option}`).join(", ")}`;
        return set ? ok(set) : wrong("value-not-flag", `“${text}” is no set of flags`, hint);
      }
      const flags = flagWords(text, spelling);
      if (!flags)
        return wrong("value-not-flag", `“${text}” is no set of flags`, `Write ${formatFlags(type.options, spelling)}`);
      const words = flags.map((flag) => wordOf(flag, type.options, spelling));
      const odd = words.indexOf(undefined);
      return odd < 0
        ? ok(type.options.filter((option) => words.includes(option)))
        : wrong("value-not-flag", `“${flags[odd] ?? ""}” is not one of the flags`, `Flags: ${type.options.join(", ")}`);
    }
    case "text":
      if (/[\0-\x1f]/.test(text))
        return wrong(
          "value-control",
          "The text holds control characters",
          "They came from the line, not from a person",
        );
      return text.length <= type.maxLength
        ? ok(text === spelling.empty ? "" : text)
        : wrong("value-too-long", `The text has ${text.length} characters`, `At most ${type.maxLength}`);
  }
}

function readNumber(
  text: string,
  { unit, step }: Extract<ValueType, { kind: "number" }>,
  spelling: Spelling,
): Result<number> {
  const { base, prefix = "", suffix = "" } = spelling;
  const digits =
    unit === undefined || spelling.unit === undefined ? text : withoutUnit(text, unit, spelling.unit, spelling);
  if (digits === undefined)
    return wrong(
      "value-unit",
      `“${text}” is not in ${unit ?? ""}`,
      spelling.unitFirst === true
        ? `Write it like ${unit ?? ""}${spelling.unit ?? ""}12${spelling.decimalMark}5`
        : `Write it like 12${spelling.decimalMark}5${spelling.unit ?? ""}${unit ?? ""}`,
    );
  const based = base !== undefined && Number.isInteger(step) ? basedNumber(digits, base, prefix, suffix) : undefined;
  // without a mark nothing tells the bases apart: whole numbers are in that of the language
  const plain = base === undefined || prefix + suffix !== "" || !Number.isInteger(step);
  const number = based ?? (plain ? parseNumber(digits, spelling.decimalMark) : undefined);
  return number === undefined
    ? wrong("value-not-number", `“${text}” is not a number`, `Write it like 12${spelling.decimalMark}5, without unit`)
    : ok(number);
}

/** The digits of a number that stands with its unit; undefined where it does not. */
function withoutUnit(text: string, unit: string, joint: string, { unitFirst }: Spelling): string | undefined {
  const mark = joint.trim();
  if (unitFirst === true) {
    if (!text.startsWith(unit)) return undefined;
    const rest = text.slice(unit.length).trimStart();
    return rest.startsWith(mark) ? rest.slice(mark.length).trimStart() : undefined;
  }
  if (!text.endsWith(unit)) return undefined;
  const rest = text.slice(0, -unit.length).trimEnd();
  return rest.endsWith(mark) ? rest.slice(0, rest.length - mark.length).trimEnd() : undefined;
}

const DIGITS_OF = { 16: /^[0-9a-f]{1,13}$/i, 8: /^[0-7]{1,17}$/, 2: /^[01]{1,52}$/ } as const;

function basedNumber(text: string, base: 16 | 8 | 2, prefix: string, suffix: string): number | undefined {
  const below = text.startsWith("-");
  const digits = text.slice(below || text.startsWith("+") ? 1 : 0).toLowerCase();
  if (!digits.startsWith(prefix.toLowerCase()) || !digits.endsWith(suffix.toLowerCase())) return undefined;
  const rest = digits.slice(prefix.length, digits.length - suffix.length);
  if (!DIGITS_OF[base].test(rest)) return undefined;
  const number = parseInt(rest, base);
  return below && number !== 0 ? -number : number;
}

const POWERS = Array.from({ length: 16 }, (_, i) => 10 ** i);

/**
 * A plain decimal number with the given mark; anything else is undefined. Up to 15 digits are exact as an integer, and so
 * is their power of ten: one division of the two is the nearest number (IEEE 754 §4.3), as reading the text would be.
 */
function parseNumber(text: string, mark: "." | ","): number | undefined {
  if (text.length > 24) return undefined;
  const markCode = mark.charCodeAt(0);
  let digits = 0;
  let whole = 0;
  let markAt = -1;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c >= 48 && c <= 57) {
      digits++;
      whole = whole * 10 + c - 48;
    } else if (c === markCode && markAt < 0) markAt = i;
    else if (!(i === 0 && (c === 45 || c === 43))) return undefined;
  }
  if (digits === 0) return undefined;
  if (digits > 15) return Number(mark === "," ? text.replace(",", ".") : text);
  const size = markAt < 0 ? whole : whole / (POWERS[text.length - 1 - markAt] ?? 1);
  return text.charCodeAt(0) === 45 ? -size : size;
}

/** Equal in the sense of the type: numbers to half a step, flags in any order. */
export function equalValues(a: Value, b: Value, type: ValueType): boolean {
  if (type.kind === "number") return Math.abs((a as number) - (b as number)) < type.step / 2;
  if (type.kind === "flags" && Array.isArray(a) && Array.isArray(b)) {
    const [left, right]: [readonly string[], readonly string[]] = [a, b];
    return left.length === right.length && left.every((flag) => right.includes(flag));
  }
  return a === b;
}

/** Whether a value is of the kind that the type holds; rules of documents may bring together what is not. */
export function isOfKind(value: Value, type: ValueType): boolean {
  switch (type.kind) {
    case "number":
      return typeof value === "number";
    case "switch":
      return typeof value === "boolean";
    case "flags":
      return Array.isArray(value);
    case "choice":
    case "text":
      return typeof value === "string";
  }
}

/** The nearest multiple of the step within the range; of a range that holds none, its end. */
function limitNumber(value: number, { min, max, step }: Extract<ValueType, { kind: "number" }>): number {
  const ended = Math.min(max, Math.max(min, value));
  const near = quantize(ended, step);
  if (near >= min && near <= max) return near;
  const inside = quantize(near > max ? near - step : near + step, step);
  return inside >= min && inside <= max ? inside : ended;
}

/** The nearest value that the type allows, or undefined when a word has no counterpart or the value is of another kind. */
export function limitValue(value: Value, type: ValueType): Value | undefined {
  if (!isOfKind(value, type)) return undefined;
  switch (type.kind) {
    case "number":
      return limitNumber(value as number, type);
    case "choice":
      return type.options.includes(value as string) ? value : undefined;
    case "flags":
      return (value as readonly string[]).filter((flag) => type.options.includes(flag));
    case "text":
      return (value as string).slice(0, type.maxLength);
    case "switch":
      return value;
  }
}

/** For people: with unit, on/off in words; a value of another kind as it stands. */
export function showValue(value: Value, type: ValueType): string {
  if (!isOfKind(value, type)) return String(value);
  switch (type.kind) {
    case "number": {
      const text = (value as number).toFixed(decimalsOf(type.step));
      return type.unit ? `${text} ${type.unit}` : text;
    }
    case "switch":
      return value === true ? "on" : "off";
    case "flags":
      return (value as readonly string[]).length === 0 ? "none" : (value as readonly string[]).join(", ");
    case "choice":
    case "text":
      return value === "" ? "empty" : (value as string);
  }
}

/** A text of which every character can be seen: control characters as their codes in hex. */
export const visibleText = (text: string): string =>
  text.replace(/[\0-\x08\x0b-\x1f\x7f]/g, (c) => `\\x${c.charCodeAt(0).toString(16).padStart(2, "0")}`);
