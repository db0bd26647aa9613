import { countOf, literal, note, openLines, type Draft, type SampleLine } from "@/core/learn/propose/sample";

const HEADINGS: readonly (readonly [open: string, close: string])[] = [
  ["[", "]"],
  ["<", ">"],
  ["== ", " =="],
  ["=== ", " ==="],
  ["-- ", " --"],
  ["--- ", " ---"],
  ["*** ", " ***"],
  ["## ", ""],
];

const isNumber = (word: string) => /^\d{1,3}$|^[A-Za-z]$/.test(word);

const CLOSERS = [
  ["{", "}"],
  ["(", ")"],
  ["[", "]"],
  ["begin", "end"],
  [":", "end"],
] as const;

/** Headings that are closed: lines that end with a mark, and as many that are its counterpart alone. */
function findBlocks(draft: Draft): boolean {
  const lines = openLines(draft);
  for (const [open, close] of CLOSERS) {
    const opened = lines.filter(({ text }) => text.endsWith(open) && text.length > open.length);
    const closed = lines.filter(({ text }) => text === close);
    if (closed.length < 2 || opened.length !== closed.length) continue;
    const inner = (line: SampleLine) => line.text.slice(0, -open.length).trim();
    const gap = opened.every(({ text }) => text.slice(0, -open.length).endsWith(" ")) ? " " : "";
    const tail = gap + literal(open);
    const words = opened.map((line) => inner(line).split(" "));
    const numbered = opened.filter((_, i) => (words[i]?.length ?? 0) >= 2 && isNumber(words[i]?.at(-1) ?? ""));
    // what stands between name and number is the same in all of them: “tune no 1 {”
    const between = new Set(numbered.map((line) => inner(line).split(" ").slice(1, -1).join(" ")));
    const [joint = ""] = between;
    if (numbered.length > 0 && between.size === 1)
      draft.forms.push({
        means: "section",
        pattern: `{section} ${joint === "" ? "" : `${literal(joint)} `}{number}${tail}`,
      });
    countFrom(
      draft,
      numbered.map((line) => inner(line).split(" ").at(-1) ?? ""),
    );
    const plain = opened.filter((line) => !numbered.includes(line) && !inner(line).includes(" "));
    if (plain.length > 0) {
      draft.forms.push({ means: "section", pattern: `{prefix}${tail}` });
      draft.top.keysUnder = ".";
    }
    draft.forms.push({ means: "leave", pattern: literal(close) });
    for (const line of [...numbered, ...plain]) line.means = "section";
    for (const line of closed) line.means = "leave";
    const indent = /^[ \t]+/.exec(draft.lines[opened[0]?.no ?? 0]?.raw ?? "")?.[0];
    if (indent !== undefined && indent.length <= 8) draft.text.indent = indent;
    note(draft, `“… ${open}” opens a place, and “${close}” closes it`, 0.95, [...opened, ...closed]);
    return true;
  }
  return false;
}

/** What profiles are counted by, where their numbers are letters or begin at nothing. */
export function countFrom(draft: Draft, numbers: readonly string[]): void {
  if (numbers.length === 0) return;
  if (numbers.every((number) => /^[A-Za-z]$/.test(number)))
    draft.top.countFrom = numbers.some((each) => each === "a") ? "a" : "A";
  else if (numbers.includes("0")) draft.top.countFrom = 0;
}

