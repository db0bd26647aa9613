import { capital } from "@/core/config";
import { commandLine } from "@/core/idiom";
import { askCommand } from "@/core/console";
import { batteriesSaid, type Battery } from "@/core/catalog";
import { batteriesMeasured, readSenses } from "@/core/checks";
import { valueOf } from "@/core/problem";
import { batteriesIn } from "@/core/job";
import { declareOwn, done, waits, type Spoken, type StepContext, type StepRunner } from "@/bench/steps/context";

const POLL_US = 400_000;

interface Measured {
  /** Of all that it measures, the most. */
  readonly volts: number;
  readonly fitted: readonly Battery[];
}

async function measure({ link }: StepContext, { idiom }: Spoken): Promise<Measured> {
  const { output } = valueOf(await askCommand(link.console, idiom, "sense"));
  const reading = readSenses(output.join("\n"), idiom);
  return {
    volts: Math.max(reading.battery ?? 0, reading.secondBattery ?? 0),
    fitted: batteriesMeasured(reading).map(({ which }) => which),
  };
}

const are = (which: readonly Battery[]) => `${batteriesSaid(which)} ${which.length > 1 ? "are" : "is"}`;

/** Asks for what is fitted until the board measures that it is out; undefined when the step has to let go. */
async function untilOut(context: StepContext, spoken: Spoken, first: Measured): Promise<Measured | undefined> {
  for (let now = first; ; now = await measure(context, spoken)) {
    if (now.fitted.length === 0) return now;
    await context.progress({
      say: `${capital(are(now.fitted))} in`,
      ask: {
        say: `Take ${batteriesSaid(now.fitted)} out`,
        expected: "0.0 V",
        seen: `${now.volts.toFixed(1)} V`,
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
  const all = batteriesIn(context.job.goal);
  const asks = ["Take the propellers off", `Take ${batteriesSaid(all)} out`, "Leave the USB cable in"];
  const word = `It is done: propellers off, ${all.length > 1 ? "both batteries" : "battery"} out`;
  if (confirmedBy === undefined)
    return waits({ kind: "confirm", say: "Make the aircraft safe to work on.", asks, word });
  if (context.passesOn)
    return done(`Confirmed by ${confirmedBy}; its console is not heard while its line is open, and cannot measure it.`);
  if (link.presence().kind !== "console")
    return done(`Confirmed by ${confirmedBy}; the board cannot measure its battery now.`);
  const spoken = await declareOwn(context);
  const out = await untilOut(context, spoken, await measure(context, spoken));
  return out === undefined
    ? waits({ kind: "confirm", say: "A battery was still in.", asks, word })
    : done(`Confirmed by ${confirmedBy}; the board measures ${out.volts.toFixed(1)} V, so ${are(all)} out.`);
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
  const now = await measure(context, spoken);
  if (now.fitted.length === 0) return true;
  await context.note(
    `The board measures ${now.volts.toFixed(1)} V: ${are(now.fitted)} in, though ${safe.confirmedBy ?? "somebody"} said that ${now.fitted.length > 1 ? "they are" : "it is"} out.`,
    "battery-in",
  );
  if ((await untilOut(context, spoken, now)) === undefined) return false;
  await context.note(`${capital(are(now.fitted))} out again, by the board’s own measure.`);
  return true;
}
