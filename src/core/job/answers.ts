import type { LineAnswer } from "@/core/carryover";
import type { Sent } from "@/core/console";

/** What a console answered to each line of a script, as the proof takes it; `from`: lines of the script before them. */
export const lineAnswers = ({ answers }: Sent, from = 0): LineAnswer[] =>
  answers.map((answer, i) => ({
    line: from + i + 1,
    answer: answer?.answer ?? "none",
    ...(answer?.cause === undefined ? {} : { cause: answer.cause }),
    ...(answer?.text === undefined ? {} : { text: answer.text }),
  }));