/** Tables under headings of their own, whose rows are lists that say no name: “[[sockets]]”, “1, ear, 100”. */
function findTables(draft: Draft): void {
  const parts = (text: string) => text.split(/,\s*/);
  const listed = (line: SampleLine | undefined) =>
    line !== undefined && line.means === undefined && parts(line.text).length >= 3 && /^\d/.test(line.text);
  const heads = openLines(draft).filter(
    (line) => /^\[\[.+\]\]$|^\(\(.+\)\)$|^<<.+>>$/.test(line.text) && listed(draft.lines[line.no]),
  );
  const [first] = heads;
  if (!first) return;
  const [open, close] = [first.text.slice(0, 2), first.text.slice(-2)];
  const rows: SampleLine[] = [];
  for (const head of heads)
    for (let at = head.no; listed(draft.lines[at]); at++) {
      const row = draft.lines[at];
      if (row) rows.push(row);
    }
  for (const line of heads) line.means = "clear";
  for (const line of rows) line.means = "row";
  draft.forms.push({ means: "clear", pattern: `${literal(open)}{table}${literal(close)}` });
  // it fits whatever stands there, so it comes last
  draft.last = { means: "row", pattern: "{cells...}" };
  Object.assign(draft.rows, { cells: "placed", between: rows.every(({ text }) => text.includes(", ")) ? ", " : "," });
  note(draft, `“${first.text}” begins a table, and the lists below are its rows`, 0.9, [...heads, ...rows]);
}

/** Headings: lines between the same marks, or behind the same word, with values below. */
export function findHeadings(draft: Draft): boolean {
  if (findBlocks(draft)) return true;
  findTables(draft);
  const lines = openLines(draft);
  for (const [open, close] of HEADINGS) {
    const fits = lines.filter(
      ({ text }) => text.startsWith(open) && text.endsWith(close) && text.length > open.length + close.length,
    );
    if (fits.length < 2) continue;
    takeHeadings(draft, open, close, fits);
    return true;
  }
  // a word before each: “begin tune 0”
  const [word] = countOf(lines.flatMap(({ text }) => /^(\p{L}+) \S/u.exec(text)?.[1] ?? []));
  if (!word || word[1] < 3) return false;
  const fits = lines.filter(({ text }) => text.startsWith(`${word[0]} `));
  const after = fits.filter((line) => followedByValue(draft, line));
  const bare = fits.some(({ text }) => text.split(" ").length === 2);
  if (!bare || after.length < fits.length * 0.8 || after.length < 3) return false;
  takeHeadings(draft, `${word[0]} `, "", fits);
  return true;
}

/** Whether the next line that says something gives a value. */
export const followedByValue = ({ lines }: Draft, line: SampleLine): boolean => {
  const next = lines.slice(line.no).find(({ text, means }) => text !== "" && means !== "comment");
  return next?.means === "set" || next?.means === "member";
};

function takeHeadings(draft: Draft, open: string, close: string, fits: readonly SampleLine[]): void {
  const inner = (line: SampleLine) => line.text.slice(open.length, line.text.length - close.length).trim();
  const tail = countOf(fits.flatMap((line) => / (\([^)]+\)|\*)$/.exec(inner(line))?.[1] ?? []))[0];
  const bare = (line: SampleLine) => (tail ? inner(line).replace(` ${tail[0]}`, "") : inner(line));
  const numbered = fits.filter((line) => bare(line).split(" ").length >= 2);
  const [from, to] = [literal(open), literal(close)];
  if (tail) {
    draft.forms.push({ means: "section", pattern: `${from}{section} {number} ${literal(tail[0])}${to}`, active: true });
    note(
      draft,
      `“${tail[0]}” in a heading marks the profile in use`,
      0.7,
      fits.filter((line) => inner(line).endsWith(tail[0])),
    );
  }
  if (numbered.length > 0) draft.forms.push({ means: "section", pattern: `${from}{section} {number}${to}` });
  countFrom(
    draft,
    numbered.map((line) => bare(line).split(" ").at(-1) ?? ""),
  );
  const single = fits.filter((line) => !numbered.includes(line));
  // a heading that comes again in other places is no place: what stands under it begins so
  const again = countOf(single.map(bare)).some(([, n]) => n > 1);
  if (again) draft.top.keysUnder = ".";
  draft.forms.push({ means: "section", pattern: `${from}${again ? "{prefix}" : "{section}"}${to}` });
  for (const line of fits) line.means = "section";
  note(draft, `“${open}…${close}” is a heading`, 0.9, fits);
  nameSections(draft, fits.map(bare), fits);
  nameApart(draft, open, close);
  // a blank line stands before each, but for the first of all
  const isParted = fits.every(({ no }) => no === 1 || draft.lines[no - 2]?.raw.trim() === "");
  if (isParted && fits.length > 1) for (const form of draft.forms) if (form.means === "section") form.before = [""];
}

