import { fittedOf } from "@/core/job";
import { done, needBoard, type StepContext, type StepRunner } from "@/bench/steps/context";
import { untilDone, whoAnswers } from "@/bench/steps/lines";

const fedKinds = ({ job }: StepContext): string[] => [
  ...new Set(fittedOf(job.goal).flatMap(({ part, supply }) => (supply === "battery" ? [part] : []))),
];

async function anyAnswers(context: StepContext): Promise<boolean> {
  for (const kind of fedKinds(context)) if (await whoAnswers(context, kind)) return true;
  return false;
}

const GONE = needBoard("The board is not on the cable.", ["Plug its USB cable in"]);

/** Nobody is asked whether it is in: what it feeds answers. */
export const fitBatteryStep: StepRunner = async (context) => {
  const answers = await untilDone(context, {
    say: "Put the battery in",
    expected: "answers",
    seen: "silent",
    until: () => anyAnswers(context),
  });
  if (answers) return done(`The ${fedKinds(context).join(" and ")} answer: the battery is in.`);
  return context.board.presence().kind === "console"
    ? needBoard("Nothing behind the line answers yet.", ["Put the battery in", "Leave the USB cable in"], 10)
    : GONE;
};

export const takeBatteryStep: StepRunner = async (context) => {
  const out = await untilDone(context, {
    say: "Take the battery out",
    expected: "silent",
    seen: "answers",
    until: async () => !(await anyAnswers(context)) && !(await anyAnswers(context)),
  });
  if (out) return done(`The ${fedKinds(context).join(" and ")} are silent: the battery is out.`);
  return context.board.presence().kind === "console"
    ? needBoard("What is behind the line still answers.", ["Take the battery out", "Leave the USB cable in"], 10)
    : GONE;
};
