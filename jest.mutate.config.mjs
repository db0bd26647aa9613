import config from "./jest.config.mjs";

/** The unit tests alone, with few runs of each property: thousands of alterations are held against them. */
const [unit] = config.projects;
process.env.SOAK ??= "300";
const mutated = { ...unit, testTimeout: 60_000 };
export default mutated;
