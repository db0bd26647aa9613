import { checkDigits, checkOfText, saidCheck } from "@/core/idiom/definition/check";
import type { Idiom, LineMeaning } from "@/core/idiom/definition/definition";

/** A text without the check that stood behind it, or before it, and what is wrong with that. */
interface Proved {
  readonly text: string;
  readonly fault?: string;
}

/** Takes the check off a text by its mark and holds it against the rest; undefined where the text carries none. */
export function prove(text: string, idiom: Idiom): Proved | undefined {
  const check = idiom.text.lineCheck;
  if (!check) return undefined;
  const leads = check.at === "start";
  const at = leads ? text.indexOf(check.mark) : text.lastIndexOf(check.mark);
  if (at < 0) return undefined;
  const behind = at + check.mark.length;
  const digits = leads ? text.slice(0, at) : text.slice(behind);
  const own = leads ? text.slice(behind) : text.slice(0, at);
  const said = saidCheck(digits, check);
  // no digits before the first mark: it stands for something else, and the line carries no check
  if (leads && said === undefined) return undefined;
  const over = checkedText(own, idiom);
  if (said === checkOfText(over, check, idiom.text.encoding)) return { text: own };
  const found = checkDigits(over, check, idiom.text.encoding);
  return { text: own, fault: `The line's check does not fit: it says ${digits.trim()}, its text gives ${found}` };
}

/** What the check of a text is made over. */
function checkedText(own: string, { text: { lineCheck } }: Idiom): string {
  const { after = "", withMark = false, mark = "", at } = lineCheck ?? {};
  const from = after !== "" && own.startsWith(after) ? after.length : 0;
  if (!withMark) return from === 0 ? own : own.slice(from);
  return at === "start" ? mark + own.slice(from) : own.slice(from) + mark;
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
