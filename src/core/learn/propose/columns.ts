import { takeInUse, type Fields } from "@/core/learn/propose/fields";
import { countOf, fieldOf, literal, note, openLines, type Draft } from "@/core/learn/propose/sample";
import type { ValueShape } from "@/core/learn/propose/values";

const MARKS = [";", "|", "\t", ","] as const;
/** A profile before the name of its value: “tune 1”. */
const PLACE = /^\p{L}[\p{L}-]* \d{1,2}$/u;

/** What columns are called in a line above them. */
const TITLES = {
  key: /^(key|name|parameter|setting)$/i,
  value: /^(value|values|now)$/i,
  title: /^(title|label|description|meaning)$/i,
  unit: /^(unit|units|in)$/i,
} as const;
const titleOf = (word: string): string | undefined =>
  Object.entries(TITLES).find(([, named]) => named.test(word.trim()))?.[0];

interface Columns {
  readonly mark: string;
  /** Fields of a line, the last one its value. */
  readonly names: readonly string[];
  readonly header: Fields | undefined;
  readonly plain: readonly Fields[];
  /** Lines with a profile before their name. */
  readonly placed: readonly Fields[];
}

function columnsIn(draft: Draft): Columns | undefined {
  const lines = openLines(draft);
  for (const mark of MARKS) {
    const celled = lines
      .map((line): Fields => ({ line, words: line.text.split(mark) }))
      .filter(({ words }) => words.length >= 3);
    const header = celled.find(
      ({ words }) => words.map(titleOf).includes("key") && titleOf(words.at(-1) ?? "") === "value",
    );
    const firsts = new Map(countOf(celled.map(({ words }) => words[0] ?? "")));
    // what stands above the columns' titles is of no column
    const below = celled.filter(({ line }) => line.no > (header?.line.no ?? 0));
    const single = below.filter(({ words }) => firsts.get(words[0] ?? "") === 1);
    const width = header?.words.length ?? countOf(single.map(({ words }) => words.length))[0]?.[0] ?? 0;
    const plain = single.filter(({ words }) => words.length === width && !PLACE.test(words[0] ?? ""));
    const placed = celled.filter(({ words }) => words.length === width + 1 && PLACE.test(words[0] ?? ""));
    if (plain.length < 3 || plain.length + placed.length < lines.length * 0.5) continue;
    const names = Array.from({ length: width }, (_, i) => {
      if (header) return titleOf(header.words[i] ?? "") ?? `text${i}`;
      return i === 0 ? "key" : i === width - 1 ? "value" : `text${i}`;
    });
    if (new Set(names).size === width) return { mark, names, header, plain, placed };
  }
  return undefined;
}

/** Values in columns, with what a definition says of a setting between its name and its value: “gain;Base gain;Hz;12.5”. */
export function findColumns(draft: Draft): ValueShape | undefined {
  const found = columnsIn(draft);
  if (!found) return undefined;
  const { mark, names, header, plain, placed } = found;
  const all = [...plain, ...placed];
  for (const { line } of all) line.means = "set";
  takeFirmware(draft, mark);
  takeTables(draft, mark);
  const rest = openLines(draft).map((line): Fields => ({ line, words: line.text.split(mark) }));
  for (const [head] of countOf(rest.map(({ words }) => words[0] ?? "")))
    takeInUse(
      draft,
      head,
      mark,
      rest.filter(({ words }) => words[0] === head && words.length > 1),
    );
  if (header) {
    draft.forms.push({ means: "comment", pattern: literal(header.line.text) });
    header.line.means = "comment";
  }
  const pattern = names.map((name, i) => (i === names.length - 1 ? `{${name}...}` : `{${name}}`)).join(literal(mark));
  if (placed.length > 0)
    draft.forms.push({ means: "set", pattern: `{profile} {number:digits}${literal(mark)}${pattern}` });
  draft.forms.push({ means: "set", pattern });
  note(
    draft,
    `Values stand in columns, with “${mark}” between: ${names.map((name) => (name.startsWith("text") ? "…" : name)).join(", ")}`,
    header ? 0.95 : 0.75,
    all.map(({ line }) => line),
  );
  const at = names.indexOf("key");
  return {
    head: "",
    joint: mark,
    lines: all.map(({ line, words }) => {
      const own = words.slice(words.length - names.length);
      return { line, left: own[at] ?? "", right: own.at(-1) ?? "", wide: 0 };
    }),
  };
}

/** “firmware;Reedling;4;T1”: a word that names a fact, and facts in the order in which one says them. */
function takeFirmware(draft: Draft, mark: string): void {
  for (const line of openLines(draft)) {
    const [head = "", family = "", release = "", target, ...more] = line.text.split(mark);
    if (fieldOf(draft, head) !== "family" || !/^\p{L}/u.test(family) || !/^\d/.test(release) || more.length > 0)
      continue;
    const fields = ["{family}", "{release}", ...(target === undefined ? [] : ["{target}"])];
    draft.forms.unshift({ means: "fact", pattern: [literal(head), ...fields].join(literal(mark)) });
    line.means = "fact";
    note(draft, `“${line.text}” says what the read-out comes from`, 0.7, [line]);
    return;
  }
}

/** “table;sockets” and “row;sockets;1;ear”: a word, the table, and cells by their place. */
function takeTables(draft: Draft, mark: string): void {
  const rest = openLines(draft).map((line): Fields => ({ line, words: line.text.split(mark) }));
  for (const [head, n] of countOf(rest.map(({ words }) => words[0] ?? ""))) {
    const own = rest.filter(({ words }) => words[0] === head);
    if (n < 2 || !own.every(({ words }) => words.length >= 4)) continue;
    const tables = new Set(own.map(({ words }) => words[1] ?? ""));
    const opened = rest.filter(({ words }) => words.length === 2 && tables.has(words[1] ?? ""));
    const [opens] = new Set(opened.map(({ words }) => words[0] ?? ""));
    if (opens === undefined) draft.rows.unopened = true;
    else draft.forms.push({ means: "clear", pattern: `${literal(opens + mark)}{table}` });
    draft.forms.push({ means: "row", pattern: `${literal(head + mark)}{table}${literal(mark)}{cells...}` });
    Object.assign(draft.rows, { cells: "placed", between: mark });
    for (const { line } of opened) line.means = "clear";
    for (const { line } of own) line.means = "row";
    note(
      draft,
      `“${head}” gives a row of ${[...tables].join(", ")}`,
      0.85,
      own.map(({ line }) => line),
    );
    return;
  }
}
