const swc = [
  "@swc/jest",
  {
    swcrc: false,
    jsc: {
      target: "es2023",
      parser: { syntax: "typescript", tsx: true },
      transform: { react: { runtime: "automatic" } },
    },
    module: { type: "commonjs" },
    sourceMaps: "inline",
  },
];
const common = {
  roots: ["<rootDir>/src", "<rootDir>/tests", "<rootDir>/demo"],
  transform: { "^.+\\.(t|j|mj)sx?$": swc },
  moduleNameMapper: { "^@/(.*)$": "<rootDir>/src/$1", "^@docs/(.*)$": "<rootDir>/docs/$1" },
  // published as ES modules only
  transformIgnorePatterns: ["/node_modules/(?!jose/|@noble/)"],
  testEnvironment: "node",
  globalSetup: "<rootDir>/tests/read-demo.mjs",
  setupFiles: ["<rootDir>/tests/drawn-seed.ts"],
};

/** @type {import('jest').Config} */
const config = {
  // generous: a test ends by its own limits, and says which one
  testTimeout: 60_000,
  projects: [
    {
      ...common,
      displayName: "unit",
      testMatch: ["<rootDir>/src/**/*.test.ts", "<rootDir>/demo/**/*.test.ts", "<rootDir>/tests/unit/**/*.test.ts"],
    },
    { ...common, displayName: "fault", testMatch: ["<rootDir>/tests/fault/**/*.test.ts"] },
    {
      ...common,
      displayName: "integration",
      testMatch: ["<rootDir>/tests/integration/**/*.test.ts"],
    },
  ],
};

export default config;
