// Alters the core line by line and runs the tests that are written for it against each alteration:
//   npm run mutate                     every folder below, one after the other; hours
//   npm run mutate -- loader job       some folders
//   npm run mutate -- --share 10       every tenth alteration
// What nobody noticed is listed at the end, and a line for docs/testing.md.
import { spawnSync } from "node:child_process";
import { readFileSync, rmSync } from "node:fs";
import { parseArgs } from "node:util";

const ALL = ["console", "loader", "image", "job", "carryover", "compare", "idiom"];
const REPORT = ".data/mutation.json";
const NOTICED = new Set(["Killed", "Timeout"]);

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { share: { type: "string", default: "1" } },
});
const unknown = positionals.find((folder) => !ALL.includes(folder));
if (unknown !== undefined || !/^[1-9]\d*$/.test(values.share)) {
  console.error(`Usage: npm run mutate -- [--share N] [FOLDER…]; the folders are ${ALL.join(", ")}`);
  process.exit(2);
}

const tellMutant = (file, lines, { location: { start, end }, mutatorName, replacement }) => {
  const first = lines[start.line - 1] ?? "";
  const was = first.slice(start.column - 1, start.line === end.line ? end.column - 1 : undefined);
  return `${file}:${start.line} ${mutatorName}: ${was.slice(0, 80)} → ${(replacement ?? "").replace(/\s+/g, " ").slice(0, 60)}`;
};

/** Lists what was not noticed; gives the folder's line of the table. */
function tell(folder) {
  const files = Object.entries(JSON.parse(readFileSync(REPORT, "utf8")).files);
  const all = files.flatMap(([file, { source, mutants }]) => {
    const lines = source.split("\n");
    return mutants.map((mutant) => ({ status: mutant.status, says: () => tellMutant(file, lines, mutant) }));
  });
  const count = (...statuses) => all.filter(({ status }) => statuses.includes(status)).length;
  const [noticed, reached] = [count(...NOTICED), count(...NOTICED, "Survived")];
  for (const { status, says } of all) if (status === "Survived") console.log(says());
  const percent = ((noticed / Math.max(reached, 1)) * 100).toFixed(0);
  return `| \`${folder}\` | ${all.length} | ${reached + count("NoCoverage")} | ${count("NoCoverage")} | ${noticed} of ${reached}: ${percent} % |`;
}

const table = [];
for (const folder of positionals.length > 0 ? positionals : ALL) {
  const files = [`src/core/${folder}/**/*.ts`, `!src/core/${folder}/**/*.test.ts`, `!src/core/${folder}/**/index.ts`];
  rmSync(REPORT, { force: true });
  const { status } = spawnSync("stryker", ["run", "-m", files.join(",")], {
    stdio: "inherit",
    env: { ...process.env, MUTATE: folder, MUTATE_SHARE: values.share },
  });
  if (status === 0) table.push(tell(folder));
  else process.exitCode = 1;
}
console.log(["", "| folder | altered | tried | not reached | noticed of those reached |", ...table].join("\n"));
