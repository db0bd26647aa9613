import { askCommand } from "@/core/console";
import { readSenses } from "@/core/checks";
import { valueOf } from "@/core/problem";
import { declareOwn, done, waits, type StepRunner } from "@/bench/steps/context";

/** Above this a battery is taken as fitted. */
const BATTERY_VOLTS = 1;

export const makeSafe: StepRunner = async (context) => {
  const { state, step, link } = context;
  const confirmedBy = state.steps.find((s) => s.id === step)?.confirmedBy;
  const asks = ["Take the propellers off", "Take the battery out", "Leave the USB cable in"];
  const word = "It is done: propellers off, battery out";
  if (confirmedBy === undefined)
    return waits({ kind: "confirm", say: "Make the aircraft safe to work on.", asks, word });
  if (link.presence().kind !== "console")
    return done(`Confirmed by ${confirmedBy}; the board cannot measure its battery now.`);
  const { idiom } = await declareOwn(context);
  for (;;) {
    const volts =
      readSenses(valueOf(await askCommand(link.console, idiom, "sense")).output.join("\n"), idiom).battery ?? 0;
    if (volts < BATTERY_VOLTS)
      return done(`Confirmed by ${confirmedBy}; the board measures ${volts.toFixed(1)} V, so the battery is out.`);
    await context.progress({
      say: "The battery is still in",
      ask: {
        say: "Take the battery out",
        expected: "0.0 V",
        seen: `${volts.toFixed(1)} V`,
        wrong: true,
        notProvable: false,
      },
    });
    if (context.signal.aborted) return waits({ kind: "confirm", say: "The battery was still in.", asks, word });
    await link.clock.waitUntil(link.clock.nowUs() + 400_000);
  }
};
