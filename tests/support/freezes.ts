import { actAs, getDb } from "@/server/db";
import { inTransaction, run } from "@/server/sql";

/** A process of a kind of its own that freezes in the middle of a transaction, with a row locked. */
async function main() {
  actAs(process.argv[2] === "web" ? "web" : "bench");
  getDb();
  await inTransaction(async (transaction) => {
    await run("update aircraft set label = 'frozen' where tag = 'QW-01'", [], transaction);
    process.stdout.write("held\n");
    await new Promise((resolve) => setTimeout(resolve, 50));
    process.kill(process.pid, "SIGSTOP");
    await run("update aircraft set label = 'thawed' where tag = 'QW-01'", [], transaction);
  });
}

main().then(
  () => process.exit(0),
  () => process.exit(9),
);
