import { countOf, literal, note, openLines, type Draft, type SampleLine } from "@/core/learn/propose/sample";
import type { ValueShape } from "@/core/learn/propose/values";

const MARKS = [";", "|", "\t", ","] as const;
const WORD = /^\p{L}[\p{L}\d_-]*$/u;
const CELL = /^([^[\]]+)\[([^[\]]+)\]\.(.+)$/;

/** A line that one mark parts into fields. */
export interface Fields {
  readonly line: SampleLine;
  readonly words: readonly string[];
}

/** The mark that parts most lines into three fields or more, the first a word that comes up again; and those lines. */
function partedLines(
  lines: readonly SampleLine[],
): { readonly mark: string; readonly fields: readonly Fields[] } | undefined {
  for (const mark of MARKS) {
    const fields = lines
      .map((line): Fields => ({ line, words: line.text.split(mark) }))
      .filter(({ words }) => words.length >= 3 && WORD.test(words[0] ?? ""));
    const heads = new Set(fields.map(({ words }) => words[0]));
    if (fields.length >= 4 && fields.length >= lines.length * 0.6 && heads.size <= fields.length / 2)
      return { mark, fields };
  }
  return undefined;
}

/**
 * Delimited lines: a word that says what the line is, then its fields, with one mark between all of them. Cells, values of
 * all profiles and profiles in use are told by what stands in the fields; what remains is the shape of plain values.
 */
export function findFields(draft: Draft): ValueShape | undefined {
  const found = partedLines(openLines(draft));
  if (!found) return undefined;
  const { mark, fields } = found;
  let shape: ValueShape | undefined;
  for (const [head] of countOf(fields.map(({ words }) => words[0] ?? ""))) {
    const own = fields.filter(({ words }) => words[0] === head);
    if (takeCells(draft, head, mark, own) || takeAcross(draft, head, mark, own) || takeInUse(draft, head, mark, own))
      continue;
    const pairs = own.filter(({ words }) => words.length === 3);
    const names = new Set(pairs.map(({ words }) => words[1]));
    if (shape || pairs.length < 3 || names.size <= pairs.length * 0.7) continue;
    shape = {
      head: head + mark,
      joint: mark,
      lines: pairs.map(({ line, words: [, left = "", right = ""] }) => ({ line, left, right, wide: left.length })),
    };
  }
  return shape;
}

/** “TAB;sockets[1].rate;100”: a cell that says itself which row it is of. */
function takeCells(draft: Draft, head: string, mark: string, own: readonly Fields[]): boolean {
  const fits = own.filter(({ words }) => words.length === 3 && CELL.test(words[1] ?? ""));
  if (fits.length < 2 || fits.length < own.length) return false;
  const lines = fits.map(({ line }) => line);
  draft.forms.push({ means: "cell", pattern: `${literal(head + mark)}{table}[{row}].{column}${mark}{value...}` });
  draft.rows.unopened = true;
  for (const line of lines) line.means = "cell";
  note(draft, `“${head}” gives one cell of a row`, 0.9, lines);
  return true;
}

/** “PRO;tune;roll;45;50”: a setting’s value in each profile. */
function takeAcross(draft: Draft, head: string, mark: string, own: readonly Fields[]): boolean {
  const kinds = new Set(own.map(({ words }) => words[1] ?? ""));
  const names = new Set(own.map(({ words }) => `${words[1]} ${words[2]}`));
  const wide = own.every(({ words }) => words.length >= 5);
  const even = [...kinds].every(
    (kind) => new Set(own.filter(({ words }) => words[1] === kind).map(({ words }) => words.length)).size === 1,
  );
  if (own.length < 3 || !wide || !even || kinds.size > 6 || names.size < own.length) return false;
  const lines = own.map(({ line }) => line);
  const list = { mark, over: "profiles" as const };
  draft.forms.push({ means: "set", pattern: `${literal(head + mark)}{profile}${mark}{key}${mark}{values...}`, list });
  for (const line of lines) line.means = "set";
  note(draft, `“${head}” gives a setting’s value in each profile: ${[...kinds].join(", ")}`, 0.85, lines);
  return true;
}

