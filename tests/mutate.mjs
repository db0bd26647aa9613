// Alters the core line by line and runs the tests that are written for it against each alteration:
//   npm run mutate              every folder below, one after the other; hours
//   npm run mutate -- loader    one folder
import { spawnSync } from "node:child_process";

const ALL = ["console", "loader", "image", "job", "carryover", "compare", "idiom"];
const named = process.argv.slice(2);
const unknown = named.find((folder) => !ALL.includes(folder));
if (unknown !== undefined) {
  console.error(`there is no folder “${unknown}”; there are ${ALL.join(", ")}`);
  process.exit(2);
}
for (const folder of named.length > 0 ? named : ALL) {
  const files = [`src/core/${folder}/*.ts`, `!src/core/${folder}/*.test.ts`, `!src/core/${folder}/index.ts`];
  const { status } = spawnSync("stryker", ["run", "-m", files.join(",")], {
    stdio: "inherit",
    env: { ...process.env, MUTATE: folder },
  });
  if (status !== 0) process.exitCode = 1;
}
