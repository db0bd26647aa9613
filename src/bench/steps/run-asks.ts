import {
  nextAsk,
  poseOf,
  readSenses,
  rememberReading,
  type Ask,
  type Conclusion,
  type Pose,
  type Reading,
} from "@/core/checks";
import { askCommand } from "@/core/console";
import { valueOf } from "@/core/problem";
import type { Need } from "@/core/job";
import {
  declareOwn,
  done,
  needBoard,
  waits,
  type Spoken,
  type StepContext,
  type StepRunner,
} from "@/bench/steps/context";

const POLL_US = 300_000;

/** What a check is made of, besides its asks. */
export interface Check {
  readonly asks: readonly Ask[];
  /** How its evidence begins. */
  readonly proves: string;
  /** How the board has to stand before the next ask: else what was done for one would answer the next. */
  readonly neutral?: { readonly say: string; readonly expected: string; readonly is: (reading: Reading) => boolean };
  /** What asks that did not hold mean together, and what puts it right. */
  readonly conclude?: (poses: Readonly<Record<string, Pose>>, wrong: readonly string[]) => Conclusion;
  readonly correction?: (
    context: StepContext,
    conclusion: Conclusion,
  ) => Promise<Extract<Need, { kind: "check" }>["correction"]>;
}

/** What came of the asks so far. */
interface Seen {
  readonly passed: Record<string, string>;
  readonly wrong: Record<string, string>;
  readonly poses: Record<string, Pose>;
}

const tell = (ask: Pick<Ask, "say" | "expected">, seen: string, kind: string) => ({
  say: ask.say,
  expected: ask.expected,
  seen,
  wrong: kind === "wrong",
  notProvable: kind === "not-provable",
});

/** What an ask remembers of how it began, for as long as the board stays on its line. */
const begun = new WeakMap<
  StepContext["link"],
  { readonly ask: string; readonly memory: Readonly<Record<string, string>> }
>();

/** Who says that it was moved as asked is answered by what the board feels at that moment. */
async function takenAtWord(context: StepContext, ask: Ask, read: () => Promise<Reading>, seen: Seen): Promise<void> {
  const reading = await read();
  const known = begun.get(context.link);
  const verdict = ask.judge(reading, known?.ask === ask.id ? known.memory : {});
  if (verdict.kind !== "wrong") {
    await context.note(`The board stood otherwise when it was asked: ${verdict.seen}`, "not-so");
    return;
  }
  const pose = poseOf(reading);
  await context.passed(ask.id, verdict.seen, { wrong: true, ...(pose ? { pose } : {}) });
  seen.wrong[ask.id] = verdict.seen;
  if (pose) seen.poses[ask.id] = pose;
}

/** The asks as they came out, once all are done. */
async function ended({ asks, proves, conclude, correction }: Check, context: StepContext, seen: Seen) {
  const { passed, wrong, poses } = seen;
  const odd = Object.keys(wrong);
  if (odd.length === 0) return done(`${proves} ${asks.map((ask) => passed[ask.id]).join("; ")}.`);
  const conclusion = conclude?.(poses, odd);
  const felt = asks
    .filter(({ id }) => wrong[id] !== undefined)
    .map(({ id, expected }) => `${expected} was expected, ${wrong[id] ?? ""} was seen`);
  const put = conclusion && (await correction?.(context, conclusion));
  return waits({
    kind: "check",
    say: `The check failed: ${felt.join("; ")}. ${conclusion?.means ?? ""}`.trim(),
    ...(put ? { correction: put } : {}),
  });
}

/** Puts one ask after the other to the operator, and measures each until it holds, or somebody says that it was done. */
export function runAsks(check: Check): StepRunner {
  const { asks, neutral } = check;
  return async (context) => {
    const { link, state, step } = context;
    if (link.presence().kind !== "console")
      return needBoard("The board has gone from the cable; what was proved stays proved.", ["Plug the board in again"]);
    const { idiom }: Spoken = await declareOwn(context);
    const read = async () =>
      readSenses(valueOf(await askCommand(link.console, idiom, "sense")).output.join("\n"), idiom);
    const own = state.steps.find((s) => s.id === step);
    const seen: Seen = { passed: { ...own?.passed }, wrong: { ...own?.wrong }, poses: { ...own?.poses } };
    const answered = () => ({ ...seen.wrong, ...seen.passed });
    const words = own?.notes.filter(({ code }) => code === "as-asked").length ?? 0;
    const answers = (own?.notes.filter(({ code }) => code === "not-so").length ?? 0) + Object.keys(seen.wrong).length;
    const first = nextAsk(asks, answered());
    if (first && words > answers) await takenAtWord(context, first, read, seen);
    const waitNeutral = async (): Promise<boolean> => {
      for (let reading = await read(); neutral && !neutral.is(reading); reading = await read()) {
        if (context.signal.aborted) return false;
        await context.progress({ say: neutral.say, ask: tell(neutral, "not level yet", "not-yet") });
        await link.clock.waitUntil(link.clock.nowUs() + POLL_US);
      }
      return true;
    };
    let memory: Record<string, string> = {};
    for (let ask = nextAsk(asks, answered()); ask;) {
      if (Object.keys(answered()).length > 0 && Object.keys(memory).length === 0 && !(await waitNeutral()))
        return waits({ kind: "sense", say: ask.say, expected: ask.expected });
      if (context.signal.aborted) return waits({ kind: "sense", say: ask.say, expected: ask.expected });
      const reading = await read();
      memory = { ...memory, ...rememberReading(reading, memory), begun: "yes" };
      begun.set(link, { ask: ask.id, memory });
      const verdict = ask.judge(reading, memory);
      await context.progress({
        say: ask.say,
        doneShare: Object.keys(answered()).length / asks.length,
        ask: tell(ask, verdict.seen, verdict.kind),
      });
      if (verdict.kind === "holds") {
        const pose = poseOf(reading);
        seen.passed[ask.id] = verdict.seen;
        if (pose) seen.poses[ask.id] = pose;
        await context.passed(ask.id, verdict.seen, pose ? { pose } : {});
        ask = nextAsk(asks, answered());
        memory = {};
      } else await link.clock.waitUntil(link.clock.nowUs() + POLL_US);
    }
    return ended(check, context, seen);
  };
}
