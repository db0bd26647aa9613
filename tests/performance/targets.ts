import { CERTAIN_ENOUGH, candidatesOf, rankBoards } from "@/core/identify";
import { demoCatalogue } from "../../demo/documents";
import { converse, firstClues, numbersFrom, oneOf, WRONG } from "../support/boards";
import { alternate } from "./alternate";

const BOARDS = 2000;
/** How much of what a board says by itself is there: nothing, some, most. */
const CHANCES = [0, 0.25, 0.6];
const percent = (share: number) => `${(share * 100).toFixed(1)} %`;

interface Tally {
  right: number;
  sure: number;
  surelyRight: number;
  asked: number;
  seconds: number;
}

/** Boards are drawn with missing and wrong evidence, and their targets found: how often right, how sure, how soon. */
export function targetsBench(say: (text?: string) => void): void {
  const candidates = candidatesOf(demoCatalogue());
  const models = candidates.filter(({ model }) => model);
  say(`## Which target: ${BOARDS} drawn boards each, one look in ${1 / WRONG} wrong`);
  say();
  say("| said by itself | questions | right | certain of | of these right | asked | seconds |");
  say("| --- | --- | --- | --- | --- | --- | --- |");
  for (const chance of CHANCES)
    for (const choose of ["best", "any"] as const) {
      const random = numbersFrom(7);
      const t: Tally = { right: 0, sure: 0, surelyRight: 0, asked: 0, seconds: 0 };
      for (let i = 0; i < BOARDS; i++) {
        const board = oneOf(models, random);
        const talk = converse(board, candidates, firstClues(board, candidates, chance, random), random, choose);
        const right = rankBoards(candidates, talk.clues).targets[0]?.target === board.target;
        t.right += Number(right);
        t.sure += Number(talk.certain);
        t.surelyRight += Number(talk.certain && right);
        t.asked += talk.asked;
        t.seconds += talk.seconds;
      }
      const cells = [
        percent(chance),
        choose === "best" ? "the most telling" : "at random",
        percent(t.right / BOARDS),
        percent(t.sure / BOARDS),
        percent(t.surelyRight / t.sure),
        (t.asked / BOARDS).toFixed(1),
        (t.seconds / BOARDS).toFixed(0),
      ];
      say(`| ${cells.join(" | ")} |`);
    }
  say();
  reliability(say);
  const clues = [{ kind: "printed", seen: "Reed" }];
  const { ms } = alternate(
    () => void rankBoards(candidates, clues),
    () => void rankBoards(candidates, []),
    500,
  );
  say(
    `Certain means ${CERTAIN_ENOUGH * 100} % and nothing that contradicts. One ranking took ${ms.toFixed(2)} ms here.`,
  );
  say();
}

/** Whether a stated certainty comes true as often as it says. */
function reliability(say: (text?: string) => void): void {
  const candidates = candidatesOf(demoCatalogue());
  const models = candidates.filter(({ model }) => model);
  const random = numbersFrom(11);
  const bins = [0, 0.2, 0.4, 0.6, 0.8, 0.95, 1.0001];
  const seen = bins.slice(1).map(() => ({ n: 0, stated: 0, right: 0 }));
  for (let i = 0; i < 3 * BOARDS; i++) {
    const board = oneOf(models, random);
    const clues = firstClues(board, candidates, 0.2 + 0.3 * random(), random);
    const top = rankBoards(candidates, clues).targets[0];
    const at = bins.findLastIndex((from) => (top?.certainty ?? 0) >= from);
    const bin = seen[at];
    if (!bin) continue;
    bin.n++;
    bin.stated += top?.certainty ?? 0;
    bin.right += Number(top?.target === board.target);
  }
  say("| stated certainty | boards | stated on average | came true |");
  say("| --- | --- | --- | --- |");
  seen.forEach(({ n, stated, right }, i) => {
    if (n > 20)
      say(
        `| ${percent(bins[i] ?? 0)} to ${percent(Math.min(1, bins[i + 1] ?? 1))} | ${n} | ${percent(stated / n)} | ${percent(right / n)} |`,
      );
  });
  say();
}
