import type { ProofLine } from "@/core/carryover";
import type { PlanLine } from "@/server/web/plan-export";

export interface VisitPage {
  readonly tag: string;
  readonly visit: number;
  readonly headline: string;
  readonly ordered: { readonly by: string; readonly at: string };
  readonly ended: string;
  readonly endedAt: string;
  readonly chipId: string;
  readonly way?: { readonly releases: string; readonly target: string };
  readonly lines: readonly PlanLine[];
  /** What is damaged and could not be read; nothing is said of it, least that there was none. */
  readonly unread: readonly string[];
  readonly accepted: readonly {
    readonly sign: string;
    readonly account: string;
    readonly at: string;
    readonly reason: string;
  }[];
  readonly scriptLines: number;
  /** How far the restore of the settings came. */
  readonly restore: "not-begun" | "begun" | "done";
  readonly proof?: { readonly says: string; readonly lines: readonly ProofLine[] };
  readonly signed?: { readonly by: string; readonly at: string; readonly statement: string };
  readonly record: readonly { readonly at: string; readonly by: string; readonly says: string }[];
  readonly files: readonly string[];
}

const SIGNS: Readonly<Record<string, string>> = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" };
/** Text as HTML: whatever stands in the data stays text (HTML Living Standard, 13.1.4). */
export const escaped = (text: string): string => text.replace(/[&<>"']/g, (sign) => SIGNS[sign] ?? sign);

const table = (heads: readonly string[], rows: readonly (readonly string[])[]): string =>
  `<table><thead><tr>${heads.map((head) => `<th scope="col">${escaped(head)}</th>`).join("")}</tr></thead><tbody>${rows
    .map((cells) => `<tr>${cells.map((cell) => `<td>${escaped(cell)}</td>`).join("")}</tr>`)
    .join("")}</tbody></table>`;
const said = (text: string): string => `<p>${escaped(text)}</p>`;
const counted = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;

const STYLE = `body{font:16px/1.5 system-ui,sans-serif;max-width:70rem;margin:2rem auto;padding:0 1rem;color:#1d2a26}
table{border-collapse:collapse;width:100%;font-size:.9rem}th,td{text-align:left;vertical-align:top;border-bottom:1px solid #b9c2bb;padding:.25rem .75rem .25rem 0}
h2{margin-top:2rem}@media print{body{margin:0}}`;

/** Whether there was none of something is known only where everything could be read. */
const orUnread = ({ unread }: VisitPage, none: string): string =>
  said(unread.length === 0 ? none : "What could not be read is named above; nothing more is known of it here.");

function decided(visit: VisitPage): string {
  const { lines, accepted } = visit;
  const open = lines.filter(({ decided: choice, by }) => choice !== "" && by === "");
  const done = lines.filter(({ by }) => by !== "");
  return [
    done.length === 0
      ? orUnread(visit, "Nothing was decided by hand.")
      : table(
          ["What", "Was", "Becomes", "Decision", "By", "When", "Why it was asked"],
          done.map((line) => [
            line.title,
            line.onBoard,
            line.becomes === "" ? "not written" : line.becomes,
            line.means === "" ? line.decided : `${line.decided}. ${line.means}`,
            line.by,
            line.at,
            line.why,
          ]),
        ),
    open.length === 0 ? "" : said(`${counted(open.length, "value was", "values were")} never decided.`),
    accepted.length === 0
      ? ""
      : `<h3>Signs of the board that spoke against it, and were accepted</h3>${table(
          ["Sign", "By", "When", "Reason"],
          accepted.map(({ sign, account, at, reason }) => [sign, account, at, reason]),
        )}`,
  ].join("");
}

function written(visit: VisitPage): string {
  const { lines, scriptLines, restore } = visit;
  if (restore === "not-begun") return orUnread(visit, "No settings were written.");
  const goes = lines.filter(({ becomes }) => becomes !== "");
  const changed = goes.filter(({ becomes, onBoard }) => becomes !== onBoard);
  const same = counted(goes.length - changed.length, "value", "values");
  return [
    restore === "begun"
      ? said("The restore began and did not end; how far it came stands below. What it was to write:")
      : "",
    scriptLines === 0 ? "" : said(`${counted(scriptLines, "line", "lines")} (script.txt). ${same} as before.`),
    changed.length === 0
      ? ""
      : table(
          ["What", "Was", restore === "done" ? "Written" : "To be written", "Why"],
          changed.map((line) => [line.title, line.onBoard === "" ? "not there" : line.onBoard, line.becomes, line.why]),
        ),
  ].join("");
}

function cameBack(visit: VisitPage): string {
  const { proof } = visit;
  if (!proof) return orUnread(visit, "Nothing was read back and held against the plan.");
  const off = proof.lines.filter(({ result }) => result !== "took");
  return [
    said(proof.says),
    off.length === 0
      ? ""
      : table(
          ["What", "Planned", "Found", "Result", "Cause"],
          off.map((line) => [line.title, line.planned, line.found, line.result.replaceAll("-", " "), line.cause ?? ""]),
        ),
  ].join("");
}

/** A visit told in words, for somebody without the product: one page without scripts or outside files. */
export function visitPage(visit: VisitPage): string {
  const { tag, headline, way, signed, record, files } = visit;
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'">
<title>${escaped(`${tag}, visit ${visit.visit}`)}</title><style>${STYLE}</style></head><body>
<h1>${escaped(`${tag}: ${headline}`)}</h1>
${said(`Visit ${visit.visit}, ordered by ${visit.ordered.by} on ${visit.ordered.at}. ${visit.ended}${visit.endedAt === "" ? "" : `, ${visit.endedAt}`}.`)}
${said(signed ? `Signed off by ${signed.by} on ${signed.at}: “${signed.statement}”` : "Not signed off.")}
${visit.unread.length === 0 ? "" : said(`Damaged in the workshop, and not in here: ${visit.unread.join(", ")}. The check of the papers says which files.`)}
<h2>What was</h2>
${said(`Board with chip ${visit.chipId}${way ? `. ${way.releases}, target ${way.target}` : ""}.`)}
<h2>What was decided</h2>
${decided(visit)}
<h2>What was written</h2>
${written(visit)}
<h2>What came back</h2>
${cameBack(visit)}
<h2>How it went</h2>
${table(
  ["When", "By", "What"],
  record.map(({ at, by, says }) => [at, by, says]),
)}
<h2>Files beside this page</h2>
<ul>${files.map((name) => `<li><a href="${escaped(encodeURIComponent(name))}">${escaped(name)}</a></li>`).join("")}</ul>
${said("This page and these files are made from the sealed papers for people to read; they carry no seals themselves. The papers in the folder beside do.")}
</body></html>
`;
}