/** Headings of several words, where a heading of two is a place and its number: each has a form of its own. */
function nameApart(draft: Draft, open: string, close: string): void {
  const { factsSection, sensesSection, activeSection, endSection } = draft.recital;
  const closing = endSection as { readonly name: string } | undefined;
  for (const name of [factsSection, sensesSection, activeSection, closing?.name])
    if (typeof name === "string" && name.includes(" "))
      draft.forms.unshift({ means: "section", pattern: literal(open + name + close), with: { section: name } });
}

/** Headings that speak of the read-out itself are told by what stands below. */
function nameSections(draft: Draft, names: readonly string[], fits: readonly SampleLine[]): void {
  const last = names.at(-1);
  const below = (name: string) => {
    const at = fits[names.indexOf(name)];
    return at ? draft.lines.slice(at.no).findIndex((line) => line.means === "section") : -1;
  };
  const kinds = new Set(
    names.flatMap((name) => (isNumber(name.split(" ").at(-1) ?? "") ? [name.split(" ").slice(0, -1).join(" ")] : [])),
  );
  const pairs = (name: string) => {
    const at = fits[names.indexOf(name)];
    const end = below(name);
    const lines = at ? draft.lines.slice(at.no, end < 0 ? undefined : at.no + end) : [];
    return lines.flatMap(({ text }) => /^(.+?)\s*(?::=|=>|->|[:=~])\s*(.+)$/.exec(text)?.slice(1, 3) ?? []);
  };
  for (const name of names) {
    const words = pairs(name);
    const keys = words.filter((_, i) => i % 2 === 0);
    if (
      keys.length > 0 &&
      keys.every((key) => kinds.has(key)) &&
      words.every((word, i) => i % 2 === 0 || isNumber(word))
    ) {
      draft.recital.activeSection = name;
      note(
        draft,
        `“${name}” says which profiles are in use`,
        0.9,
        fits.filter((_, i) => names[i] === name),
      );
    }
  }
  const first = names[0];
  if (
    first !== undefined &&
    !kinds.has(first) &&
    draft.facts.family === undefined &&
    /about|info|ident|who|board|firmware/i.test(first)
  ) {
    draft.recital.factsSection = first;
    note(draft, `“${first}” says what the read-out comes from`, 0.7, fits.slice(0, 1));
  }
  if (last !== undefined && /^end|fin|close/i.test(last)) {
    const [lines = "lines", , check] = pairs(last);
    draft.recital.endSection = { name: last, lines, ...(check === undefined ? {} : { check }) };
    note(draft, `“${last}” closes the read-out`, 0.8, fits.slice(-1));
  }
  const systems = countOf(names.map((name) => name.split(" ")[0] ?? ""))[0];
  if (systems && !kinds.has(systems[0]) && systems[1] >= 3) draft.recital.systemSection = systems[0];
  // a table that begins anew stands before its rows with a word for its number
  const words = names.flatMap((name, i) => {
    const [table, word] = [name.split(" ").slice(0, -1).join(" "), name.split(" ").at(-1) ?? ""];
    return table !== "" &&
      !isNumber(word) &&
      names.slice(i + 1).some((other) => other.startsWith(`${table} `) && isNumber(other.split(" ").at(-1) ?? ""))
      ? [word]
      : [];
  });
  const fresh = countOf(words.filter((word) => word !== draft.recital.systemSection))[0];
  if (fresh) {
    draft.recital.freshWord = fresh[0];
    note(
      draft,
      `“${fresh[0]}” in a heading begins a table anew`,
      0.7,
      fits.filter((_, i) => names[i]?.endsWith(` ${fresh[0]}`) === true),
    );
  }
}
