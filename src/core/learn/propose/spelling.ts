import { countOf, note, type Draft } from "@/core/learn/propose/sample";
import type { ValueShape } from "@/core/learn/propose/values";

const SWITCHES: readonly (readonly [on: string, off: string])[] = [
  ["on", "off"],
  ["yes", "no"],
  ["true", "false"],
  ["enabled", "disabled"],
  ["y", "n"],
  ["ja", "nee"],
  ["1", "0"],
];
const NOTHINGS = ["nothing", "none", "nil", "leeg", "empty", "void", "-", "~"] as const;
const LIST = /^[\p{L}][\p{L}\d-]*( ?[+|&,] ?)[\p{L}][\p{L}\d-]*(?: ?[+|&,] ?[\p{L}][\p{L}\d-]*)*$/u;

/** Words of which the first two have letters: no number with its unit, and no flags. */
const PROSE = /^\p{L}[\p{L}\d]*[,.]? \p{L}[\p{L}\d]*[^+|&]*$/u;

/** How values are spelled: what stands for on and off, what joins flags, decimals, units, quotes. */
export function findSpelling(draft: Draft, shape: ValueShape | undefined): void {
  const all = shape?.lines ?? [];
  const rows = draft.lines.filter(({ means }) => means === "row").flatMap(({ text }) => text.split(/[\s,=:~>]+/));
  const quotes = countOf(draft.lines.flatMap(({ text }) => text.match(/["'`]/g) ?? []))[0];
  const quote = quotes?.[0] ?? '"';
  const bare = all.map(({ right }) => (right.startsWith(quote) && right.endsWith(quote) ? right.slice(1, -1) : right));
  const words = new Set([...bare, ...rows]);
  const switches = SWITCHES.map((pair) => ({ pair, n: pair.filter((word) => words.has(word)).length }))
    .filter(({ pair: [word] }) => word !== "1")
    .toSorted((a, b) => b.n - a.n)
    .find(({ n }) => n > 0)?.pair;
  const [on, off] = switches ?? (["on", "off"] as const);
  // words with a comma between may be prose: those with another mark say more
  const marks = countOf(bare.flatMap((text) => LIST.exec(text)?.[1] ?? []));
  const listMark = (marks.find(([mark]) => mark.trim() !== ",") ?? marks.find(([mark]) => mark === ","))?.[0] ?? "+";
  const empty = bare.includes("") ? "" : (NOTHINGS.find((word) => words.has(word)) ?? "none");
  const numbers = bare.flatMap(
    (text) => /^(?:[\p{L}°%/]+ ?)?([+-]?\d+([.,]\d+)?)(?: ?[\p{L}°%/]+)?$/u.exec(text)?.slice(0, 3) ?? [],
  );
  const commas = bare.filter((text) => /^-?\d+,\d+( ?\D+)?$/.test(text)).length;
  const points = bare.filter((text) => /^(\D+ ?)?-?\d+\.\d+( ?\D+)?$/.test(text)).length;
  const behind = countOf(bare.flatMap((text) => /^[+-]?\d[\d.,]*( ?)[\p{L}°%][\p{L}°%/²]*$/u.exec(text)?.[1] ?? []))[0];
  const before = countOf(
    bare.flatMap((text) => /^[\p{L}°%][\p{L}°%/]{0,4}( )[+-]?\d[\d.,]*$/u.exec(text)?.[1] ?? []),
  )[0];
  const based = bare.filter((text) => /^-?0x[0-9a-f]+$/i.test(text)).length;
  Object.assign(draft.spelling, { decimalMark: commas > points ? "," : ".", on, off, listMark, empty });
  const behindDigits = bare.filter((text) => /^-?[0-9a-f]+h$/i.test(text)).length;
  if (behindDigits >= 2) Object.assign(draft.spelling, { base: 16, suffix: "h" });
  else if (based >= 2) Object.assign(draft.spelling, { base: 16, prefix: "0x" });
  else if (behind && behind[1] >= 1 && points + commas > 0) draft.spelling.unit = behind[0];
  else if (before && before[1] >= 1) Object.assign(draft.spelling, { unit: before[0], unitFirst: true });
  const plain = numbers.filter((_, i) => i % 3 === 1);
  if (plain.length >= 3 && plain.every((text) => /^[+-]/.test(text)) && plain.some((text) => text.startsWith("+")))
    draft.spelling.signed = true;
  const decimals = new Set(plain.map((text) => /[.,](\d+)$/.exec(text)?.[1]?.length ?? 0));
  const [only] = decimals;
  if (plain.length >= 4 && decimals.size === 1 && only !== undefined && only > 0) draft.spelling.decimals = only;
  const whole = plain.filter((text) => /^-?\d+$/.test(text));
  const widths = new Set(whole.map((text) => text.length));
  const [width] = widths;
  if (
    whole.length >= 4 &&
    widths.size === 1 &&
    width !== undefined &&
    width > 1 &&
    whole.some((text) => /^-?0\d/.test(text))
  )
    draft.spelling.width = width;
  const bracketed = bare.filter((text) => /^\[.*\]$/.test(text));
  const inner = bracketed.flatMap((text) => LIST.exec(text.slice(1, -1))?.[1] ?? []);
  if (bracketed.length >= 2 && inner.length > 0)
    Object.assign(draft.spelling, { list: { open: "[", close: "]" }, listMark: inner[0], empty: "" });
  // without any quote, a value of several words or of none says that there are no quotes
  const isBare =
    !all.some(({ right }) => /^(["'`]).*\1$/.test(right)) && bare.some((text) => text === "" || PROSE.test(text));
  draft.top.quote = isBare ? undefined : quote;
  if (draft.lines.some(({ text }) => new RegExp(`\\S${quote}${quote}\\S`).test(text))) draft.top.escape = quote;
  const quoted = all.filter(({ right }) => right.startsWith(quote));
  if (quoted.some(({ right }) => /^.[\p{L}\d-]+.$/u.test(right) || right.length === 2)) draft.top.quoted = "texts";
  if (based >= 2 && draft.rows.cells === "placed")
    draft.rows.mask = draft.lines.some(({ means, text }) => means === "row" && /0x\S+$/.test(text));
  const seen = [
    ...(switches ? [`“${on}” and “${off}”`] : []),
    ...(marks.some(([mark]) => mark === listMark) ? [`“${listMark}” between flags`] : []),
    ...(empty === "" ? ["nothing for what is empty"] : words.has(empty) ? [`“${empty}” for nothing`] : []),
    ...(isBare ? ["no quotes"] : []),
  ];
  if (seen.length > 0)
    note(
      draft,
      `Values: ${seen.join(", ")}`,
      0.6,
      all.slice(0, 3).map(({ line }) => line),
    );
}
