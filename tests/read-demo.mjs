import { execFileSync } from "node:child_process";
import { mkdirSync, rmSync } from "node:fs";
import path from "node:path";

/** Reads the demo world's documents once for all files of tests, by the program as it stands. */
export default function readDemo() {
  const file = path.resolve(".data/documents.read");
  mkdirSync(path.dirname(file), { recursive: true });
  rmSync(file, { force: true });
  Object.assign(process.env, { DOCUMENTS_READ: file, BUILD: `these tests, process ${process.pid}` });
  execFileSync(process.execPath, ["--import", "tsx", "tests/support/read-demo.ts"], { stdio: "inherit" });
}
