import fc from "fast-check";

// a property that meets thousands of alterations tries each on what it can draw in four seconds
fc.configureGlobal({ numRuns: 12, interruptAfterTimeLimit: 4000 });
