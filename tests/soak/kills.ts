import { execFileSync } from "node:child_process";
import { readdirSync, readFileSync, rmSync } from "node:fs";
import path from "node:path";
import { Client } from "pg";
import { verifyChain } from "@/server/chain";
import { closeDb } from "@/server/db";
import { one, rows } from "@/server/sql";
import { addressOf } from "../support/database";
import { startProduct, type Product } from "../support/product";
import { ensureCluster, numberOf } from "./cluster";
import { letAllIn, type Role } from "./people";
import { bringToEnd, sooner, type Say } from "./technician";

/**
 * Whole jobs while processes are killed and frozen, the database goes away and cables come out, by lot: no entry is lost or
 * doubled, no aircraft ends in a wrong state, every job comes to its end through the interface, and all processes are back
 * by themselves within a minute of the cause's end.
 *   tsx tests/soak/kills.ts [--runs 300] [--seed N] [--port N]
 */
const RUNS = numberOf("runs", 300);
const SEED = numberOf("seed", Date.now() % 1_000_000);
const PORT = numberOf("port", 4295);
const DATABASE = "fresh_start_soak_kills";
const DATA = path.resolve(".data/soak-kills");
const JOB_MS = 240_000;
const BACK_MS = 60_000;
const FLEET = ["QW-01", "QW-02", "QW-03", "QW-04", "QW-05", "QW-06"];

const sleep = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** A small generator that gives the same lot for the same seed (mulberry32). */
function lots(seed: number) {
  let state = seed >>> 0;
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
  return {
    below: (n: number) => Math.floor(next() * n),
    of: <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)] as T,
  };
}

const pidOf = (part: string) => Number(readFileSync(path.join(DATA, `${part}.pid`), "utf8"));
const alive = (pid: number) => {
  try {
    process.kill(pid, 0);
    return !readFileSync(`/proc/${pid}/stat`, "utf8").includes(") Z ");
  } catch {
    return false;
  }
};
const signal = (pid: number, name: NodeJS.Signals) => {
  if (alive(pid)) process.kill(pid, name);
};
const supervisorPid = () =>
  Number(
    readdirSync("/proc").find((entry) => {
      if (!/^\d+$/.test(entry)) return false;
      try {
        const words = readFileSync(`/proc/${entry}/cmdline`, "utf8").split("\0");
        return words.some((word) => word.endsWith("supervise.mjs")) && words.includes(String(PORT));
      } catch {
        return false;
      }
    }) ?? 0,
  );
const cluster = (verb: string) =>
  execFileSync(path.resolve("bin/lib/postgres.sh"), [verb, "test"], {
    env: { ...process.env, PG_FAST: "1" },
    stdio: "pipe",
  });

