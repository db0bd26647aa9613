import { commandLine } from "@/core/idiom";
import { askCommand } from "@/core/console";
import { readSenses } from "@/core/checks";
import { valueOf } from "@/core/problem";
import { declareOwn, done, waits, type Spoken, type StepContext, type StepRunner } from "@/bench/steps/context";

/** Above this a battery is taken as fitted. */
const BATTERY_VOLTS = 1;
const POLL_US = 400_000;

async function measuredVolts({ link }: StepContext, { idiom }: Spoken): Promise<number> {
  const { output } = valueOf(await askCommand(link.console, idiom, "sense"));
  return readSenses(output.join("\n"), idiom).battery ?? 0;
}

/** Asks for the battery until the board measures that it is out; undefined when the step has to let go. */
async function untilOut(context: StepContext, spoken: Spoken, volts: number): Promise<number | undefined> {
  for (let now = volts; ; now = await measuredVolts(context, spoken)) {
    if (now < BATTERY_VOLTS) return now;
    await context.progress({
      say: "The battery is in",
      ask: {
        say: "Take the battery out",
        expected: "0.0 V",
        seen: `${now.toFixed(1)} V`,
        wrong: true,
        notProvable: false,
      },
    });
    if (context.signal.aborted) return undefined;
    await context.link.clock.waitUntil(context.link.clock.nowUs() + POLL_US);
  }
}

export const makeSafe: StepRunner = async (context) => {
  const { state, step, link } = context;
  const confirmedBy = state.steps.find((s) => s.id === step)?.confirmedBy;
  const asks = ["Take the propellers off", "Take the battery out", "Leave the USB cable in"];
  const word = "It is done: propellers off, battery out";
  if (confirmedBy === undefined)
    return waits({ kind: "confirm", say: "Make the aircraft safe to work on.", asks, word });
  if (context.passesOn)
    return done(`Confirmed by ${confirmedBy}; its console is not heard while its line is open, and cannot measure it.`);
  if (link.presence().kind !== "console")
    return done(`Confirmed by ${confirmedBy}; the board cannot measure its battery now.`);
  const spoken = await declareOwn(context);
  const volts = await untilOut(context, spoken, await measuredVolts(context, spoken));
  return volts === undefined
    ? waits({ kind: "confirm", say: "The battery was still in.", asks, word })
    : done(`Confirmed by ${confirmedBy}; the board measures ${volts.toFixed(1)} V, so the battery is out.`);
};

/**
 * What somebody confirmed is measured again before each later step, wherever the board can: a battery that is in again is
 * asked for, and nothing goes on before it is out. Whether the step may be taken.
 */
export async function staysSafe(context: StepContext): Promise<boolean> {
  const { state, link, job } = context;
  const safe = state.steps.find(({ kind }) => kind === "make-safe");
  const spec = state.steps.find(({ id }) => id === context.step);
  const isCheck = (spec?.spec ?? job.steps.find(({ id }) => id === context.step))?.shows !== undefined;
  // checks may want the battery in, and whoever signs stands beside it
  if (
    context.passesOn ||
    safe?.status !== "done" ||
    isCheck ||
    context.step === "sign-off" ||
    link.presence().kind !== "console"
  )
    return true;
  const spoken = await declareOwn(context);
  if (commandLine(spoken.idiom, "sense") === undefined) return true;
  const volts = await measuredVolts(context, spoken);
  if (volts < BATTERY_VOLTS) return true;
  await context.note(
    `The board measures ${volts.toFixed(1)} V: the battery is in, though ${safe.confirmedBy ?? "somebody"} said that it is out.`,
    "battery-in",
  );
  if ((await untilOut(context, spoken, volts)) === undefined) return false;
  await context.note("The battery is out again, by the board’s own measure.");
  return true;
}
