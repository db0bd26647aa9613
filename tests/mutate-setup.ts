import fc from "fast-check";

// a property that meets thousands of alterations tries each on what it can draw in four seconds
// eslint-disable-next-line @typescript-eslint/no-deprecated -- its successor cannot be set for all properties at once
fc.configureGlobal({ numRuns: 12, interruptAfterTimeLimit: 4000 });
