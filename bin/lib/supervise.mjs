// Starts the web, the bench and the keeper as processes of their own; starts each again when it dies or hangs, for as long
// as it takes; ends all on SIGTERM or SIGINT. What they wait for, a database that is away for instance, may take its time.
import { spawn } from "node:child_process";
import { setTimeout as sleep } from "node:timers/promises";
import { writeFileSync } from "node:fs";
import path from "node:path";
import { parseArgs } from "node:util";
import { PROCESSES, processOf } from "./processes.mjs";

const { values } = parseArgs({
  options: { port: { type: "string" }, host: { type: "string" }, dev: { type: "boolean", default: false } },
});
const env = {
  ...process.env,
  NODE_ENV: values.dev ? "development" : "production",
  PROCESSES: values.dev ? "" : PROCESSES,
};
const address = `http://${values.host === "0.0.0.0" ? "127.0.0.1" : values.host}:${values.port}`;
const withParent = ["--import", new URL("with-parent.mjs", import.meta.url).href];
const asSource = { asSource: values.dev };
const serve = [...processOf("src/server/web/serve.ts", asSource), "--host", values.host, "--port", values.port];
/** Only whoever makes copies knows the account that owns the tables. */
const { DATABASE_OWNER_URL: ownerUrl, ...own } = env;

/** Whether the web answers at all: without its database it answers that it has none. */
const answers = () =>
  fetch(`${address}/api/health`, { signal: AbortSignal.timeout(5_000) }).then(
    () => true,
    () => false,
  );
/** Whether a part that says so by itself has lately said that it goes on. */
const said = (part) => Promise.resolve(performance.now() - part.saidAt < 15_000);
const parts = [
  { name: "web", args: [...withParent, ...serve, ...(values.dev ? ["--dev"] : [])], isAlive: answers },
  {
    name: "bench",
    args: [...withParent, ...(values.dev ? ["--watch"] : []), ...processOf("src/bench/main.ts", asSource)],
    // a bench says so by itself; one that runs under a watcher of files is told by nobody
    isAlive: values.dev ? () => Promise.resolve(true) : said,
    says: true,
  },
  {
    name: "keeper",
    args: [...withParent, ...processOf("src/server/admin/keeper.ts", asSource)],
    isAlive: said,
    says: true,
    keeps: true,
  },
];
/** Pauses before a part is started again, in ms: longer and longer, until it has lived for a while. */
const PAUSES = [500, 1_000, 2_000, 4_000, 8_000, 15_000];
const LIVED_MS = 30_000;
/** A part that was not heard of so many times in a row hangs. The first look comes when it has had time to start. */
const LOOK_EVERY_MS = 5_000;
const FIRST_LOOK_MS = 60_000;
const MOST_MISSES = 3;
let ending = false;
const wake = new AbortController();

async function watch(part, child) {
  let misses = 0;
  await sleep(FIRST_LOOK_MS, undefined, { signal: wake.signal }).catch(() => undefined);
  while (!ending && child.exitCode === null && child.signalCode === null) {
    misses = (await part.isAlive(part)) ? 0 : misses + 1;
    if (misses >= MOST_MISSES) {
      console.error(`The ${part.name} process hangs. It is ended.`);
      child.kill("SIGKILL");
      return;
    }
    await sleep(LOOK_EVERY_MS, undefined, { signal: wake.signal }).catch(() => undefined);
  }
}

async function keep(part) {
  let deaths = 0;
  while (!ending) {
    const startedAt = performance.now();
    const stdio = ["ignore", "pipe", "inherit", ...(part.says ? ["ipc"] : [])];
    const child = spawn(process.execPath, part.args, {
      env: part.keeps ? { ...own, DATABASE_OWNER_URL: ownerUrl } : own,
      stdio,
    });
    part.child = child;
    part.saidAt = startedAt;
    child.on("message", () => (part.saidAt = performance.now()));
    writeFileSync(path.join(process.env.FRESH_START_DATA ?? ".data", `${part.name}.pid`), String(child.pid));
    child.stdout.on("data", (bytes) => {
      if (part.name === "bench" || process.env.FRESH_START_VERBOSE) process.stdout.write(bytes);
    });
    void watch(part, child);
    const code = await new Promise((resolve) => child.once("exit", (exit, signal) => resolve(signal ?? exit)));
    if (ending) return;
    deaths = performance.now() - startedAt < LIVED_MS ? deaths + 1 : 0;
    const pause = PAUSES[Math.min(deaths, PAUSES.length - 1)];
    console.error(`The ${part.name} process ended (${code}). It is started again in ${pause / 1000} s.`);
    await sleep(pause, undefined, { signal: wake.signal }).catch(() => undefined);
  }
}

function end() {
  if (ending) return;
  ending = true;
  wake.abort();
  for (const part of parts) part.child?.kill("SIGTERM");
  setTimeout(() => parts.forEach((part) => part.child?.kill("SIGKILL")), 8000).unref();
}
process.on("SIGTERM", end);
process.on("SIGINT", end);

const running = parts.map(keep);
// however long it takes: whoever waits for this line is told when there is an answer, and what it is
while (!ending) {
  const ok = await fetch(`${address}/api/health`, { signal: AbortSignal.timeout(5_000) }).then(
    (answer) => answer.ok,
    () => undefined,
  );
  if (ok !== undefined) {
    console.log(`\nFresh Start is at ${address}`);
    if (!ok) console.log("Its database does not answer yet; pages say so until it does.");
    if (process.env.FRESH_START_HINT !== "off") console.log("Ctrl-C stops it.");
    break;
  }
  await sleep(100, undefined, { signal: wake.signal }).catch(() => undefined);
}
await Promise.all(running);
