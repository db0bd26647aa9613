import { execFile } from "node:child_process";
import { cpSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { promisify } from "node:util";

const ROOT = path.resolve(__dirname, "../..");
const ADDED = path.join(ROOT, "tests/additions/loader");
/** What the kind is made of, and where each file lies. */
const FILES: Readonly<Record<string, string>> = {
  "settings.ts": "src/core/catalog/loaders/records.ts",
  "open.ts": "src/core/loader/records/open.ts",
  "device.ts": "src/core/sim/loaders/records.ts",
  "flashes.test.ts": "tests/unit/records.test.ts",
};
/** All that has to be changed of files that are there: rows of tables. */
const ROWS: Readonly<Record<string, readonly (readonly [before: string, after: string])[]>> = {
  "src/core/loader/kinds.ts": [
    ["usb: DFU,", "usb: DFU, records: RECORDS,"],
    ["import { DFU }", `import { RECORDS } from "@/core/loader/records/open";\nimport { DFU }`],
  ],
  "src/core/catalog/loaders/index.ts": [
    ["[USB,", "[USB, RECORDS,"],
    ["import { USB }", `import { RECORDS } from "@/core/catalog/loaders/records";\nimport { USB }`],
  ],
  "src/core/sim/loaders/index.ts": [
    ["  usb: (", "  records: (loader, host) => new RecordsDevice(loader, host),\n  usb: ("],
    [
      "import { UsbLoaderDevice }",
      `import { RecordsDevice } from "@/core/sim/loaders/records";\nimport { UsbLoaderDevice }`,
    ],
  ],
};
const COPIED = [
  ...[
    "src/core",
    "src/bench",
    "src/contracts",
    "src/server",
    "demo",
    "docs/formats",
    "tests/support",
    "tests/documents",
  ],
  ...["tests/drawn-seed.ts", "tests/read-demo.mjs", "tests/golden", "jest.config.mjs", "tsconfig.json", "package.json"],
];

let copy = "";
beforeAll(() => {
  copy = mkdtempSync(path.join(os.tmpdir(), "fresh-start-loader-"));
  for (const each of COPIED) cpSync(path.join(ROOT, each), path.join(copy, each), { recursive: true });
  symlinkSync(path.join(ROOT, "node_modules"), path.join(copy, "node_modules"));
  for (const [from, to] of Object.entries(FILES)) cpSync(path.join(ADDED, from), path.join(copy, to));
  for (const [name, changes] of Object.entries(ROWS)) {
    const file = path.join(copy, name);
    let text = readFileSync(file, "utf8");
    for (const [before, after] of changes) {
      expect([name, text.split(before).length]).toEqual([name, 2]);
      text = text.replace(before, after);
    }
    writeFileSync(file, text);
  }
});
afterAll(() => rmSync(copy, { recursive: true, force: true }));

/** Runs a program of the project in the copy; what it says goes into the failure. */
const run = (command: string, words: readonly string[], env: Readonly<Record<string, string>> = {}) =>
  promisify(execFile)(path.join(ROOT, "node_modules/.bin", command), words, {
    cwd: copy,
    env: { ...process.env, ...env },
    maxBuffer: 10_000_000,
  }).then(
    () => "",
    (error: unknown) => {
      const { stdout, stderr } = error as { readonly stdout: string; readonly stderr: string };
      return stdout + stderr;
    },
  );

it("a kind of loader is its own files and a row in three tables; the published format follows", async () => {
  expect(Object.keys(ROWS)).toHaveLength(3);
  const schema = ["--selectProjects", "unit", "--runTestsByPath", "src/core/catalog/loaders/schema.test.ts"];
  expect(await run("jest", schema, { GOLDEN: "write" })).toBe("");
  const flashes = run("jest", ["--selectProjects", "unit", "--runTestsByPath", "tests/unit/records.test.ts"]);
  const types = run("tsc", ["--noEmit", "--incremental", "false", "-p", "tsconfig.json"]);
  expect([await types, await flashes]).toEqual(["", ""]);
}, 240_000);
