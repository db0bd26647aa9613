import { startBench } from "@/bench/bench";
import { serverProblem } from "@/server/away";
import { actAs, closeDb } from "@/server/db";

const SAYS_EVERY_MS = 3_000;

/** Tells whoever started this process that it goes on; one that hangs says nothing. */
const sayAlive = () => setInterval(() => process.send?.("alive"), SAYS_EVERY_MS).unref();

/** The bench process. Ends in order on SIGTERM; may be killed at any moment. */
/** What nobody waited for any more is no reason to let go of six boards: it is told, and the work goes on. */
process.on("unhandledRejection", (reason) => {
  const { message, detail } = serverProblem(reason);
  console.error(`The bench goes on, though: ${message}${detail === undefined ? "" : ` (${detail})`}`);
});

async function main() {
  actAs("bench");
  sayAlive();
  const bench = await startBench();
  console.log("The bench is ready.");
  const told = new Promise<"told">((resolve) => {
    process.on("SIGTERM", () => resolve("told"));
    process.on("SIGINT", () => resolve("told"));
  });
  const reason = await Promise.race([told, bench.lost]);
  if (reason === "told") {
    await bench.stop();
    await closeDb();
    process.exit(0);
  } else {
    const problem = serverProblem(reason);
    console.error(
      `The bench lets go of its boards: ${problem.message}${problem.detail === undefined ? "" : ` (${problem.detail})`}`,
    );
    process.exit(1);
  }
}

main().catch((error: unknown) => {
  const problem = serverProblem(error);
  console.error(
    `The bench cannot start: ${problem.message}${problem.detail === undefined ? "" : ` (${problem.detail})`}`,
  );
  process.exit(1);
});
