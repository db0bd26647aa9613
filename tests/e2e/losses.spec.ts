import { execFileSync } from "node:child_process";
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, truncateSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { addressOf } from "../support/database";
import { startProduct, type Product } from "../support/product";
import { PORT, expect, test } from "./workshop";

const DATABASE = "fresh_start_e2e_losses";
const port = PORT + 3;
const PASSWORD = "reed-heron-lantern-forty";

test.setTimeout(300_000);

const origin = `http://127.0.0.1:${port}`;

/** Whether the lead gets in, from a browser that nobody knows, and is shown the workshop. */
async function getsIn(): Promise<boolean> {
  const answer = await fetch(`${origin}/api/sign-in`, {
    method: "POST",
    headers: { "Content-Type": "application/json", origin },
    body: JSON.stringify({ name: "bittern", password: PASSWORD }),
  });
  if (!answer.ok) return false;
  const cookie = answer.headers
    .getSetCookie()
    .map((each) => each.split(";")[0])
    .join("; ");
  const page = await fetch(origin, { headers: { cookie } });
  return page.ok && (await page.text()).includes('aria-label="Bench"');
}

test("case C92: each file of the data folder is lost in turn, and emptied; the workshop opens, whole, and says what it cost", async () => {
  const data = mkdtempSync(path.join(os.tmpdir(), "fresh-start-losses-"));
  const env = {
    ...process.env,
    DATABASE_URL: addressOf(DATABASE, "app"),
    DATABASE_OWNER_URL: addressOf(DATABASE, "owner"),
    FRESH_START_DATA: data,
  };
  const start = (again: boolean) =>
    startProduct({ database: DATABASE, data, port, words: again ? [] : ["--empty"], again });
  const verify = () => execFileSync(path.resolve("bin/verify"), { env, encoding: "utf8" });
  let product: Product | undefined = await start(false);
  try {
    const code = /\/first\?code=(\S+)/.exec(product.said())?.[1] ?? "";
    const answer = await fetch(`${origin}/api/first`, {
      method: "POST",
      headers: { "Content-Type": "application/json", origin },
      body: JSON.stringify({ code, name: "bittern", person: "The bittern", password: PASSWORD }),
    });
    expect(answer.status).toBe(200);
    await expect.poll(() => existsSync(path.join(data, "witness.log")), { timeout: 20_000 }).toBe(true);
    await product.stop();
    const files = readdirSync(data).toSorted();
    // what is lost by losing it stands in the book
    const book = readFileSync("docs/operating.md", "utf8").split("## When something is lost")[1] ?? "";
    for (const file of files) expect([file, book.includes(file)]).toEqual([file, true]);
    expect(files).toEqual(expect.arrayContaining(["session.secret", "witness.log", "web.pid", "start.lock"]));

    const empty = () => files.forEach((file) => truncateSync(path.join(data, file)));
    const remove = (file: string) => () => rmSync(path.join(data, file));
    for (const [what, lose] of [
      ...files.map((each) => [each, remove(each)] as const),
      ["all, emptied", empty] as const,
    ]) {
      lose();
      product = await start(true);
      expect([what, await getsIn(), verify()]).toEqual([what, true, expect.stringContaining("Whole: ")]);
      const told = product.said().includes("The key of sessions (session.secret) was lost");
      expect([what, told]).toEqual([what, what === "session.secret" || what === "all, emptied"]);
      await product.stop();
      product = undefined;
    }
  } finally {
    await product?.stop();
    rmSync(data, { recursive: true });
  }
});
