import fc from "fast-check";
import { readFileSync, rmSync } from "node:fs";
import http from "node:http";
import path from "node:path";
import { closeDb } from "@/server/db";
import { addressOf } from "../support/database";
import { startProduct } from "../support/product";
import { ensureCluster, numberOf } from "./cluster";
import { letAllIn } from "./people";
import { requestOf, routesOf, type DrawnRequest, type Who } from "./drawn-request";

/**
 * Random requests over all routes, roles and methods: none may end in a fault of the server, none may hang, and the web's
 * memory stays bounded.
 *   tsx tests/soak/requests.ts [--count 100000] [--seed N] [--port N]
 */
const COUNT = numberOf("count", 100_000);
const SEED = numberOf("seed", Date.now() % 1_000_000);
const PORT = numberOf("port", 4290);
const AT_ONCE = 8;
const LIMIT_MS = 60_000;
const DATA = path.resolve(".data/soak-requests");
const DATABASE = "fresh_start_soak_requests";
/** Too much at this moment, said with words of our own, is an answer. */
const MAY_BE_503 = ["readers-busy"];

async function main(): Promise<void> {
  ensureCluster();
  rmSync(DATA, { recursive: true, force: true });
  const product = await startProduct({ database: DATABASE, data: DATA, port: PORT });
  process.env.DATABASE_URL = addressOf(DATABASE, "app");
  process.env.FRESH_START_DATA = DATA;

  let cookies: ReadonlyMap<Who, string> = await letAllIn();
  interface Answer {
    readonly status: number;
    readonly text: string;
  }
  const ask = ({ who, method, path: asked, headers, body }: DrawnRequest): Promise<Answer> =>
    new Promise((resolve) => {
      const cookie = [cookies.get(who), headers.cookie].filter(Boolean).join("; ");
      const own = { origin: `http://127.0.0.1:${PORT}`, ...headers, ...(cookie === "" ? {} : { cookie }) };
      const request = http.request(
        { host: "127.0.0.1", port: PORT, method, path: asked, headers: own, agent: false },
        (response) => {
          const parts: Buffer[] = [];
          const done = () =>
            resolve({ status: response.statusCode ?? 0, text: Buffer.concat(parts).toString().slice(0, 400) });
          response.on("data", (part: Buffer) => {
            parts.push(part);
            // a stream has no end
            if (response.headers["content-type"]?.includes("event-stream")) {
              request.destroy();
              done();
            }
          });
          response.on("end", done);
          response.on("error", done);
        },
      );
      request.setTimeout(LIMIT_MS, () => {
        request.destroy();
        resolve({ status: 599, text: "no answer" });
      });
      request.on("error", (error) => resolve({ status: 0, text: String(error) }));
      request.end(body);
    });

  const webPid = () => Number(readFileSync(path.join(DATA, "web.pid"), "utf8"));
  const residentMb = () =>
    Math.round((Number(readFileSync(`/proc/${webPid()}/statm`, "utf8").split(" ")[1]) * 4096) / 1e6);

  const routes = routesOf();
  const drawn = fc.sample(requestOf(routes), { numRuns: Math.min(COUNT, 20_000), seed: SEED });
  const counts = new Map<number, number>();
  const faults: string[] = [];
  let next = 0;
  const began = Date.now();
  const pid = webPid();
  let early = 0;
  let [slowest, slowestMs] = ["", 0];
  async function worker(): Promise<void> {
    while (next < COUNT) {
      const no = next++;
      // more than were drawn at once: drawn anew from the next seed
      if (no > 0 && no % drawn.length === 0)
        drawn.splice(0, drawn.length, ...fc.sample(requestOf(routes), { numRuns: drawn.length, seed: SEED + no }));
      if (no % 250 === 249) cookies = await letAllIn();
      if (no === Math.floor(COUNT / 5)) early = residentMb();
      const request = drawn[no % drawn.length];
      if (!request) continue;
      const at = Date.now();
      const { status, text } = await ask(request);
      const ms = Date.now() - at;
      if (ms > slowestMs) [slowest, slowestMs] = [`${request.method} ${request.path}`, ms];
      counts.set(status, (counts.get(status) ?? 0) + 1);
      if (status >= 500 && !MAY_BE_503.some((code) => text.includes(code)))
        faults.push(
          `${status} ${request.who} ${request.method} ${request.path} ${JSON.stringify(request.headers)} ${Buffer.from(
            request.body ?? [],
          )
            .toString()
            .slice(0, 200)} → ${text.slice(0, 160)}`,
        );
    }
  }
  await Promise.all(Array.from({ length: AT_ONCE }, worker));
  const late = residentMb();
  const survived = webPid() === pid;
  console.log(
    `${COUNT} requests over ${routes.length} routes in ${Math.round((Date.now() - began) / 1000)} s, seed ${SEED}`,
  );
  console.log(
    [...counts]
      .toSorted(([a], [b]) => a - b)
      .map(([status, n]) => `${status}: ${n}`)
      .join(", "),
  );
  console.log(`web: ${early} MB after a fifth, ${late} MB at the end; slowest answer ${slowestMs} ms (${slowest})`);
  for (const fault of faults.slice(0, 30)) console.log(`FAULT ${fault}`);
  // what the web said of its own faults
  if (faults.length > 0) console.log(product.said().slice(-6_000));
  await closeDb();
  await product.stop();
  rmSync(DATA, { recursive: true, force: true });
  const bounded = late < early * 1.5 + 200;
  if (!survived) console.log("FAULT the web did not live through it");
  if (!bounded) console.log("FAULT the web's memory grows");
  process.exitCode = faults.length === 0 && survived && bounded ? 0 : 1;
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
