import { compilePattern, matchPattern } from "@/core/catalog";
import { idiomOf } from "@/core/idiom/definition/definition";
import { readStatements } from "@/core/idiom/reading/read";
import { alternate } from "./alternate";
import { catalogue } from "../support/workshop";

const TIMES = 16;
/** So long that also the shorter text does not fit the young part of the memory, which is swept for next to nothing. */
const LINES = 8000;

/** Whether time grows with the length of the input and no faster: sixteen times the text against the text. */
export function growthBench(say: (text?: string) => void): void {
  const row = (what: string, ratio: number) => say(`| ${what} | ${ratio.toFixed(1)} × | ≤ 24 × |`);
  say(`## Growth: ${TIMES} times the input (quadratic time would be ${TIMES * TIMES} ×)`);
  say();
  say("| what | ratio | aim |");
  say("| --- | --- | --- |");
  for (const document of catalogue().idioms.values()) {
    const idiom = idiomOf(document);
    const text = (lines: number) => `;; firmware: Heddle\n;; release: 22\n${"put loop.rate 4\n".repeat(lines)}`;
    const [short, long] = [text(LINES), text(LINES * TIMES)];
    const read = (source: string) => () => readStatements(source, idiom);
    row(`reading ${TIMES * LINES} lines in the idiom ${idiom.id}`, alternate(read(long), read(short), 1000).ratio);
  }
  // statements over several lines that never end
  const [document] = catalogue().idioms.values();
  for (const [what, text, line] of [
    ["ends", { ends: "~" }, "put loop.rate 4"],
    ["continues", { continues: "~" }, "put loop.rate 4 ~"],
    ["folds", { folds: true }, " put loop.rate 4"],
  ] as const) {
    const idiom = idiomOf({ ...document, text } as never);
    const read = (lines: number) => () => readStatements(`${line}\n`.repeat(lines), idiom);
    row(
      `a statement that never ends, where “${what}” lets it go on`,
      alternate(read(LINES * TIMES), read(LINES), 1000).ratio,
    );
  }
  // doubled blanks and a mark that never comes: every place of the line has to be tried
  const pattern = compilePattern("{a} = {b} = {c} = {d...}");
  const match = (length: number) => {
    const line = `it = ${"x  =y ".repeat(length)}`;
    return () => matchPattern(pattern, line);
  };
  row("a line that fits a pattern of many gaps nowhere", alternate(match(4000 * TIMES), match(4000), 1000).ratio);
  say();
}
