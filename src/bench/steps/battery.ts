import { isBattery, type Battery } from "@/core/catalog";
import { fittedOf, stepOf } from "@/core/job";
import type { FittedPart } from "@/core/part";
import { done, needBoard, type StepContext, type StepRunner } from "@/bench/steps/context";
import { lineTo, turnTo, untilDone, whoAnswers } from "@/bench/steps/lines";

const batteryOf = ({ step }: StepContext): Battery => {
  const { subject } = stepOf(step);
  return isBattery(subject) ? subject : "battery";
};

/** One part of each kind that a battery feeds, and whether others of its kind are fed otherwise. */
function fedBy({ job }: StepContext, which: Battery): { readonly part: FittedPart; readonly mixed: boolean }[] {
  const all = fittedOf(job.goal);
  const fed = all.filter(({ supply }) => supply === which);
  return fed
    .filter(({ part }, i) => fed.findIndex((each) => each.part === part) === i)
    .map((part) => ({ part, mixed: all.some((each) => each.part === part.part && each.supply !== which) }));
}

const kindsSaid = (fed: ReturnType<typeof fedBy>, which: Battery): string =>
  `${fed.map(({ part }) => part.part).join(" and ")}${fed.some(({ mixed }) => mixed) ? ` on the ${which}` : ""}`;

async function anyAnswers(context: StepContext, fed: ReturnType<typeof fedBy>): Promise<boolean> {
  for (const { part, mixed } of fed) {
    // what another battery feeds tells nothing of this one
    if (mixed) await turnTo(context, lineTo(context, part.part), part.no);
    if (await whoAnswers(context, part.part)) return true;
  }
  return false;
}

const GONE = needBoard("The board is not on the cable.", ["Plug its USB cable in"]);

/** Nobody is asked whether it is in: what it feeds answers. */
export const fitBatteryStep: StepRunner = async (context) => {
  const which = batteryOf(context);
  const fed = fedBy(context, which);
  const answers = await untilDone(context, {
    say: `Put the ${which} in`,
    expected: "answers",
    seen: "silent",
    until: () => anyAnswers(context, fed),
  });
  if (answers) return done(`The ${kindsSaid(fed, which)} answer: the ${which} is in.`);
  return context.board.presence().kind === "console"
    ? needBoard("Nothing behind the line answers yet.", [`Put the ${which} in`, "Leave the USB cable in"], 10)
    : GONE;
};

export const takeBatteryStep: StepRunner = async (context) => {
  const which = batteryOf(context);
  const fed = fedBy(context, which);
  const out = await untilDone(context, {
    say: `Take the ${which} out`,
    expected: "silent",
    seen: "answers",
    until: async () => !(await anyAnswers(context, fed)) && !(await anyAnswers(context, fed)),
  });
  if (out) return done(`The ${kindsSaid(fed, which)} are silent: the ${which} is out.`);
  return context.board.presence().kind === "console"
    ? needBoard("What is behind the line still answers.", [`Take the ${which} out`, "Leave the USB cable in"], 10)
    : GONE;
};
