// Puts each process of the product, and the worker that all tabs of a browser share, into one file that starts at once; run
// by the build, after the pages.
//   node bin/lib/processes.mjs
// `processOf` says how a process is started: from that file, or from its source as it stands.
import path from "node:path";

/** Sources of the processes that bin/start has to wait for, and of those that they start. */
const SOURCES = [
  "src/server/web/serve.ts",
  "src/server/outside/reader.ts",
  "src/server/admin/migrate.ts",
  "src/server/admin/keeper.ts",
  "src/bench/main.ts",
  "demo/seed.ts",
];
/** Where they are put, from the project's folder, in which all processes run. */
export const PROCESSES = ".next/processes";

/** Arguments for Node to run a process by the name of its source. */
export const processOf = (source, { asSource }) =>
  asSource ? ["--import", "tsx", source] : [path.join(PROCESSES, source.replace(/\.ts$/, ".js"))];

if (import.meta.main ?? process.argv[1] === import.meta.filename) {
  const { build } = await import("esbuild");
  const common = { bundle: true, sourcemap: true, logLevel: "warning" };
  await build({
    ...common,
    entryPoints: ["src/workers/live.shared.ts"],
    outfile: "public/workers/live.js",
    platform: "browser",
    target: "es2022",
    minify: true,
  });
  await build({
    ...common,
    entryPoints: SOURCES,
    outdir: PROCESSES,
    outbase: ".",
    // packages are taken from node_modules, as they are
    packages: "external",
    platform: "node",
    target: "node20",
    format: "cjs",
  });
}
