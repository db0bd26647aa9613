import { countFrom, followedByValue } from "@/core/learn/propose/headings";
import { countOf, literal, note, openLines, type Draft, type SampleLine } from "@/core/learn/propose/sample";
import type { ValueShape } from "@/core/learn/propose/values";

/** Rows that were taken for values: one name again and again, with keys that count up. */
export function findRowsAmongValues(draft: Draft, { head, joint, lines }: ValueShape): void {
  const tables = countOf(lines.map(({ left }) => left)).filter(([name, n]) => {
    const own = lines.filter(({ left }) => left === name);
    const firsts = own.map(({ right }) => Number(/^\d{1,4}/.exec(right)?.[0] ?? NaN));
    const counts = firsts.filter((n) => !Number.isNaN(n));
    const run = own.every((each, i) => i === 0 || each.line.no - (own[i - 1]?.line.no ?? 0) <= 2);
    return (
      n >= 2 &&
      run &&
      counts.length >= n - 1 &&
      counts.every((n, i) => i === 0 || n > (counts[i - 1] ?? 0)) &&
      own.some(({ right }) => /[ ,;]/.test(right))
    );
  });
  for (const [table] of tables) {
    const own = lines.filter(({ left }) => left === table);
    const opening = own.filter(({ right }) => !/^\d/.test(right));
    for (const { right, line } of opening.slice(0, 1)) {
      draft.forms.unshift({ means: "clear", pattern: `${literal(head)}{table}${literal(joint)}${literal(right)}` });
      line.means = "clear";
    }
    const rows = own.filter((each) => !opening.includes(each));
    draft.forms.unshift({ means: "row", pattern: `${literal(head + table + joint)}{cells...}`, with: { table } });
    for (const { line } of rows) line.means = "row";
    shapeOfCells(
      draft,
      rows.map(({ right }) => right),
    );
    note(
      draft,
      `“${table}” is a table, each of these lines a row of it`,
      0.85,
      rows.map(({ line }) => line),
    );
    if (opening.length === 0) draft.rows.unopened = true;
  }
}

/** How the cells of rows stand: by name or by place, with what between. */
function shapeOfCells(draft: Draft, rows: readonly string[]): void {
  const between = [", ", ",", ";", "|"].find((mark) => rows.every((row) => row.includes(mark)));
  const words = rows.flatMap((row) => row.split(between ?? " ").slice(1));
  const marked = words.filter((word) => CELL.test(word));
  const mark =
    marked.length === 0 ? undefined : ["=>", "=", ":", "~"].find((each) => marked.every((word) => word.includes(each)));
  const named =
    mark ?? (between !== undefined && words.every((word) => /^\S+ \S+$/.test(word.trim())) ? " " : undefined);
  if (between !== undefined) draft.rows.between = between;
  if (named === undefined) draft.rows.cells = "placed";
  else draft.recital.cellMark = named;
  const lengths = new Set(rows.map((row) => row.split(between ?? " ").length));
  const names = new Set(
    rows.map((row) =>
      row
        .split(between ?? " ")
        .slice(1)
        .map((word) => word.trim().split(named ?? " ")[0])
        .join(),
    ),
  );
  if (named !== undefined && (lengths.size > 1 || names.size > 1)) draft.rows.sparse = true;
}

interface Group {
  readonly word: string;
  readonly lines: readonly SampleLine[];
}

const groupsOf = (draft: Draft): Group[] =>
  countOf(openLines(draft).map(({ text }) => /^[^\s\p{L}\d]|^\S+/u.exec(text)?.[0] ?? "")).map(([word]) => ({
    word,
    lines: openLines(draft).filter(({ text }) => (/^[^\s\p{L}\d]|^\S+/u.exec(text)?.[0] ?? "") === word),
  }));

/** What remains, by the word that lines begin with: choices of profiles, what is in use, rows, and where tables begin. */
export function findStatements(draft: Draft): void {
  for (const group of groupsOf(draft))
    if (!takeNamedRows(draft, group) && !takeRows(draft, group)) takeChoices(draft, group);
  takeClears(draft);
}

