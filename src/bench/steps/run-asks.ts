import { nextAsk, readSenses, rememberReading, type Ask } from "@/core/checks";
import { askCommand } from "@/core/console";
import { valueOf } from "@/core/problem";
import { declareOwn, done, needBoard, waits, type StepRunner } from "@/bench/steps/context";

const POLL_US = 300_000;

/** Puts one ask after the other to the operator, and measures each until it holds. */
export function runAsks(asks: readonly Ask[], proves: string): StepRunner {
  return async (context) => {
    const { link, state, step } = context;
    if (link.presence().kind !== "console")
      return needBoard("The board has gone from the cable; what was proved stays proved.", ["Plug the board in again"]);
    const { idiom } = await declareOwn(context);
    const passed: Record<string, string> = { ...state.steps.find((s) => s.id === step)?.passed };
    let memory: Record<string, string> = {};
    for (let ask = nextAsk(asks, passed); ask;) {
      if (context.signal.aborted) return waits({ kind: "sense", say: ask.say, expected: ask.expected });
      const reading = readSenses(valueOf(await askCommand(link.console, idiom, "sense")).output.join("\n"), idiom);
      memory = { ...memory, ...rememberReading(reading, memory) };
      const verdict = ask.judge(reading, memory);
      await context.progress({
        say: ask.say,
        doneShare: Object.keys(passed).length / asks.length,
        ask: {
          say: ask.say,
          expected: ask.expected,
          seen: verdict.seen,
          wrong: verdict.kind === "wrong",
          notProvable: verdict.kind === "not-provable",
        },
      });
      if (verdict.kind === "holds") {
        passed[ask.id] = verdict.seen;
        await context.passed(ask.id, verdict.seen);
        ask = nextAsk(asks, passed);
        memory = {};
      } else await link.clock.waitUntil(link.clock.nowUs() + POLL_US);
    }
    return done(`${proves} ${asks.map((ask) => passed[ask.id]).join("; ")}.`);
  };
}
