import { serverProblem } from "@/server/away";
import { TASKS, type Answered, type Asked } from "@/server/outside/tasks";

/** A process that reads what somebody brought. It is asked one thing at a time, and is killed when that takes too much. */
async function answer({ id, task, input }: Asked): Promise<Answered> {
  try {
    const work = TASKS[task] as (input: unknown) => Promise<unknown>;
    return { id, ok: true, value: await work(input) };
  } catch (error) {
    const problem = serverProblem(error);
    if (problem.code === "internal") console.error(error);
    return { id, ok: false, problem };
  }
}

process.on("message", (asked: Asked) => {
  void answer(asked).then((answered) => process.send?.(answered));
});
process.on("disconnect", () => process.exit(0));
process.send?.("ready");
