// Starts the web and the bench as two processes, starts either again when it dies, and ends both on SIGTERM or SIGINT.
import { spawn } from "node:child_process";
import { setTimeout as sleep } from "node:timers/promises";
import { writeFileSync } from "node:fs";
import path from "node:path";
import { parseArgs } from "node:util";

const { values } = parseArgs({
  options: { port: { type: "string" }, host: { type: "string" }, dev: { type: "boolean", default: false } },
});
const env = { ...process.env, NODE_ENV: values.dev ? "development" : "production" };
const next = ["node_modules/next/dist/bin/next", values.dev ? "dev" : "start", "-H", values.host, "-p", values.port];
const parts = [
  { name: "web", args: next },
  { name: "bench", args: [...(values.dev ? ["--watch"] : []), "--import", "tsx", "src/bench/main.ts"] },
];
const MAX_FAST_DEATHS = 5;
let ending = false;

async function keep(part) {
  let fastDeaths = 0;
  while (!ending) {
    const startedAt = Date.now();
    part.child = spawn(process.execPath, part.args, { env, stdio: ["ignore", "pipe", "inherit"] });
    writeFileSync(path.join(process.env.FRESH_START_DATA ?? ".data", `${part.name}.pid`), String(part.child.pid));
    part.child.stdout.on("data", (bytes) => {
      if (part.name === "bench" || process.env.FRESH_START_VERBOSE) process.stdout.write(bytes);
    });
    const code = await new Promise((resolve) => part.child.once("exit", (exit, signal) => resolve(signal ?? exit)));
    if (ending) return;
    console.error(`The ${part.name} process ended (${code}). Starting it again.`);
    fastDeaths = Date.now() - startedAt < 3000 ? fastDeaths + 1 : 0;
    if (fastDeaths >= MAX_FAST_DEATHS) {
      console.error(`The ${part.name} process dies at once, ${MAX_FAST_DEATHS} times now. Stopping.`);
      process.exitCode = 1;
      end();
      return;
    }
    await sleep(500);
  }
}

function end() {
  if (ending) return;
  ending = true;
  for (const part of parts) part.child?.kill("SIGTERM");
  setTimeout(() => parts.forEach((part) => part.child?.kill("SIGKILL")), 8000).unref();
}
process.on("SIGTERM", end);
process.on("SIGINT", end);

const running = parts.map(keep);
const address = `http://${values.host === "0.0.0.0" ? "127.0.0.1" : values.host}:${values.port}`;
for (let attempt = 0; attempt < 300 && !ending; attempt++) {
  const up = await fetch(`${address}/api/health`, { signal: AbortSignal.timeout(2000) }).then(
    (r) => r.ok,
    () => false,
  );
  if (up) {
    console.log(`\nFresh Start is at ${address}`);
    if (process.env.FRESH_START_HINT !== "off") console.log("Ctrl-C stops it.");
    break;
  }
  await sleep(100);
}
await Promise.all(running);
