import config from "./jest.config.mjs";

const [unit] = config.projects;
const folder = process.env.MUTATE ?? "*";
process.env.SOAK ??= "50";

/** The tests of the folder that is being altered, with few runs of each property. */
const mutated = {
  ...unit,
  setupFiles: [...(unit.setupFiles ?? []), "<rootDir>/tests/mutate-setup.ts"],
  testMatch: [`<rootDir>/src/core/${folder}/**/*.test.ts`, "<rootDir>/tests/unit/golden.test.ts"],
  testTimeout: 60_000,
};
export default mutated;
