import { startBench } from "@/bench/bench";
import { problemOf } from "@/core/problem";
import { closeDb } from "@/server/db";

/** The bench process. Ends in order on SIGTERM; may be killed at any moment. */
async function main() {
  const bench = await startBench();
  console.log("The bench is ready.");
  let ending = false;
  const end = async (code: number) => {
    if (ending) return;
    ending = true;
    await bench.stop();
    await closeDb();
    process.exit(code);
  };
  process.on("SIGTERM", () => void end(0));
  process.on("SIGINT", () => void end(0));
  const reason = await bench.lost;
  if (!ending) {
    const problem = problemOf(reason);
    console.error(`The bench lets go of its boards: ${problem.message}${problem.detail === undefined ? "" : ` (${problem.detail})`}`);
    process.exit(1);
  }
}

main().catch((error: unknown) => {
  const problem = problemOf(error);
  console.error(`The bench cannot start: ${problem.message}${problem.detail === undefined ? "" : ` (${problem.detail})`}`);
  process.exit(1);
});
