/** What everything in the core may use. */
const COMMON = ["problem", "group-by"];
/** The arrows of the architecture: who may import whom. */
const underJobs = [
  "diagnose",
  ...COMMON,
  "config",
  "catalog",
  "idiom",
  "console",
  "loader",
  "image",
  "carryover",
  "compare",
  "identify",
  "part",
];
const coreOrder = {
  problem: [],
  "group-by": [],
  toll: [],
  config: COMMON,
  catalog: [...COMMON, "config"],
  idiom: [...COMMON, "config", "catalog"],
  identify: [...COMMON, "config", "catalog", "idiom"],
  carryover: [...COMMON, "config", "catalog", "idiom"],
  compare: [...COMMON, "config", "catalog", "idiom", "carryover"],
  learn: [...COMMON, "config", "catalog", "idiom", "carryover", "compare"],
  image: [...COMMON, "config", "catalog"],
  part: [...COMMON, "config", "catalog", "idiom", "image"],
  loader: [...COMMON, "config", "catalog", "image"],
  console: [...COMMON, "config", "catalog", "idiom"],
  diagnose: [...COMMON, "config", "catalog", "idiom", "image", "loader", "identify"],
  checks: underJobs,
  // `sim` for its twin alone
  job: [...underJobs, "checks", "sim"],
  campaign: [...COMMON, "carryover"],
  papers: COMMON,
  sim: [...COMMON, "config", "catalog", "idiom", "image"],
};

// tests beside the code may use the demo world and tests/support; what ships may not
const UNIT_TEST = "\\.test\\.ts$";

/** @type {import('dependency-cruiser').IConfiguration} */
module.exports = {
  forbidden: [
    {
      name: "no-circular",
      severity: "error",
      from: {},
      // of types as well: whoever reads one file of a circle has to read them all
      to: { circular: true },
    },
    {
      name: "idiom-defined-then-read-then-written",
      severity: "error",
      from: { path: "^src/core/idiom/(definition|reading)/", pathNot: UNIT_TEST },
      to: { path: "^src/core/idiom/writing/" },
    },
    {
      name: "idiom-definition-alone",
      severity: "error",
      from: { path: "^src/core/idiom/definition/", pathNot: UNIT_TEST },
      to: { path: "^src/core/idiom/reading/" },
    },
    {
      name: "core-stands-alone",
      severity: "error",
      from: { path: "^src/core", pathNot: UNIT_TEST },
      to: { path: "^(demo|tests|src/(app|contracts|server|ui|workers|bench))|node_modules/(next|react|sequelize|pg)/" },
    },
    {
      name: "only-the-twin-plays",
      severity: "error",
      from: { path: "^src/core/job/", pathNot: `^src/core/job/twin\\.ts$|${UNIT_TEST}` },
      to: { path: "^src/core/sim" },
    },
    {
      name: "core-no-node",
      severity: "error",
      from: { path: "^src/core", pathNot: "\\.test\\.ts$" },
      to: { dependencyTypes: ["core"] },
    },
    ...Object.entries(coreOrder).map(([folder, allowed]) => ({
      name: `core-order-${folder}`,
      severity: "error",
      from: { path: `^src/core/${folder}(/|\\.ts)`, pathNot: "\\.test\\.ts$" },
      to: { path: "^src/core/", pathNot: `^src/core/(${[folder, ...allowed].join("|")})(/|\\.ts)` },
    })),
    {
      name: "contracts-use-core",
      severity: "error",
      from: { path: "^src/contracts" },
      to: { path: "^(demo|tests|src/(app|server|ui|bench|workers))" },
    },
    {
      name: "server-uses-core",
      severity: "error",
      from: { path: "^src/server" },
      to: { path: "^(demo|tests|src/(app|ui|bench|workers))" },
    },
    {
      name: "bench-uses-core-server",
      severity: "error",
      from: { path: "^src/bench" },
      to: { path: "^(demo|tests|src/(app|ui|workers))" },
    },
    {
      name: "ui-not-server",
      severity: "error",
      from: { path: "^src/(ui|workers)", pathNot: UNIT_TEST },
      to: { path: "^(demo|tests|src/(server|bench|app))" },
    },
    {
      name: "core-tests-stay-in-core",
      severity: "error",
      from: { path: "^src/core/.*\\.test\\.ts$" },
      to: { path: "^src/(app|server|ui|workers|bench)" },
    },
    { name: "app-not-bench", severity: "error", from: { path: "^src/app" }, to: { path: "^(demo|tests|src/bench)" } },
    { name: "demo-is-data", severity: "error", from: { path: "^src", pathNot: UNIT_TEST }, to: { path: "^demo" } },
    { name: "no-unresolvable", severity: "error", from: {}, to: { couldNotResolve: true } },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    exclude: { path: "^(\\.next|\\.data|tests/additions)/" },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    enhancedResolveOptions: {
      exportsFields: ["exports"],
      conditionNames: ["import", "require", "node", "default", "types"],
    },
  },
};
