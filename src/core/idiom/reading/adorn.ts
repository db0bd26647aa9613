import { matchFields } from "@/core/catalog/pattern";
import { build } from "@/core/idiom/reading/build";
import type { Idiom, LineForm } from "@/core/idiom/definition/definition";
import type { ReadText } from "@/core/idiom/reading/statement";
import { scanText } from "@/core/idiom/reading/text";

/** The form that a written line has; undefined where it is a record. */
function formOf(line: string, idiom: Idiom): LineForm | undefined {
  const [clause] = scanText(line, idiom).clauses;
  if (!clause) return undefined;
  const forms = clause.comment === true ? idiom.linesInComments : idiom.lines;
  return forms.find((form) => {
    const found = matchFields(form.pattern, clause.text);
    return found !== undefined && build(form, found, idiom) !== undefined;
  });
}

const NONE: Pick<LineForm, "before" | "after"> = { before: [], after: [] };
const around = (line: string | undefined, idiom: Idiom) =>
  (line === undefined || idiom.silent.size === 0 ? undefined : formOf(line, idiom)) ?? NONE;

/** Lines with those that stand around them in this language. At the top of a text no blank line stands before anything. */
export function adorn(lines: readonly string[], idiom: Idiom): readonly string[] {
  if (idiom.silent.size === 0) return lines;
  const all = lines.flatMap((line) => {
    const { before, after } = around(line, idiom);
    return [...before, line, ...after];
  });
  return all.slice(all.findIndex((line) => line.trim() !== ""));
}

/** Lines that stand as a document writes them and say nothing. */
const isSilent = (line: string, idiom: Idiom): boolean =>
  idiom.lines.some(
    ({ means, pattern }) =>
      means === "comment" && pattern.fields.length === 0 && matchFields(pattern, line) !== undefined,
  );

/** Where a read-out begins whose first line that says something stands here: silent lines right above it are of it. */
export function topOf(lines: ReadText["clean"], line: number, idiom: Idiom): number {
  let at = lines.findIndex(({ number }) => number === line);
  if (at <= 0) return line;
  for (const own of around(lines[at]?.text, idiom).before.toReversed()) {
    if (lines[at - 1]?.text.trim() !== own.trim()) break;
    at--;
  }
  while (isSilent(lines[at - 1]?.text ?? "", idiom)) at--;
  return lines[at]?.number ?? line;
}

/** Where a read-out ends whose last line that says something stands here, where no line at its foot closes it. */
export function bottomOf(lines: ReadText["clean"], line: number, idiom: Idiom): number {
  if (idiom.silent.size === 0 || idiom.recital.end?.at !== "head") return line;
  let at = lines.findLastIndex(({ number }) => number === line);
  for (const own of around(lines[at]?.text, idiom).after) {
    if (lines[at + 1]?.text.trim() !== own.trim()) break;
    at++;
  }
  return lines[at]?.number ?? line;
}

/** A whole text: its body, and the lines that count and check it, at its foot or its head. */
export function closeText(
  body: readonly string[],
  closing: (covered: readonly string[]) => readonly string[],
  idiom: Idiom,
): string[] {
  const draft = closing(body);
  const { before } = around(draft[0], idiom);
  const { after } = around(draft.at(-1), idiom);
  if (idiom.recital.end?.at !== "head") {
    const covered = [...body, ...before];
    return [...covered, ...closing(covered), ...after];
  }
  const covered = [...after, ...body];
  return [...before, ...closing(covered), ...covered];
}
