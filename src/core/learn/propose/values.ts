import {
  countOf,
  literal,
  note,
  openLines,
  type Draft,
  type SampleLine,
  type WrittenForm,
} from "@/core/learn/propose/sample";

const JOINTS = [" := ", ":=", " => ", " -> ", " = ", "=", ": ", " : ", ":", " is ", " be ", "\t", " "] as const;
const KEY = /^[\p{L}\d_@$./\-[\] ,]{1,80}$/u;

/** A line that gives a value, parted. */
export interface ValueLine {
  readonly line: SampleLine;
  /** What stands before the joint, without the word that begins all such lines. */
  readonly left: string;
  readonly right: string;
  /** How many characters stand before the joint, blanks among them. */
  readonly wide: number;
}

export interface ValueShape {
  readonly head: string;
  readonly joint: string;
  readonly lines: readonly ValueLine[];
}

const isBracketed = (text: string) => /^[[(<{=]/.test(text);

function partedBy(lines: readonly SampleLine[], joint: string): ValueLine[] {
  return lines.flatMap((line) => {
    if (isBracketed(line.text)) return [];
    const bare = joint.trimEnd();
    // nothing stands behind the mark of a value that is empty
    if (bare.endsWith("=") && line.text.endsWith(bare)) {
      const left = line.text.slice(0, -bare.length);
      return KEY.test(left) ? [{ line, left: left.trim(), right: "", wide: line.text.length - bare.length }] : [];
    }
    const at = line.text.indexOf(joint);
    // a sign before it makes it another one: “+=”
    if (joint === "=" && /[-+<>!:~]/.test(line.text.charAt(at - 1))) return [];
    const [left, right] = [line.text.slice(0, at), line.text.slice(at + joint.length)];
    return at > 0 && right !== "" && KEY.test(left)
      ? [{ line, left: left.trim(), right: right.trim(), wide: left.length }]
      : [];
  });
}

/** The word that most of some lines begin with, with a blank behind it. */
function headOf(texts: readonly string[], share: number): string {
  const [most] = countOf(texts.flatMap((text) => (text.includes(" ") ? [text.slice(0, text.indexOf(" ") + 1)] : [])));
  return most && most[1] >= Math.max(3, texts.length * share) ? most[0] : "";
}

/** How most lines give a value: the word that they begin with, and what stands between name and value. */
export function valueShape(draft: Draft): ValueShape | undefined {
  const lines = openLines(draft);
  const all = JOINTS.map((joint) => ({ joint, parted: partedBy(lines, joint) }));
  const plain = all.filter(({ joint }) => joint.trim() !== "");
  const best = plain.reduce((a, b) => (b.parted.length > a.parted.length ? b : a));
  // with blanks around it says more: cells of rows hold the same mark without
  const spaced = plain.filter(
    ({ joint, parted }) => joint.trim() === best.joint.trim() && parted.length >= best.parted.length * 0.6,
  );
  const wide = spaced.toSorted((a, b) => b.joint.length - a.joint.length)[0] ?? best;
  const blank = all.at(-1);
  const chosen = wide.parted.length >= lines.length * 0.3 || !blank ? wide : blank;
  if (chosen.parted.length < 2) return undefined;
  if (chosen.joint === " ") return wordShape(lines);
  const head = headOf(
    chosen.parted.map(({ left }) => left),
    0.6,
  );
  const parted = chosen.parted.flatMap((each) =>
    head === "" ? [each] : each.left.startsWith(head) ? [{ ...each, left: each.left.slice(head.length) }] : [],
  );
  return { head, joint: chosen.joint, lines: parted };
}

/** A word, a name and a value, with blanks between: “put name value”. */
function wordShape(lines: readonly SampleLine[]): ValueShape | undefined {
  const firsts = countOf(lines.map(({ text }) => text.split(" ")[0] ?? ""));
  const found = firsts.find(([word, n]) => {
    const names = new Set(lines.flatMap(({ text }) => (text.startsWith(`${word} `) ? [text.split(" ")[1]] : [])));
    return n >= lines.length * 0.3 && names.size >= n * 0.15 && names.size > 2;
  });
  const head = found ? `${found[0]} ` : "";
  const parted = partedBy(
    lines.filter(({ text }) => text.startsWith(head)).map((line) => line),
    " ",
  );
  const own = parted.flatMap(({ line }): ValueLine[] => {
    const rest = line.text.slice(head.length);
    const at = rest.indexOf(" ");
    return at > 0 ? [{ line, left: rest.slice(0, at), right: rest.slice(at + 1).trim(), wide: at }] : [];
  });
  return own.length < 2 ? undefined : { head, joint: " ", lines: own };
}

const isSmall = (word: string) => /^\d{1,2}$|^[A-Za-z]$/.test(word);

interface Inline {
  readonly mark: string;
  readonly kinds: ReadonlySet<string>;
  fits(left: string): boolean;
}

/** Profiles named in the line of a value itself: “tune/2/key”, “tune 2 key”. */
function inlineOf(lines: readonly ValueLine[]): Inline | undefined {
  for (const mark of ["/", " ", ":", "."]) {
    const parts = lines.map(({ left }) => left.split(mark));
    const own = parts.filter(
      (each) => each.length >= 3 && /^\p{L}[\p{L}-]*$/u.test(each[0] ?? "") && isSmall(each[1] ?? ""),
    );
    const kinds = new Set(own.map(([kind = ""]) => kind));
    const numbers = new Set(own.map(([, number = ""]) => number));
    const keys = new Set(own.map(([kind = "", , ...key]) => `${kind} ${key.join(mark)}`));
    if (
      own.length < Math.max(4, lines.length * 0.2) ||
      kinds.size > 6 ||
      numbers.size < 2 ||
      keys.size > own.length * 0.75
    )
      continue;
    return {
      mark,
      kinds,
      fits: (left) => {
        const [kind = "", number = ""] = left.split(mark);
        return kinds.has(kind) && isSmall(number) && left.split(mark).length >= 3;
      },
    };
  }
  return undefined;
}

const LISTS = [
  ["[", "]"],
  ["(", ")"],
] as const;

/** Marks that part the numbers of a list in brackets. */
function listOf(lines: readonly ValueLine[]) {
  for (const [open, close] of LISTS) {
    const fits = lines.filter(({ right }) => right.startsWith(open) && right.endsWith(close));
    const mark = [" | ", ", ", ",", "; ", " "].find((each) => fits.every(({ right }) => right.includes(each)));
    if (fits.length >= 1 && mark !== undefined) return { open, close, mark, fits };
  }
  return undefined;
}

/** Lists in brackets that no joint parts from their name: “name [1 | 2 | 3]”. */
function listsApart(draft: Draft, head: string) {
  for (const [open, close] of LISTS) {
    const fits = openLines(draft).filter(
      ({ text }) => text.startsWith(head) && text.endsWith(close) && text.indexOf(open) > 1,
    );
    const inner = ({ text }: SampleLine) => text.slice(text.indexOf(open) + 1, -1);
    const mark = [" | ", ", ", ",", "; "].find((each) => fits.every((line) => inner(line).includes(each)));
    const gap = fits.every(({ text }) => text.charAt(text.indexOf(open) - 1) === " ") ? " " : "";
    if (fits.length >= 2 && mark !== undefined) return { open, close, mark, gap, fits };
  }
  return undefined;
}

/** So many lines of one shape are no accident. */
const LEAST_SURE = 6;

/** How wide names are written, where blanks fill all of them up to one place. */
function widthIn(lines: readonly ValueLine[]): number | undefined {
  const [first] = lines;
  const same = first && lines.length >= 3 && lines.every(({ wide }) => wide === first.wide);
  return same && first.wide < 100 && new Set(lines.map(({ left }) => left.length)).size > 1 ? first.wide : undefined;
}

/** Writes the forms of values down; lines that give one are told. */
export function findValues(draft: Draft, shape: ValueShape): void {
  const { head, joint, lines } = shape;
  const inline = inlineOf(lines);
  const own = inline ? lines.filter(({ left }) => inline.fits(left)) : [];
  const rest = lines.filter((each) => !own.includes(each));
  const paths = rest.map(({ left }) => left.split(inline?.mark ?? "/"));
  const root =
    inline && paths.length > 0 && paths.every((path) => path.length >= 3 && path[0] === paths[0]?.[0])
      ? (paths[0]?.[0] ?? "")
      : undefined;
  const digits = rest.length > 2 && rest.every(({ left }) => /^\d+$/.test(left));
  const width = head === "" ? widthIn(rest) : undefined;
  const key = digits ? "{key:digits}" : width === undefined ? "{key}" : `{key:${width}}`;
  const places: { pattern: string; of: readonly ValueLine[] }[] = [];
  if (inline) {
    const [profile, number] = inline.mark === " " ? ["{profile:letters}", "{number}"] : ["{profile}", "{number}"];
    if (root !== undefined)
      places.push({ pattern: `${literal(root)}${inline.mark}{area}${inline.mark}${key}`, of: rest });
    places.push({ pattern: `${profile}${inline.mark}${number}${inline.mark}{key}`, of: own });
  }
  if (root === undefined) places.push({ pattern: key, of: rest });
  const forms: WrittenForm[] = [];
  const listed = listOf(lines);
  const apart = listed ? undefined : listsApart(draft, head);
  const add = (joints: string, value: string, means: string, only: readonly ValueLine[] = lines, more = {}) => {
    for (const { pattern, of } of places)
      if (of.some((each) => only.includes(each)))
        forms.push({ means, pattern: `${literal(head)}${pattern}${literal(joints)}${value}`, ...more });
  };
  findMembers(
    draft,
    shape,
    places.map(({ pattern }) => pattern),
  );
  if (listed) {
    add(`${joint}${listed.open}`, `{values}${listed.close}`, "set", listed.fits, {
      list: { mark: listed.mark, join: "." },
    });
    note(
      draft,
      `Several settings stand in one value, in ${listed.open}${listed.close}`,
      0.85,
      listed.fits.map(({ line }) => line),
    );
  }
  if (apart) {
    const { gap, open, close, mark, fits } = apart;
    const value = `${gap}${open}{values}${close}`;
    for (const { pattern } of places)
      forms.push({
        means: "set",
        pattern: `${literal(head)}${pattern}${value}`,
        list: { mark, join: "." },
      });
    for (const line of fits) line.means = "set";
    note(draft, `Several settings stand in one value, in ${open}${close}`, 0.85, fits);
  }
  add(joint, "{value...}", "set");
  draft.forms.push(...forms);
  for (const { line } of lines) line.means = "set";
  note(
    draft,
    `“${`${head}name${joint}value`.trim()}” gives a value`,
    lines.length >= LEAST_SURE ? 0.95 : 0.7,
    lines.map(({ line }) => line),
  );
  if (inline)
    note(
      draft,
      `A line names the profile of its value itself: ${[...inline.kinds].join(", ")}`,
      0.9,
      own.map(({ line }) => line),
    );
  if (digits) {
    draft.top.keys = "number";
    const width = new Set(rest.map(({ left }) => left.length));
    const [only] = width;
    if (width.size === 1 && only !== undefined && rest.some(({ left }) => left.startsWith("0")))
      draft.top.keyWidth = only;
    note(
      draft,
      "Settings are written by their numbers",
      1,
      rest.map(({ line }) => line),
    );
  }
}

const SIGNS = [
  [" += ", " -= "],
  [" + ", " - "],
] as const;

/** Flags that are set and cleared one by one, on lines of their own. */
function findMembers(draft: Draft, { head }: ValueShape, places: readonly string[]): void {
  for (const [plus, minus] of SIGNS) {
    const fits = (sign: string) =>
      draft.lines.filter(
        ({ text, means }) => means === undefined && text.startsWith(head) && text.includes(sign) && !text.includes('"'),
      );
    const [up, down] = [fits(plus), fits(minus)];
    if (up.length === 0 || up.length + down.length < 2) continue;
    for (const place of places) {
      draft.forms.push({ means: "raise", pattern: `${literal(head)}${place}${plus}{member}` });
      if (down.length > 0) draft.forms.push({ means: "lower", pattern: `${literal(head)}${place}${minus}{member}` });
    }
    for (const line of [...up, ...down]) line.means = "member";
    note(draft, `Flags are set and cleared one by one, with “${plus.trim()}” and “${minus.trim()}”`, 0.85, [
      ...up,
      ...down,
    ]);
    return;
  }
}
