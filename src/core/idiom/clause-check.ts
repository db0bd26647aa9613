import { checkDigits, checkFits } from "@/core/idiom/check";
import type { Clause } from "@/core/idiom/clause";
import type { Idiom, LineMeaning } from "@/core/idiom/definition";

/** What stands behind the mark of a check, and what the check is made over. */
function takeCheck(text: string, idiom: Idiom): { text: string; fault?: string } | undefined {
  const check = idiom.text.lineCheck;
  const at = check ? text.lastIndexOf(check.mark) : -1;
  if (!check || at < 0) return undefined;
  const before = text.slice(0, at);
  const said = text.slice(at + check.mark.length).trim();
  const over = checkedText(before, idiom);
  if (checkFits(said, over, check, idiom.text.encoding)) return { text: before };
  const found = checkDigits(over, check, idiom.text.encoding);
  return { text: before, fault: `The line's check does not fit: it says ${said}, its text gives ${found}` };
}

/** What a check behind a text is made over. */
function checkedText(before: string, { text: { lineCheck } }: Idiom): string {
  const { after = "", withMark = false, mark = "" } = lineCheck ?? {};
  const from = after !== "" && before.startsWith(after) ? after.length : 0;
  return before.slice(from) + (withMark ? mark : "");
}

/** Takes the check off a clause, or off a line, and holds it against the text before it. */
export function proved<T extends Pick<Clause, "text" | "fault">>(
  part: T,
  of: "statement" | "line",
  idiom: Idiom,
): T & Pick<Clause, "unchecked"> {
  const check = idiom.text.lineCheck;
  if (!check || part.fault !== undefined || (check.of ?? "statement") !== of) return part;
  const taken = takeCheck(part.text, idiom);
  return taken ? { ...part, ...taken } : { ...part, unchecked: true };
}

/** A statement's text as it is written into a line: ended and checked as the idiom wants it. */
export function dressClause(text: string, idiom: Idiom, means?: LineMeaning): string {
  const { ends = "", lineCheck, encoding } = idiom.text;
  const bare = !lineCheck || (means !== undefined && (lineCheck.without ?? []).includes(means));
  const check = (over: string) =>
    bare ? over : `${over}${lineCheck.mark}${checkDigits(checkedText(over, idiom), lineCheck, encoding)}`;
  return lineCheck?.of === "line" ? check(text + ends) : check(text) + ends;
}
