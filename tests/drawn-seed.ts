import fc from "fast-check";

/**
 * What is drawn in a run of all tests is the same each time: a red run speaks of what was changed. `npm run soak` draws
 * anew, and `SEED=n` draws as a run that printed n.
 */
const { SEED, SOAK } = process.env;
if (SEED !== undefined || SOAK === undefined) fc.configureGlobal({ seed: Number(SEED ?? 20_260_417) });
