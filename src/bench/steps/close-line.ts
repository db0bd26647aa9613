import { batteriesSaid } from "@/core/catalog";
import { done, failed, needBoard, type StepRunner } from "@/bench/steps/context";
import { closeLineOf, feeding, isHeard, lineTo } from "@/bench/steps/lines";

export const closeLineStep: StepRunner = async (context) => {
  const { fitted, board } = context;
  if (!fitted) throw new Error("a line is closed that led to a part");
  if (board.presence().kind !== "console")
    return needBoard("The board is not on the cable.", ["Plug its USB cable in"]);
  const stays = await closeLineOf(context, lineTo(context, fitted.part));
  if (stays !== undefined && !(await isHeard(context)))
    return failed({
      code: "line-open",
      message: `The line to the ${fitted.part} stays open`,
      detail: stays,
      hint: `Take ${batteriesSaid(feeding(context.job.goal))} out, then begin the step again`,
    });
  if (!(await isHeard(context)))
    return needBoard("The line is closed, and the console does not answer.", [
      "Unplug the board, and plug it in again",
    ]);
  return done("By its word, after a silence. The console answers again.");
};
