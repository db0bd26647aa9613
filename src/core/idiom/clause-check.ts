import { checkDigits, checkFits, saidCheck } from "@/core/idiom/check";
import type { Clause } from "@/core/idiom/clause";
import type { Idiom, LineMeaning } from "@/core/idiom/definition";

/** A text and the check that stands behind it, or before it, parted by its mark. */
function takeCheck(text: string, idiom: Idiom): { text: string; fault?: string } | undefined {
  const check = idiom.text.lineCheck;
  if (!check) return undefined;
  const leads = check.at === "start";
  const at = leads ? text.indexOf(check.mark) : text.lastIndexOf(check.mark);
  if (at < 0) return undefined;
  const [before, behind] = [text.slice(0, at), text.slice(at + check.mark.length)];
  const [said, own] = leads ? [before.trim(), behind] : [behind.trim(), before];
  // no digits before the first mark: it stands for something else, and the line carries no check
  if (leads && saidCheck(said, check) === undefined) return undefined;
  const over = checkedText(own, idiom);
  if (checkFits(said, over, check, idiom.text.encoding)) return { text: own };
  const found = checkDigits(over, check, idiom.text.encoding);
  return { text: own, fault: `The line's check does not fit: it says ${said}, its text gives ${found}` };
}

/** What the check of a text is made over. */
function checkedText(own: string, { text: { lineCheck } }: Idiom): string {
  const { after = "", withMark = false, mark = "", at } = lineCheck ?? {};
  const from = after !== "" && own.startsWith(after) ? after.length : 0;
  if (!withMark) return own.slice(from);
  return at === "start" ? mark + own.slice(from) : own.slice(from) + mark;
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
  const check = (own: string) => {
    if (bare) return own;
    const digits = checkDigits(checkedText(own, idiom), lineCheck, encoding);
    return lineCheck.at === "start" ? digits + lineCheck.mark + own : own + lineCheck.mark + digits;
  };
  return lineCheck?.of === "line" ? check(text + ends) : check(text) + ends;
}
