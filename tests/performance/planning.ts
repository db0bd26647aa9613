import { owedBy, planJob, type Goal } from "@/core/job";
import type { Wish } from "@/core/job/action";
import { termsOf } from "@/core/job/goals";
import type { Facts } from "@/core/job/fact";
import { alternate } from "./alternate";

/** A revival of the main firmware with an update of so many parts beside it, each with its settings. */
function jobOf(parts: number) {
  const others = Array.from({ length: parts - 1 }, (_, i) => `esc ${i + 1}` as const);
  const goal: Goal = {
    kind: "update",
    runs: { main: "next-2", ...Object.fromEntries(others.map((part) => [part, "other-5"])) },
  };
  const wish: Wish = {
    tag: "QW-01",
    parts: Object.fromEntries([
      ["main", { release: { id: "next-2", title: "Next 2" } }],
      ["main loader", { wants: "Loader 3" }],
      ...others.map((part) => [part, { release: { id: "other-5", title: "Other 5" } }]),
    ]) as Wish["parts"],
    batteries: ["battery"],
    owed: owedBy(termsOf(goal)),
  };
  const seen = Object.fromEntries(["main", ...others].map((part) => [`${part}: shows`, "console"])) as Facts;
  return () => {
    const planned = planJob(goal, wish, seen);
    if (planned.kind === "none") throw new Error("there is no plan");
    return planned.moves.length;
  };
}

/** What the planning of a job takes, for one part and for several. */
export function planningBench(say: (text?: string) => void): void {
  say("## A job is planned");
  say();
  say("| parts | steps | ms here | against one part | aim |");
  say("| --- | --- | --- | --- | --- |");
  for (const parts of [1, 2, 4, 6]) {
    const { ms, ratio } = alternate(jobOf(parts), jobOf(1), 1500);
    say(`| ${parts} | ${jobOf(parts)()} | ${ms.toFixed(1)} | ${ratio.toFixed(1)} × | ≤ 50 ms |`);
  }
  say();
}
