import { decimalsOf, parseValue, type Value, type ValueType } from "@/core/config";
import type { Idiom } from "@/core/idiom";

export type TypeDocument =
  | { number: { min: number; max: number; step: number; unit?: string } }
  | { switch: true }
  | { choice: string[] }
  | { flags: string[] }
  | { text: number };

/** Three times what the largest release of today has of different words in one choice. */
const MOST_WORDS = 64;
const NUMBER = /^[+-]?\d{1,12}([.,]\d{1,9})?$/;
const UNIT = "[^\\d\\s.,+-][^\\d\\s.,]{0,11}";
const BEHIND = new RegExp(`^([+-]?[\\d.,]+)\\s*(${UNIT})$`);
const BEFORE = new RegExp(`^(${UNIT})\\s*([+-]?[\\d.,]+)$`);
const WORD = /^[\p{L}][\p{L}\d-]{0,40}$/u;

/** A round bound above a number: 10, 20, 50, 100 … of its size. */
function boundAbove(value: number): number {
  if (value <= 0) return 100;
  const size = 10 ** Math.floor(Math.log10(value));
  const steps = [2, 5, 10, 20, 50];
  return Number(((steps.find((step) => step * size >= value * 2) ?? 100) * size).toPrecision(12));
}

interface Figure {
  readonly value: number;
  readonly decimals: number;
  readonly unit: string | undefined;
}

/** A text as a number in the idiom's spelling, with the decimals that it is written with. */
function figureOf(text: string, { spelling }: Idiom): Figure | undefined {
  const { unit: joint, unitFirst, base, prefix = "", decimalMark } = spelling;
  let [digits, unit] = [text, undefined as string | undefined];
  if (joint !== undefined) {
    const parted = (unitFirst === true ? BEFORE : BEHIND).exec(text);
    const [, first, second] = parted ?? [];
    if (first !== undefined && second !== undefined)
      [digits, unit] = unitFirst === true ? [second, first] : [first, second];
  }
  const small = digits.toLowerCase();
  if (base !== undefined && prefix !== "" && small.replace("-", "").startsWith(prefix.toLowerCase())) {
    const value = parseInt(small.replace(prefix.toLowerCase(), ""), base);
    return Number.isSafeInteger(value) ? { value, decimals: 0, unit } : undefined;
  }
  if (!NUMBER.test(digits) || digits.includes(decimalMark === "." ? "," : ".")) return undefined;
  return { value: Number(digits.replace(",", ".")), decimals: digits.split(decimalMark)[1]?.length ?? 0, unit };
}

function numberType(figures: readonly Figure[]): TypeDocument {
  const [least, most] = [
    Math.min(...figures.map(({ value }) => value)),
    Math.max(...figures.map(({ value }) => value)),
  ];
  const bound = boundAbove(Math.max(Math.abs(least), Math.abs(most)));
  const decimals = Math.max(...figures.map((each) => each.decimals));
  const unit = figures[0]?.unit;
  return {
    number: {
      min: least < 0 ? -bound : 0,
      max: bound,
      step: Number((10 ** -decimals).toFixed(decimals)),
      ...(unit === undefined ? {} : { unit }),
    },
  };
}

/** The narrowest type that takes all that stood for one setting. */
export function typeOfTexts(texts: readonly string[], idiom: Idiom): TypeDocument {
  const { on, off, onAlso = [], offAlso = [], empty, listMark } = idiom.spelling;
  const said = texts.filter((text) => text !== empty);
  const longest = Math.max(32, ...texts.map(({ length }) => length));
  if (said.length === 0) return { text: longest };
  const figures = said.map((text) => figureOf(text, idiom));
  if (
    said.length === texts.length &&
    figures.every((figure) => figure !== undefined) &&
    new Set(figures.map((f) => f.unit)).size === 1
  )
    return numberType(figures);
  const switches = new Set([on, off, ...onAlso, ...offAlso]);
  if (texts.every((text) => switches.has(text))) return { switch: true };
  const parts = said.map((text) => text.split(listMark));
  const words = [...new Set(parts.flat())];
  if (parts.some((each) => each.length > 1) && words.every((word) => WORD.test(word)) && words.length <= MOST_WORDS)
    return { flags: words };
  if (said.length === texts.length && said.every((text) => WORD.test(text)) && words.length <= MOST_WORDS)
    return { choice: [...new Set(said)] };
  return { text: longest };
}

const asType = (type: TypeDocument): ValueType => {
  if ("number" in type) return { kind: "number", ...type.number };
  if ("switch" in type) return { kind: "switch" };
  if ("choice" in type) return { kind: "choice", options: type.choice };
  return "flags" in type ? { kind: "flags", options: type.flags } : { kind: "text", maxLength: type.text };
};

/** The value of a text in a type that was made of it. */
export function valueIn(text: string, type: TypeDocument, idiom: Idiom): Value {
  const kind = asType(type);
  const value = parseValue(text, kind, idiom.spelling);
  if (value.ok)
    return kind.kind === "number" ? Number((value.value as number).toFixed(decimalsOf(kind.step))) : value.value;
  return kind.kind === "number"
    ? kind.min
    : kind.kind === "switch"
      ? false
      : kind.kind === "flags"
        ? []
        : kind.kind === "choice"
          ? (kind.options[0] ?? "")
          : "";
}
