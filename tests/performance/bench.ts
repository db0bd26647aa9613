import { spawnSync } from "node:child_process";
import { writeFileSync } from "node:fs";
import { build } from "esbuild";
import { parseArgs } from "node:util";
import { format, resolveConfig } from "prettier";
import { SECTIONS } from "./sections";
import { spreadOf } from "./spread";

/** How often what depends on the machine is measured. */
const ROUNDS = 5;
const TARGET = "docs/performance.md";
const BUILT = ".data/performance.cjs";

const HEAD = `# Performance

Made by \`npm run bench -- --write\`. Restore and flash are measured in the virtual time of simulated boards, so they are the same on every machine. What depends on the machine is measured in code that is built as the product's processes are, and compared within one process with something that everybody knows, ${ROUNDS} times, each time in a process of its own, all sections in turn: a figure is the median, with the lowest and the highest of the ${ROUNDS}. The young part of the memory is so large that its sweeping does not grow with the input.
`;

/** One section measured once, by a process of its own: what ran before it has neither filled its memory nor shaped its code. */
function measured(name: string): string[] {
  const run = spawnSync(process.execPath, ["--expose-gc", "--max-semi-space-size=512", BUILT, name], {
    encoding: "utf8",
    stdio: ["ignore", "pipe", "inherit"],
    maxBuffer: 2 ** 24,
  });
  if (run.status !== 0) throw new Error(`${name} ended with ${run.status}`);
  return run.stdout.split("\n");
}

/** The sections in one file, built as the product's processes are. */
const built = () =>
  build({
    entryPoints: ["tests/performance/section.ts"],
    outfile: BUILT,
    bundle: true,
    packages: "external",
    platform: "node",
    target: "node20",
    format: "cjs",
    logLevel: "warning",
  });

/** `--write`: keeps the page. `--beside WHAT`: what else the machine did meanwhile, as the page says it. Names: these sections alone. */
async function main(): Promise<void> {
  await built();
  const { values, positionals: named } = parseArgs({
    allowPositionals: true,
    options: { write: { type: "boolean" }, beside: { type: "string" } },
  });
  const unknown = named.find((name) => SECTIONS[name] === undefined);
  if (unknown !== undefined)
    throw new Error(`there is no section “${unknown}”; sections: ${Object.keys(SECTIONS).join(", ")}`);
  const names = Object.keys(SECTIONS).filter((name) => named.length === 0 || named.includes(name));
  const pages = new Map<string, string[][]>(names.map((name) => [name, []]));
  for (let round = 0; round < ROUNDS; round++)
    for (const name of names) {
      if (round > 0 && SECTIONS[name]?.exact) continue;
      console.error(`round ${round + 1} of ${ROUNDS}: ${name}`);
      pages.get(name)?.push(measured(name));
    }
  const beside = values.beside === undefined ? [] : [`The machine did other things beside it: ${values.beside}.\n`];
  const text = [HEAD, ...beside, ...names.flatMap((name) => spreadOf(pages.get(name) ?? []))].join("\n");
  console.log(text);
  if (values.write !== true) return;
  if (named.length > 0) throw new Error("a page is written whole: name no section");
  writeFileSync(TARGET, await format(text, { ...(await resolveConfig(TARGET)), filepath: TARGET }));
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