async function main(): Promise<void> {
  ensureCluster();
  rmSync(DATA, { recursive: true, force: true });
  let product: Product = await startProduct({ database: DATABASE, data: DATA, port: PORT });
  Object.assign(process.env, { DATABASE_URL: addressOf(DATABASE, "app"), FRESH_START_DATA: DATA });
  let cookies = await letAllIn();
  const say: Say = async (role: Role, asked, body) => {
    try {
      const answer = await fetch(`http://127.0.0.1:${PORT}${asked}`, {
        method: "POST",
        headers: {
          cookie: cookies.get(role) ?? "",
          origin: `http://127.0.0.1:${PORT}`,
          "content-type": "application/json",
        },
        body: JSON.stringify(body),
        signal: AbortSignal.timeout(10_000),
      });
      return answer.ok;
    } catch {
      return false;
    }
  };

  const killed = (part: string) => Promise.resolve(signal(pidOf(part), "SIGKILL"));
  const frozen = async (part: string, ms: number) => {
    const pid = pidOf(part);
    signal(pid, "SIGSTOP");
    await sleep(ms);
    signal(pid, "SIGCONT");
  };
  /** What can happen; each resolves when its cause is over. */
  const STRIKES: Readonly<Record<string, (bay: number, ms: number) => Promise<unknown>>> = {
    "bench killed": () => killed("bench"),
    "web killed": () => killed("web"),
    "keeper killed": () => killed("keeper"),
    "bench frozen": (_, ms) => frozen("bench", ms),
    "web frozen": (_, ms) => frozen("web", ms),
    "cable out": async (bay, ms) => {
      await say("technician", `/api/bench/${bay}`, { kind: "unplug" });
      await sleep(ms / 4);
      await say("technician", `/api/bench/${bay}`, { kind: "plug", button: false, pads: false });
    },
    "database sessions cut": async () => {
      const client = new Client({ connectionString: process.env.TEST_DATABASE_URL });
      await client.connect();
      await client.query("select pg_terminate_backend(pid) from pg_stat_activity where datname = $1", [DATABASE]);
      await client.end();
    },
    "database away": async (_, ms) => {
      cluster("stop");
      await sleep(ms);
      cluster("start");
    },
    "supervisor killed": async () => {
      signal(supervisorPid(), "SIGKILL");
      const parts = ["web", "bench", "keeper"].map(pidOf);
      for (let i = 0; i < 100 && parts.some(alive); i++) await sleep(100);
      product = await startProduct({ database: DATABASE, data: DATA, port: PORT, again: true });
    },
  };

  const isBack = async (): Promise<boolean> => {
    try {
      const health = await fetch(`http://127.0.0.1:${PORT}/api/health`, { signal: AbortSignal.timeout(2_000) });
      const bench = await one<{ up: boolean }>("select seen_at > now() - interval '6 seconds' as up from benches");
      return health.ok && bench?.up === true && ["web", "bench", "keeper"].every((part) => alive(pidOf(part)));
    } catch {
      return false;
    }
  };

  /** What is wrong after a run; nothing, when all is as it should be. */
  async function wrongAfter(jobId: number, tag: string): Promise<string[]> {
    const kinds = (
      await rows<{ kind: string }>("select entry ->> 'kind' as kind from journal where job_id = $1 order by no", [
        jobId,
      ])
    ).map(({ kind }) => kind);
    const once = ["ordered", "signed", "finished"].filter((kind) => kinds.filter((each) => each === kind).length !== 1);
    const gaps = await one<{ n: number }>("select (max(no) - count(*))::int as n from journal");
    const aircraft = await one<{ state: string; reason: string }>(
      "select state, state_reason as reason from aircraft where tag = $1",
      [tag],
    );
    const orders = await one<{ n: number }>(
      "select count(*)::int as n from orders where state = 'taken' and created_at < now() - interval '1 minute'",
    );
    return [
      ...once.map((kind) => `${kind} stands ${kinds.filter((each) => each === kind).length} times`),
      ...(kinds.at(-1) === "finished" ? [] : [`the record ends with ${kinds.at(-1) ?? "nothing"}`]),
      ...(gaps?.n === 0 ? [] : [`${gaps?.n} numbers of the journal are missing`]),
      ...(aircraft?.state === "in-service" ? [] : [`${tag} is ${aircraft?.state}: ${aircraft?.reason}`]),
      ...(orders?.n === 0 ? [] : ["an order was taken and never closed"]),
    ];
  }

  async function seat(tag: string, bay: number): Promise<boolean> {
    const end = Date.now() + 60_000;
    while (Date.now() < end) {
      const board = await sooner(() =>
        one<{ id: number; bay_no: number | null }>(
          "select s.id, s.bay_no from sim_boards s join boards b on b.chip_id = s.chip_id join aircraft a on a.id = b.aircraft_id where a.tag = $1",
          [tag],
        ),
      );
      if (board?.bay_no === bay) {
        const live = await sooner(() =>
          one<{ live: { tag?: string; presence?: string } }>("select live from bays where no = $1", [bay]),
        );
        if (live?.live.presence === "console" && live.live.tag === tag) return true;
        await say("technician", `/api/bench/${bay}`, { kind: "plug", button: false, pads: false });
        await sleep(1_000);
      } else {
        if (board?.bay_no !== null && board)
          await say("technician", `/api/bench/${board.bay_no}`, { kind: "take-out" });
        await say("technician", `/api/bench/${bay}`, { kind: "take-out" });
        await say("technician", `/api/bench/${bay}`, { kind: "bring", boardId: board?.id ?? 0 });
      }
    }
    return false;
  }

  /** A job for the board in a bay: to one of the releases that are offered, or back to its defaults. */
  async function order(tag: string, bay: number, lot: ReturnType<typeof lots>): Promise<number | undefined> {
    const aircraft = await one<{ id: number }>("select id from aircraft where tag = $1", [tag]);
    const offers = await fetch(`http://127.0.0.1:${PORT}/api/bench/${bay}/releases`, {
      headers: { cookie: cookies.get("technician") ?? "" },
    })
      .then(
        (answer) =>
          answer.json() as Promise<{
            choices?: { id: string; image: boolean; blocked: number; instead?: object; relation: string }[];
          }>,
      )
      .catch(() => ({ choices: [] }));
    const usable = (offers.choices ?? []).filter(
      (each) =>
        each.image &&
        !each.instead &&
        // nobody is there to move wires
        each.blocked === 0 &&
        each.relation !== "same" &&
        each.relation !== "other-family",
    );
    const goal =
      usable.length > 0 && lot.below(4) > 0
        ? { kind: "update", releaseId: lot.of(usable).id }
        : { kind: "baseline", base: "defaults", parts: {} };
    await say("technician", "/api/jobs", { bayNo: bay, aircraftId: aircraft?.id ?? 0, goal });
    return (
      await one<{ id: number }>(
        "select j.id from jobs j where j.aircraft_id = $1 and j.state = 'open' order by j.id desc limit 1",
        [aircraft?.id ?? 0],
      )
    )?.id;
  }

  const faults: string[] = [];
  const told = new Map<string, number>();
  let [slowestBack, jobs] = [0, 0];
  const began = Date.now();
  for (let no = 0; no < RUNS; no++) {
    const lot = lots(SEED + no);
    if (no % 40 === 0) cookies = await sooner(letAllIn);
    await say("technician", "/api/bench/1", { kind: "clock", factor: 150 });
    const [tag, bay] = [lot.of(FLEET), 1 + lot.below(3)];
    if (!(await seat(tag, bay))) {
      faults.push(`run ${no}: ${tag} could not be put into bay ${bay}`);
      continue;
    }
    const jobId = await sooner(() => order(tag, bay, lot));
    if (jobId === undefined) {
      faults.push(`run ${no}: no job could be ordered for ${tag}`);
      continue;
    }
    jobs++;
    // every third job is struck once, as its sign-off is pressed: while it is written, or just after
    const atSigning = lot.below(3) === 0;
    const strikes = Array.from({ length: atSigning ? 1 : 1 + lot.below(3) }, () => ({
      name: lot.of(Object.keys(STRIKES)),
      afterMs: lot.below(atSigning ? 500 : 9_000),
      ms: 500 + lot.below(6_000),
    }));
    const strike = async () => {
      for (const { name, afterMs, ms } of strikes) {
        await sleep(afterMs);
        const cause = atSigning ? `${name} at sign-off` : name;
        told.set(cause, (told.get(cause) ?? 0) + 1);
        await STRIKES[name]?.(bay, ms);
        const over = Date.now();
        while (!(await isBack()) && Date.now() - over < BACK_MS) await sleep(250);
        const back = Date.now() - over;
        slowestBack = Math.max(slowestBack, back);
        if (back >= BACK_MS) faults.push(`run ${no}: after “${name}” not all was back within a minute`);
      }
    };
    let striking = atSigning ? undefined : strike();
    const end = await bringToEnd(say, jobId, JOB_MS, {
      signing: () => {
        striking ??= strike();
      },
    });
    await striking;
    const wrong = end === "finished" ? await sooner(() => wrongAfter(jobId, tag)) : [end];
    for (const each of wrong)
      faults.push(`run ${no}, seed ${SEED + no}, ${tag}, ${strikes.map(({ name }) => name).join(", ")}: ${each}`);
    if (end !== "finished" && end !== "stopped")
      await say("technician", `/api/jobs/${jobId}`, { kind: "stop", reason: "soak", writing: true });
    if (no % 10 === 9)
      for (const { says } of (await sooner(() => verifyChain())).faults) faults.push(`run ${no}: ${says}`);
    console.log(
      `${no + 1}/${RUNS} ${tag} bay ${bay}: ${atSigning ? "at sign-off " : ""}${strikes.map(({ name }) => name).join(", ")} → ${end}${wrong.length === 0 ? "" : ` WRONG ${wrong.join("; ")}`}`,
    );
  }
  for (const { says } of (await verifyChain()).faults) faults.push(says);
  console.log(
    `${jobs} jobs in ${RUNS} runs, ${Math.round((Date.now() - began) / 1000)} s, seed ${SEED}; slowest return ${(slowestBack / 1000).toFixed(1)} s`,
  );
  console.log([...told].map(([name, n]) => `${name} ${n}`).join(", "));
  for (const fault of faults.slice(0, 40)) console.log(`FAULT ${fault}`);
  await closeDb();
  await product.stop();
  process.exitCode = faults.length === 0 ? 0 : 1;
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
