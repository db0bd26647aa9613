import { execFileSync } from "node:child_process";
import { mkdirSync } from "node:fs";
import path from "node:path";

/** Reads the demo world's documents once for all files of tests; that they read so stands in `demo/documents.test.ts`. */
export default function readDemo() {
  const file = path.resolve(".data/demo-read.json");
  mkdirSync(path.dirname(file), { recursive: true });
  const { DEMO_READ: _, ...env } = process.env;
  execFileSync(process.execPath, ["--import", "tsx", "tests/support/read-demo.ts", file], { env, stdio: "inherit" });
  process.env.DEMO_READ = file;
}
