/**
 * Line patterns of idiom documents: plain text with {name} for one stretch and {name...} for the rest of the line.
 * Matching walks the line once: no pattern from a document can make it slower than linear.
 */
export interface Pattern {
  readonly source: string;
  readonly parts: readonly Part[];
}

type Part = { readonly literal: string } | { readonly field: string; readonly rest: boolean };

export function compilePattern(source: string): Pattern {
  const parts: Part[] = [];
  let at = 0;
  while (at < source.length) {
    const open = source.indexOf("{", at);
    const close = open < 0 ? -1 : source.indexOf("}", open);
    if (open < 0 || close < 0) {
      parts.push({ literal: source.slice(at) });
      break;
    }
    if (open > at) parts.push({ literal: source.slice(at, open) });
    const name = source.slice(open + 1, close);
    const rest = name.endsWith("...");
    parts.push({ field: rest ? name.slice(0, -3) : name, rest });
    at = close + 1;
  }
  return { source, parts };
}

/** The fields of a line, or undefined when it does not fit. Blanks at the line's end do not count. */
export function matchPattern(pattern: Pattern, line: string): Record<string, string> | undefined {
  const text = line.trimEnd();
  const fields: Record<string, string> = {};
  let at = 0;
  for (let i = 0; i < pattern.parts.length; i++) {
    const part = pattern.parts[i];
    if (part === undefined) return undefined;
    if ("literal" in part) {
      if (!text.startsWith(part.literal, at)) return undefined;
      at += part.literal.length;
      continue;
    }
    const next = pattern.parts[i + 1];
    const end = part.rest || next === undefined ? text.length : "literal" in next ? text.indexOf(next.literal, at) : -1;
    if (end <= at && !(part.rest && end === at)) return undefined;
    const value = text.slice(at, end);
    if (!part.rest && next === undefined && value.includes(" ")) return undefined;
    fields[part.field] = value;
    at = end;
  }
  return at === text.length ? fields : undefined;
}

export function fillPattern(pattern: Pattern, fields: Readonly<Record<string, string | number>>): string {
  return pattern.parts.map((part) => ("literal" in part ? part.literal : String(fields[part.field] ?? ""))).join("");
}
