import { mkdtempSync, rmSync, statSync, writeFileSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { mayActAs, ROLES } from "@/server/roles";
import { Sequelize } from "sequelize";
import { ProblemError } from "@/core/problem";
import { serverProblem } from "@/server/away";
import { problemResponse } from "@/server/web/handle";
import { rowId } from "@/server/web/row-id";
import { checkOrder, ORDER_KINDS } from "@/contracts/order-shapes";

describe("roles", () => {
  it("each may do what the ones before it may, and no more", () => {
    const table = ROLES.map((role) => ROLES.map((needed) => mayActAs(role, needed)));
    expect(table).toEqual([
      [true, false, false],
      [true, true, false],
      [true, true, true],
    ]);
  });
});

describe("the environment", () => {
  const before = { ...process.env };
  afterEach(() => {
    process.env = { ...before };
    jest.resetModules();
  });
  const load = async (values: Record<string, string | undefined>) => {
    process.env = { ...before, ...values };
    jest.resetModules();
    return import("@/server/env");
  };

  it("an address that is not PostgreSQL's is refused in words", async () => {
    const env = await load({ DATABASE_URL: "mysql://x" });
    expect(() => env.databaseUrl()).toThrow("DATABASE_URL must be a postgres:// address");
    const none = await load({ DATABASE_URL: undefined });
    expect(() => none.databaseUrl()).toThrow("DATABASE_URL is not set");
  });

  it("the key for cookies is made once, kept for its owner only, and the same for every process", async () => {
    const folder = mkdtempSync(path.join(os.tmpdir(), "fresh-start-env-"));
    const values = { DATABASE_URL: "postgres://x", FRESH_START_DATA: folder };
    const first = (await load(values)).sessionSecret();
    const second = (await load(values)).sessionSecret();
    expect(first).toBe(second);
    expect(first.length).toBeGreaterThanOrEqual(40);
    expect(statSync(path.join(folder, "session.secret")).mode & 0o777).toBe(0o600);
    rmSync(folder, { recursive: true });
  });

  it.each(["", "cut", "\n\n"])(
    "case C92: one that was lost or cut short (“%s”) is no key: another is made",
    async (left) => {
      const folder = mkdtempSync(path.join(os.tmpdir(), "fresh-start-env-"));
      writeFileSync(path.join(folder, "session.secret"), left);
      const env = await load({ DATABASE_URL: "postgres://x", FRESH_START_DATA: folder });
      expect(env.hasSessionSecret()).toBe(false);
      expect(env.sessionSecret().length).toBeGreaterThanOrEqual(40);
      expect(env.hasSessionSecret()).toBe(true);
      rmSync(folder, { recursive: true });
    },
  );
});

it("a database that does not answer is told as such; what anybody else throws is not taken for it", async () => {
  // nothing listens on this port
  const away = new Sequelize("postgres://nobody@127.0.0.1:9/none", { dialect: "postgres", logging: false });
  const error: unknown = await away.authenticate().catch((thrown: unknown) => thrown);
  expect(serverProblem(error)).toMatchObject({ code: "database-away", message: "The database does not answer" });
  expect(serverProblem(new Error("queue", { cause: error })).code).toBe("database-away");
  const response = problemResponse(error);
  expect(response.status).toBe(503);
  expect(await response.text()).not.toContain("127.0.0.1");
  for (const other of [new Error("ECONNREFUSED"), "away", undefined, Object.assign(new Error("x"), { code: "23505" })])
    expect(serverProblem(other).code).toBe("internal");
  const own = { code: "bay-full", message: "full" };
  expect(serverProblem(new ProblemError(own))).toEqual(own);
});

it.each([
  ["disk-full", 507, { code: "53100" }],
  ["disk-full", 507, { code: "ENOSPC" }],
  // a new connection that finds no room for its own files
  ["database-away", 503, { code: "XX000", severity: "FATAL" }],
  ["database-busy", 503, { code: "25P03", severity: "FATAL" }],
] as const)("%s is told as that, however deep it lies, and keeps its insides", async (code, status, facts) => {
  const error = Object.assign(new Error("/var/lib/x"), facts);
  for (const thrown of [error, new Error("query", { cause: error }), Object.assign(new Error(), { original: error })]) {
    expect(serverProblem(thrown).code).toBe(code);
    const response = problemResponse(thrown);
    expect([response.status, (await response.text()).includes("/var/lib")]).toEqual([status, false]);
  }
});

it("a row's number is what PostgreSQL's integer can be, and 0 for all else", () => {
  expect(["1", "2147483647"].map(rowId)).toEqual([1, 2147483647]);
  for (const text of [undefined, "", "0", "-1", "1.5", "1e3", "0x10", " 1", "2147483648", "99999999999", "NaN", "１"])
    expect([text, rowId(text)]).toEqual([text, 0]);
});

describe("orders", () => {
  const good: Record<(typeof ORDER_KINDS)[number], object> = {
    bring: { boardId: 3 },
    "use-port": { path: null },
    "take-out": {},
    plug: { button: true, pads: false },
    unplug: {},
    adapter: { wired: true },
    battery: { fitted: true, which: "second battery" },
    lean: { roll: 0, pitch: 30, heading: 350 },
    stick: { index: 0, pulse: 1500 },
    fault: { name: "stallEvery", value: 500 },
    calibrate: {},
    afflict: { ailment: "looping" },
    clock: { factor: 8 },
    decide: { choices: { "system/loop.rate": "accept" } },
    take: {},
    reopen: {},
    confirm: { step: "make-safe" },
    "as-asked": { step: "check-attitude" },
    correct: { step: "check-attitude" },
    again: { step: "flash" },
    stop: { reason: "", writing: false },
    sign: {},
    begin: {},
    "back-up": {},
    give: { tag: "QW-01", modelId: "corsley-slate", replace: false },
  };

  it.each(ORDER_KINDS)("%s has a shape of its own", (kind) => {
    expect(checkOrder({ kind, ...good[kind] })).toEqual({ kind, ...good[kind] });
  });

  it.each([
    [null],
    ["plug"],
    [{}],
    [{ kind: "explode" }],
    [{ kind: "bring" }],
    [{ kind: "bring", boardId: -1 }],
    [{ kind: "lean", roll: 0, pitch: 9000, heading: 0 }],
    [{ kind: "stick", index: 4, pulse: 1500 }],
    [{ kind: "stick", index: 0, pulse: 1 }],
    [{ kind: "fault", name: "everything", value: 1 }],
    [{ kind: "afflict", ailment: "moths" }],
    [{ kind: "valueOf" }],
    [{ kind: ["plug"] }],
    [{ kind: "clock", factor: 0 }],
    [{ kind: "decide", choices: [] }],
    [{ kind: "decide", choices: { x: "y".repeat(41) } }],
    [{ kind: "confirm", step: "x".repeat(41) }],
    [{ kind: "stop", reason: "x".repeat(401) }],
  ])("%j is refused", (body) => {
    expect(() => checkOrder(body)).toThrow();
  });
});
