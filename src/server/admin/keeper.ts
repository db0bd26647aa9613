import { Client } from "pg";
import { copiesKept, databaseUrl, ownerUrl } from "@/server/env";
import { serverProblem } from "@/server/away";
import { closeDb } from "@/server/db";
import { makeCopy } from "@/server/admin/copies";
import { ensureStatement, unstated } from "@/server/repositories/visit-statements";
import { lastKeeping, lookAtChain, NEW_ROUND, scrubStep, writeDownHead, type Round } from "@/server/keeping";

const HOUR_MS = 3600_000;
const MINUTE_MS = 60_000;
/** Between two steps of the round over stored bytes, so that nobody's work waits for it. */
const STEP_MS = 2_000;
const ROUND_EVERY_MS = 24 * HOUR_MS;
const CHAIN_EVERY_MS = 6 * HOUR_MS;
const COPY_EVERY_MS = 24 * HOUR_MS;
const WITNESS_EVERY_MS = HOUR_MS;
/** After a copy that failed; and from the start on, so that a workshop that was just opened can first be used. */
const COPY_AGAIN_MS = HOUR_MS;
const FIRST_COPY_MS = 10 * MINUTE_MS;
const SIGN_INS_DAYS = 400;
const MOST_AT_ONCE = 500;
/** Keys of the advisory lock: one keeper for a workshop, however many hosts it has. */
const LOCK = [4171, 1] as const;

/** No longer than this from one to the next. */
const EVERY_MS = {
  chain: CHAIN_EVERY_MS,
  copy: COPY_EVERY_MS,
  witness: WITNESS_EVERY_MS,
  tidy: COPY_EVERY_MS,
  round: ROUND_EVERY_MS,
};
type Due = Record<keyof typeof EVERY_MS, number>;

/** Forgets sessions that are long over and sign-ins of a year ago; only the owner of the tables can. */
async function tidy(): Promise<void> {
  const client = new Client({ connectionString: ownerUrl() });
  await client.connect();
  try {
    await client.query("delete from sessions where coalesce(ended_at, seen_at) < now() - interval '30 days'");
    await client.query(`delete from sign_ins where at < now() - interval '${SIGN_INS_DAYS} days'`);
  } finally {
    await client.end();
  }
}

/** Statements of visits whose process went down between their end and that. */
async function stateEnded(): Promise<void> {
  for (const jobId of await unstated(MOST_AT_ONCE)) await ensureStatement(jobId);
}

async function keep(client: Client, lost: Promise<unknown>): Promise<void> {
  let asked = new Set<string>();
  client.on("notification", ({ payload }) => asked.add(payload ?? ""));
  await client.query("listen fresh_start_keeper");
  const began = Date.now();
  const last = await lastKeeping();
  const due: Due = {
    chain: began,
    witness: began + MINUTE_MS,
    tidy: began + MINUTE_MS,
    round: (last.bytes?.at.getTime() ?? began - ROUND_EVERY_MS) + ROUND_EVERY_MS,
    copy: Math.max(began + FIRST_COPY_MS, (last["good-copy"]?.at.getTime() ?? 0) + COPY_EVERY_MS),
  };
  let round: Round = NEW_ROUND;
  const over = new AbortController();
  void lost.then(() => over.abort());
  while (!over.signal.aborted) {
    const now = Date.now();
    // a clock that was set back leaves nothing undone for as long as it was set back by
    for (const what of Object.keys(due) as (keyof Due)[]) due[what] = Math.min(due[what], now + EVERY_MS[what]);
    const wanted = asked;
    asked = new Set();
    if (now >= due.chain || wanted.has("look")) {
      due.chain = now + CHAIN_EVERY_MS;
      const { faults } = await lookAtChain();
      for (const { says } of faults.slice(0, 20)) console.error(`The record does not agree with its chain: ${says}`);
      if (wanted.has("look")) due.round = now;
    }
    if (now >= due.witness) {
      due.witness = now + WITNESS_EVERY_MS;
      await stateEnded();
      await writeDownHead();
    }
    if (wanted.has("copy") || (copiesKept() > 0 && now >= due.copy))
      due.copy = now + ((await makeCopy(new Date())) ? COPY_EVERY_MS : COPY_AGAIN_MS);
    if (now >= due.tidy) {
      due.tidy = now + COPY_EVERY_MS;
      await tidy();
    }
    if (now >= due.round) {
      round = await scrubStep(round);
      if (round.after === "") due.round = now + ROUND_EVERY_MS;
    }
    if (asked.size === 0) await Promise.race([lost, new Promise((resolve) => setTimeout(resolve, STEP_MS))]);
  }
}

/** The process that keeps the workshop: copies, and looks at what is kept. It may be killed at any moment. */
async function main() {
  setInterval(() => process.send?.("alive"), 3_000).unref();
  const client = new Client({
    connectionString: databaseUrl(),
    keepAlive: true,
    application_name: "fresh-start keeper",
  });
  await client.connect();
  const lost = new Promise<"told" | Error>((resolve) => {
    client.on("error", resolve);
    client.on("end", () => resolve(new Error("the connection to the database ended")));
    process.on("SIGTERM", () => resolve("told"));
    process.on("SIGINT", () => resolve("told"));
  });
  for (;;) {
    const { rows } = await client.query<{ held: boolean }>("select pg_try_advisory_lock($1, $2) as held", [...LOCK]);
    if (rows[0]?.held) break;
    // another host's keeper is at it: this one stands by
    const end = await Promise.race([
      lost,
      new Promise<undefined>((resolve) => setTimeout(resolve, MINUTE_MS, undefined)),
    ]);
    if (end !== undefined) return end;
  }
  await keep(client, lost);
  return lost;
}

main()
  .then(async (end) => {
    await closeDb().catch(() => undefined);
    process.exit(end === "told" ? 0 : 1);
  })
  .catch((error: unknown) => {
    const problem = serverProblem(error);
    console.error(
      `The keeper cannot go on: ${problem.message}${problem.detail === undefined ? "" : ` (${problem.detail})`}`,
    );
    process.exit(1);
  });
