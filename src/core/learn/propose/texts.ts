import { fieldOf, literal, note, openLines, type Draft, type SampleLine } from "@/core/learn/propose/sample";

const COMMENTS = ["//", "--", ";;", "%%", "##", ";", "#", "%", "!"] as const;
const BLOCKS = [
  ["/*", "*/"],
  ["(*", "*)"],
  ["<!--", "-->"],
  ["{-", "-}"],
] as const;

/** What a console puts before what was typed: the same short word with a mark, before several lines or alone on one. */
export function findPrompt(draft: Draft): void {
  const heads = draft.lines.flatMap(
    ({ text }) => /^(\S{0,24}[>$#] )\S|^(\S{0,24}[>$#])$/.exec(text)?.slice(1, 3).filter(Boolean) ?? [],
  );
  // what stands between marks is a heading
  const prompt = heads.find(
    (head) => !/^[<([]/.test(head) && draft.lines.some(({ text }) => text === head.trim()) && heads.length >= 2,
  );
  if (prompt === undefined) return;
  const head = `${prompt.trim()} `;
  const fits = draft.lines.filter(({ text }) => text.startsWith(head) || text === head.trim());
  for (const line of fits) line.text = line.text.slice(head.length).trim();
  draft.text.prompts = [head];
  note(draft, `“${head.trim()}” is the console’s prompt`, 0.9, fits);
}

/** A mark at the end of nearly all lines closes statements. */
export function findEnds(draft: Draft): boolean {
  const lines = openLines(draft);
  for (const mark of [";", "."]) {
    const fits = lines.filter(({ text }) => text.endsWith(mark));
    if (fits.length < 4 || fits.length < lines.length * 0.8) continue;
    for (const line of fits) line.text = line.text.slice(0, -mark.length).trim();
    draft.text.ends = mark;
    note(
      draft,
      `“${mark}” ends a statement`,
      fits.length / lines.length,
      fits,
      lines.filter((line) => !fits.includes(line)),
    );
    return true;
  }
  return false;
}

/** Comments between marks are taken out of the lines; those that begin a line are told by their mark. */
export function findComments(draft: Draft): void {
  const comments: { from: string; to?: string }[] = [];
  for (const [from, to] of BLOCKS) {
    const fits = draft.lines.filter(({ text }) => text.includes(from) && text.includes(to));
    if (fits.length === 0) continue;
    comments.push({ from, to });
    for (const line of fits) {
      const [at, end] = [line.text.indexOf(from), line.text.lastIndexOf(to)];
      line.text = (line.text.slice(0, at) + line.text.slice(end + to.length)).trim();
    }
    note(draft, `“${from}” to “${to}” is a comment`, 0.95, fits);
  }
  if (comments.length > 0) draft.text.comments = comments;
  for (const mark of COMMENTS) {
    const fits = openLines(draft).filter(({ text }) => text.startsWith(mark));
    const body = openLines(draft).length;
    if (fits.length === 0 || fits.length > body * 0.5) continue;
    takeComments(draft, mark, fits);
  }
}

const NAMED = /^([\p{L}][\p{L}\d -]{0,30}?)( ?(?::=|=>|->|[:=~]) ?)(\S.*)$/u;

function takeComments(draft: Draft, mark: string, fits: readonly SampleLine[]): void {
  const rest = (line: SampleLine) => line.text.slice(mark.length).trim();
  const gap = fits.some(({ text }) => text.charAt(mark.length) === " ") ? " " : "";
  const named = fits.filter((line) => NAMED.test(rest(line)));
  const joint = NAMED.exec(named[0] ? rest(named[0]) : "")?.[2];
  if (joint !== undefined) {
    draft.forms.push({ means: "fact", pattern: `${literal(mark)}${gap}{name}${joint}{value...}` });
    for (const line of named) line.means = "fact";
    note(draft, `“${mark}” with a name and a value says what the read-out comes from`, 0.9, named);
  }
  const plain = fits.filter((line) => line.means === undefined);
  // two words behind the mark, at the head: a name and what it is
  const pairs = plain.filter((line) => /^\S+ \S+$/.test(rest(line)));
  if (joint === undefined && pairs.length >= 2 && pairs.length === plain.length) {
    draft.forms.push({ means: "fact", pattern: `${literal(mark)}${gap}{name} {value...}` });
    for (const line of pairs) line.means = "fact";
    note(draft, `“${mark}” with a name and a value says what the read-out comes from`, 0.8, pairs);
    return;
  }
  if (plain.length === 0 && joint !== undefined) return;
  draft.forms.push({ means: "comment", pattern: `${literal(mark)}{text...}` });
  for (const line of plain) line.means ??= "comment";
  note(draft, `Lines that begin with “${mark}” are comments`, 0.8, plain);
}

/** What the facts of a text are called; a line with a name and a value says each. */
export function findFacts(draft: Draft): void {
  const form = draft.forms.find(({ means, pattern }) => means === "fact" && pattern.includes("{name}"));
  if (!form) return;
  for (const line of draft.lines.filter(({ means }) => means === "fact")) {
    const parted = /^\W*\s*([\p{L}][\p{L}\d -]*?)\s*(?::=|=>|->|[:=~])\s*(.*)$|^\W*\s*(\S+) (.*)$/u.exec(line.text);
    const name = (parted?.[1] ?? parted?.[3] ?? "").trim();
    const field = fieldOf(draft, name);
    if (field === undefined) continue;
    draft.facts[field] = name;
    note(draft, `“${name}” says the ${field}`, 0.85, [line]);
  }
}

/** Lines at the head that say what the read-out comes from: “release 4”, “about release 4”. */
export function findHeaderFacts(draft: Draft): void {
  const firstValue = draft.lines.find(({ means }) => means === "set" || means === "member")?.no ?? draft.lines.length;
  const head = openLines(draft).filter(({ no }) => no < firstValue);
  const named = head.flatMap((line) => {
    const words = line.text.split(" ");
    // the name stands right before what it names
    const at = words.length - 2;
    const says = /[\p{L}\d]/u.test(words.at(-1) ?? "");
    return says && at >= 0 && at <= 2 && fieldOf(draft, (words[at] ?? "").replace(/:$/, "")) !== undefined
      ? [{ line, words, at }]
      : [];
  });
  const lead = (each: (typeof named)[number]) => each.words.slice(0, each.at).join(" ");
  const shared = named.filter((each) => lead(each) !== "" && lead(each) === lead(named[0] ?? each));
  const [first] = shared;
  if (first && shared.length >= 2) {
    const mark = shared.every(({ words, at }) => words[at]?.endsWith(":")) ? ":" : "";
    draft.forms.unshift({ means: "fact", pattern: `${literal(lead(first))} {name}${mark} {value...}` });
    for (const { line, words, at } of shared) {
      const name = (words[at] ?? "").replace(/:$/, "");
      const field = fieldOf(draft, name);
      if (field !== undefined) draft.facts[field] = name;
      line.means = "fact";
    }
    note(
      draft,
      `“${shared[0]?.line.text ?? ""}” says what the read-out comes from`,
      0.85,
      shared.map(({ line }) => line),
    );
    return;
  }
  for (const { line, words, at } of named) {
    const field = fieldOf(draft, (words[at] ?? "").replace(/:$/, ""));
    if (field === undefined || draft.forms.some(({ pattern }) => pattern.includes(`{${field}`))) continue;
    draft.forms.unshift({ means: "fact", pattern: `${literal(words.slice(0, at + 1).join(" "))} {${field}...}` });
    line.means = "fact";
    note(draft, `“${line.text}” says the ${field}`, 0.75, [line]);
  }
}

/** Pairs above the first heading that name what a read-out comes from: “release = 4”. */
export function findTopFacts(draft: Draft, joint: string): void {
  const first = draft.lines.find(({ means }) => means === "section");
  if (!first) return;
  for (const line of draft.lines.slice(0, first.no - 1)) {
    const at = line.means === "set" ? line.text.indexOf(joint) : -1;
    const field = at > 0 ? fieldOf(draft, line.text.slice(0, at).trim()) : undefined;
    if (field === undefined || draft.forms.some(({ pattern }) => pattern.includes(`{${field}`))) continue;
    draft.forms.unshift({ means: "fact", pattern: `${literal(line.text.slice(0, at + joint.length))}{${field}...}` });
    line.means = "fact";
    note(draft, `“${line.text}” says the ${field}`, 0.85, [line]);
  }
}

/** Facts under the heading that speaks of the read-out itself. */
export function findSectionFacts(draft: Draft): void {
  const name = draft.recital.factsSection;
  if (typeof name !== "string") return;
  const at = draft.lines.findIndex(({ means, text }) => means === "section" && text.includes(name));
  for (const line of draft.lines.slice(at + 1)) {
    if (line.means === "section") return;
    const key = /^(.+?)\s*(?::=|=>|->|[:=~])\s*/.exec(line.text)?.[1];
    const field = key === undefined ? undefined : fieldOf(draft, key);
    if (field !== undefined && key !== undefined) draft.facts[field] = key;
  }
}

/** What a line is that no letter or digit stands in. */
const RULER = /^[^\p{L}\d]{3,}$/u;
const MOST_ORNAMENTS = 8;

/** Lines that adorn a text: rulers, and a title above all. A title that says a number may say what the text comes from. */
export function findOrnaments(draft: Draft): void {
  if (draft.text.ends !== undefined) return;
  const open = openLines(draft);
  const rulers = open.filter(({ text }) => RULER.test(text));
  const top = draft.lines.find(({ text }) => text !== "");
  const title = top && open.includes(top) && /^\D*\p{L}{3}\D*$/u.test(top.text) && !rulers.includes(top) ? [top] : [];
  for (const text of [...new Set([...title, ...rulers].map((line) => line.text))].slice(0, MOST_ORNAMENTS)) {
    const lines = open.filter((line) => line.text === text);
    // what stands as it is written is looked for first
    draft.forms.unshift({ means: "comment", pattern: literal(text) });
    for (const line of lines) line.means = "comment";
    note(draft, `“${text}” says nothing`, RULER.test(text) ? 0.9 : 0.5, lines);
  }
}