/** “USE;tune;2”: the profile in use, one line for each kind. */
export function takeInUse(draft: Draft, head: string, mark: string, own: readonly Fields[]): boolean {
  const kinds = new Set(own.map(({ words }) => words[1]));
  if (own.length === 0) return false;
  const small = own.every(({ words }) => words.length === 3 && /^\d{1,2}$|^[A-Za-z]$/.test(words[2] ?? ""));
  const last = Math.max(...draft.lines.filter(({ means }) => means === "set" || means === "cell").map(({ no }) => no));
  const behind = own.every(({ line }) => line.no > last);
  if (!small || !behind || kinds.size < own.length || own.length > 8) return false;
  const lines = own.map(({ line }) => line);
  draft.forms.push({ means: "activate", pattern: `${literal(head + mark)}{profile}${mark}{number}` });
  for (const line of lines) line.means = "activate";
  note(draft, `“${head}” says which profile is in use`, 0.8, lines);
  return true;
}

const PAIR = /^([\p{L}\d_.-]+)=("(?:[^"\\]|\\.)*"|\S*)$/u;

/** Words of a line of pairs, quoted values whole; undefined where one of them is no pair. */
function pairsIn(text: string): readonly (readonly [key: string, value: string])[] | undefined {
  const words = text.match(/[^\s"]+(?:"(?:[^"\\]|\\.)*")?/g) ?? [];
  const pairs = words.flatMap((word) => {
    const found = PAIR.exec(word);
    return found?.[1] === undefined ? [] : [[found[1], found[2] ?? ""] as const];
  });
  return pairs.length === words.length && pairs.length > 0 && words.join(" ").length === text.trim().length
    ? pairs
    : undefined;
}

/** “tune calm: roll=45 pitch=30”: names with their values, all of a place in one line. */
export function findPairs(draft: Draft): ValueShape | undefined {
  const pairLines = openLines(draft).flatMap((line) => {
    const at = line.text.indexOf(": ");
    const pairs = at > 0 ? pairsIn(line.text.slice(at + 2)) : undefined;
    return pairs ? [{ line, head: line.text.slice(0, at).split(" "), pairs }] : [];
  });
  if (pairLines.length < 3 || pairLines.filter(({ pairs }) => pairs.length > 1).length < 2) return undefined;
  const kinds = new Set(
    countOf(pairLines.flatMap(({ head }) => head.slice(0, head.length - 1))).flatMap(([word, n]) =>
      n > 1 ? [word] : [],
    ),
  );
  const placed = pairLines.filter(({ head }) => head.length === 2 && kinds.has(head[0] ?? ""));
  const plain = pairLines.filter(({ head }) => head.length === 1);
  if (placed.length + plain.length < pairLines.length) return undefined;
  const list = { mark: " ", pairs: "=" };
  const numbers = [...new Set(placed.map(({ head }) => head[1] ?? ""))];
  const named = numbers.some((number) => number.length > 1 && /^\p{L}/u.test(number));
  if (placed.length > 0)
    draft.forms.push({
      means: "set",
      pattern: `{profile:letters} {number:${named ? "letters" : "digits"}}: {values...}`,
      list,
    });
  if (plain.length > 0) draft.forms.push({ means: "set", pattern: "{area}: {values...}", list });
  if (named) draft.top.countFrom = numbers;
  const lines = pairLines.map(({ line }) => line);
  for (const line of lines) line.means = "set";
  note(draft, "A line gives several values, each behind its name", 0.9, lines);
  if (named) takeNamedChoices(draft, kinds, numbers);
  return {
    head: "",
    joint: "=",
    lines: pairLines.flatMap(({ line, pairs }) =>
      pairs.map(([left, right]) => ({ line, left, right, wide: left.length })),
    ),
  };
}

/** “tune is wild”: a kind of profile and which of them is in use, by what they are called. */
function takeNamedChoices(draft: Draft, kinds: ReadonlySet<string>, names: readonly string[]): void {
  const fits = openLines(draft).filter(({ text }) => {
    const words = text.split(" ");
    return words.length === 3 && kinds.has(words[0] ?? "") && names.includes(words[2] ?? "");
  });
  const joints = new Set(fits.map(({ text }) => text.split(" ")[1] ?? ""));
  const [joint] = joints;
  if (joint === undefined || joints.size > 1) return;
  draft.forms.push({ means: "activate", pattern: `{profile} ${literal(joint)} {number}` });
  for (const line of fits) line.means = "activate";
  note(draft, `“${fits[0]?.text ?? ""}” says which profile is in use`, 0.85, fits);
}