const CELL = /^["'`]?[\p{L}][\p{L}\d-]*(?:=>|[=:~])\S/u;

/** Rows whose cells have names: the table is the last word before them that most lines of the group share. */
function takeNamedRows(draft: Draft, { lines }: Group): boolean {
  const parts = lines.map(({ text }) => text.split(" "));
  const cell = parts.map((words) => words.findIndex((word) => CELL.test(word)));
  const celled = parts.filter((_, i) => (cell[i] ?? -1) >= 2);
  if (celled.length < Math.max(1, lines.length * 0.6)) return false;
  const before = Math.min(...cell.filter((at) => at >= 2));
  const shared = Array.from({ length: before }, (_, i) => i).filter((i) => {
    const words = celled.map((each) => each[i] ?? "");
    return (
      words.every((word) => /^\p{L}/u.test(word)) &&
      (i === 0 || new Set(words).size <= Math.max(1, celled.length * 0.6))
    );
  });
  const at = shared.at(-1) ?? 0;
  const name = (celled[0]?.[at] ?? "").replace(/[:,]$/, "");
  const mark = (celled[0]?.[at] ?? "").slice(name.length);
  const head = celled[0]?.slice(0, at) ?? [];
  const lead = head.length === 0 ? "" : `${literal(head.join(" "))} `;
  draft.forms.unshift(
    at === 0
      ? { means: "row", pattern: `${literal(name + mark)} {cells...}`, with: { table: name } }
      : { means: "row", pattern: `${lead}{table}${literal(mark)} {cells...}` },
  );
  const rows = lines.filter((_, i) => (cell[i] ?? -1) >= 2);
  for (const line of rows) line.means = "row";
  shapeOfCells(
    draft,
    celled.map((words) => words.slice(at + 1).join(" ")),
  );
  note(draft, `“${rows[0]?.text ?? ""}” is a row of a table, its cells by name`, 0.9, rows);
  return true;
}

function takeRows(draft: Draft, { lines }: Group): boolean {
  const all = lines;
  const parts = lines.map(({ text }) => text.split(" "));
  const first = (words: readonly string[]) => words.findIndex((word) => /^\d{1,4}(?:[,;|].*)?$/.test(word));
  // a line of the group without a key begins the table
  const opening = lines.filter(({ text }) => first(text.split(" ")) < 0);
  const [begin] = opening;
  if (begin && opening.length < all.length / 2 && begin.no < (lines.at(-1)?.no ?? 0)) {
    const word = begin.text.split(" ").slice(0, -1).join(" ").replace(/[:,]$/, "");
    if (word !== "" && !word.includes(" ")) {
      draft.forms.unshift({ means: "clear", pattern: literal(begin.text).replace(word, "{table}") });
      for (const line of opening) line.means = "clear";
      return takeRows(draft, { word: begin.text, lines: lines.filter((line) => !opening.includes(line)) });
    }
  }
  const at = parts.map(first);
  const cells = parts.map((words, i) => words.slice((at[i] ?? 0) + 1));
  const celled = cells.filter(
    (words, i) =>
      words.length >= 2 || words.some((word) => /[=:~]/.test(word)) || /[,;|]/.test(parts[i]?.[at[i] ?? 0] ?? ""),
  );
  if (at.some((place) => place < 1) || celled.length < lines.length * 0.7) return false;
  // one line alone says too little, unless its cells have names
  if (lines.length < 2 && !celled.every((words) => words.length >= 2 && words.every((word) => /\S[=:~]/.test(word))))
    return false;
  const place = at[0] ?? 1;
  const before = parts.map((words) => words.slice(0, place));
  const table = before[0]?.at(-1) ?? "";
  const heads = new Set(before.map((words) => words.slice(0, -1).join(" ")));
  const arrow = /^[^\p{L}\d]+$/u.test(table) ? ` ${table}` : "";
  const name = (arrow === "" ? table : (before[0]?.at(-2) ?? "")).replace(/[:,]$/, "");
  const mark = arrow !== "" ? arrow : table.slice(name.length);
  const head = arrow === "" ? before[0]?.slice(0, -1) : before[0]?.slice(0, -2);
  if (heads.size > 2 || name === "") return false;
  const bare = head?.length === 0 && mark === "";
  draft.forms.unshift(
    bare
      ? { means: "row", pattern: `${literal(name)} {cells...}`, with: { table: name } }
      : {
          means: "row",
          pattern: `${literal(head?.length ? `${head.join(" ")} ` : "")}{table}${literal(mark)} {cells...}`,
        },
  );
  for (const line of lines) line.means = "row";
  shapeOfCells(
    draft,
    parts.map((words, i) => words.slice(at[i] ?? 0).join(" ")),
  );
  note(draft, `“${lines[0]?.text ?? ""}” is a row of a table`, 0.85, lines);
  return true;
}

/** Where the number of a profile stands in a line, and its kind before it. */
function choiceIn(text: string, joint: RegExp): { kind: string; number: string; joint: string } | undefined {
  const found = joint.exec(text);
  return found?.[1] !== undefined && found[2] !== undefined && found[3] !== undefined
    ? { kind: found[1], joint: found[2], number: found[3] }
    : undefined;
}

/** “tune 2”, “tune/2”; “tune no 2”. */
const CHOICES = [
  /(\p{L}[\p{L}-]*)([ /:])(\d{1,2}|[A-Za-z])$/u,
  /(\p{L}[\p{L}-]*)( \p{L}{1,8} )(\d{1,2}|[A-Za-z])$/u,
] as const;

const takeChoices = (draft: Draft, group: Group): boolean =>
  CHOICES.some((joint) => takeChoicesBy(draft, group, joint));

function takeChoicesBy(draft: Draft, { lines }: Group, by: RegExp): boolean {
  const choices = lines.map(({ text }) => choiceIn(text, by));
  if (choices.some((each) => each === undefined)) return false;
  const heads = lines.map(({ text }, i) => {
    const each = choices[i];
    return each ? text.slice(0, text.length - `${each.kind}${each.joint}${each.number}`.length) : "";
  });
  if (new Set(heads).size !== 1) return false;
  const kinds = countOf(choices.map((each) => each?.kind ?? ""));
  const opens = lines.filter((line) => followedByValue(draft, line));
  const head = heads[0] ?? "";
  if (head === "" && lines.length < 2) return false;
  const means = opens.length >= Math.max(1, lines.length * 0.4) && kinds.some(([, n]) => n > 1) ? "select" : "activate";
  if (lines.length < 2 && means === "select") return false;
  draft.forms.unshift({ means, pattern: `${literal(head)}{profile}${choices[0]?.joint ?? " "}{number}` });
  for (const line of lines) line.means = means;
  const all = choices.map((each) => each?.number ?? "");
  countFrom(draft, all);
  note(
    draft,
    means === "select"
      ? `“${lines[0]?.text ?? ""}” chooses the profile of what follows: ${kinds.map(([kind]) => kind).join(", ")}`
      : `“${lines[0]?.text ?? ""}” says which profile is in use`,
    0.85,
    lines,
  );
  return true;
}

/** A line before the first row of a table that names it. */
function takeClears(draft: Draft): void {
  const rows = draft.lines.filter(({ means }) => means === "row");
  const row = draft.forms.find(({ means }) => means === "row");
  if (!row || rows.length === 0 || draft.forms.some(({ means }) => means === "clear")) return;
  for (const line of openLines(draft)) {
    const next = draft.lines.slice(line.no).find(({ text }) => text !== "");
    const word =
      next?.means === "row"
        ? line.text.split(" ").find((each) => each.length > 2 && next.text.includes(each))
        : undefined;
    if (word === undefined) continue;
    const pattern = literal(line.text).replace(word, "{table}");
    const fits = openLines(draft).filter(
      ({ text }) =>
        text.split(" ").length === line.text.split(" ").length && text.startsWith(line.text.split(word)[0] ?? ""),
    );
    draft.forms.unshift({ means: "clear", pattern });
    for (const each of fits) each.means = "clear";
    note(draft, `“${line.text}” begins a table`, 0.8, fits);
    return;
  }
  draft.rows.unopened = true;
}
