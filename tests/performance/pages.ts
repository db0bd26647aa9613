import { readFileSync, writeFileSync } from "node:fs";
import path from "node:path";

/**
 * How fast pages answer, as the 95th percentile of many requests one after the other:
 *   npm run bench:pages -- --save NAME       measures the workshop that runs now
 *   npm run bench:pages -- --against NAME    measures it and prints ratios to what was saved
 */
const address = process.env.FRESH_START_ADDRESS ?? "http://127.0.0.1:4170";
const data = process.env.FRESH_START_DATA ?? ".data";
const ROUNDS = 40;

async function signIn(): Promise<string> {
  const accounts = JSON.parse(readFileSync(path.join(data, "demo-accounts.json"), "utf8")) as Record<string, string>;
  const response = await fetch(`${address}/api/sign-in`, {
    method: "POST",
    headers: { "Content-Type": "application/json", Origin: address },
    body: JSON.stringify({ name: "observer", password: accounts.observer }),
  });
  const cookie = response.headers.get("set-cookie")?.split(";")[0];
  if (!response.ok || cookie === undefined) throw new Error(`signing in failed: ${response.status}`);
  return cookie;
}

const PAGES = {
  register: "/",
  aircraft: "/aircraft/QW-04",
  history: "/aircraft/QW-04/history",
  compare: "/compare?left=aircraft:QW-04&right=standard:1",
  fleet: "/compare/fleet/Sedge",
} as const;

async function measure(cookie: string, page: string): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < ROUNDS + 5; i++) {
    const start = performance.now();
    const response = await fetch(address + page, { headers: { cookie } });
    await response.arrayBuffer();
    if (!response.ok) throw new Error(`${page}: ${response.status}`);
    if (i >= 5) times.push(performance.now() - start);
  }
  times.sort((a, b) => a - b);
  return times[Math.floor(times.length * 0.95)] ?? 0;
}

async function main() {
  const cookie = await signIn();
  const found: Record<string, number> = {};
  for (const [name, page] of Object.entries(PAGES)) found[name] = await measure(cookie, page);
  const [option, name = "pages"] = process.argv.slice(2);
  const file = path.join(data, `pages-${name}.json`);
  if (option === "--save") writeFileSync(file, JSON.stringify(found));
  const before =
    option === "--against" ? (JSON.parse(readFileSync(file, "utf8")) as Record<string, number>) : undefined;
  console.log(
    before ? "| page | p95 before | p95 now | ratio |\n| --- | --- | --- | --- |" : "| page | p95 |\n| --- | --- |",
  );
  for (const [page, ms] of Object.entries(found)) {
    const old = before?.[page];
    console.log(
      old === undefined
        ? `| ${page} | ${ms.toFixed(0)} ms |`
        : `| ${page} | ${old.toFixed(0)} ms | ${ms.toFixed(0)} ms | ${(ms / old).toFixed(2)} × |`,
    );
  }
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
