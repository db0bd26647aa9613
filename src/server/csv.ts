import Papa from "papaparse";

/** A number, with its unit or without: no formula, however it begins. */
const isNumber = (text: string): boolean => /^[-+]?\d[\d.]*(?:e[-+]?\d+)?(?: [^\s=+@|!()-]{1,12})?$/i.test(text);

/** What a spreadsheet could take for the beginning of a formula: at the beginning of a cell, or of what it may split off. */
const FORMULA = /(^|[;|\t\r\n])([^\S\t\r\n]*[=+\-@＝＋－＠])/g;

/** A cell that a spreadsheet would take for a formula is told apart by an apostrophe; numbers stay numbers. */
export const harmless = (text: string): string => (isNumber(text) ? text : text.replace(FORMULA, "$1'$2"));

export type CsvLine = Readonly<Record<string, string | number>>;

/** Rows as CSV (RFC 4180): the one writer of every table that leaves the workshop. Each cell and head is harmless to a spreadsheet. */
export const csvOf = (lines: readonly CsvLine[]): string =>
  Papa.unparse(
    lines.map((line) =>
      Object.fromEntries(
        Object.entries(line).map(([name, cell]) => [harmless(name), typeof cell === "string" ? harmless(cell) : cell]),
      ),
    ),
    { newline: "\r\n" },
  );
