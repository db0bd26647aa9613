import { awaitPresence } from "@/bench/link";
import { declareOwn, done, needBoard, type StepRunner } from "@/bench/steps/context";
import { closeLineOf, isHeard, lineTo, openTo, whoAnswers } from "@/bench/steps/lines";

export const openLineStep: StepRunner = async (context) => {
  const { board, fitted } = context;
  if (!fitted) throw new Error("a line is opened to a part");
  const seen = await awaitPresence(board, ["console"], 2_000);
  if (!seen) return needBoard("The board is not on the cable.", ["Plug its USB cable in"]);
  const line = lineTo(context, fitted.part);
  // a step that was cut off may have opened it
  if ((await whoAnswers(context, fitted.part)) === undefined) {
    // it is open, and nothing behind it has its supply yet: neither the console nor a part answers
    if (!(await isHeard(context))) await closeLineOf(context, line);
    await declareOwn(context);
    await openTo(context, line, fitted.no);
  }
  return done(
    `By console word: from now on the bytes on ${seen.port} go to the ${fitted.part}${line.way.unfed ? ". It closes only when they are without their supply" : ""}.`,
  );
};
