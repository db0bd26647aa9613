// Gathers what the test runners wrote into .data/results and prints the closing line.
//   results.mjs note NAME PASSED FAILED      results.mjs sum
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import path from "node:path";

const folder = path.resolve(import.meta.dirname, "../../.data/results");
const [verb, name, passed, failed] = process.argv.slice(2);
if (verb === "note")
  writeFileSync(
    path.join(folder, `note-${name}.json`),
    JSON.stringify({ passed: Number(passed), failed: Number(failed) }),
  );
else {
  const total = { passed: 0, failed: 0 };
  for (const file of readdirSync(folder).filter((f) => f.endsWith(".json"))) {
    const result = JSON.parse(readFileSync(path.join(folder, file), "utf8"));
    if (file.startsWith("note-")) {
      total.passed += result.passed;
      total.failed += result.failed;
    } else if (file.startsWith("jest-")) {
      total.passed += result.numPassedTests;
      total.failed += result.numFailedTests + result.numRuntimeErrorTestSuites;
    } else if (file === "playwright.json") {
      total.passed += result.stats.expected;
      total.failed += result.stats.unexpected + result.stats.flaky + (result.errors?.length ?? 0);
    }
  }
  console.log(`${total.passed} passed, ${total.failed} failed`);
  process.exit(total.failed > 0 || total.passed === 0 ? 1 : 0);
}
