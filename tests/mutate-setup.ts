import fc from "fast-check";

// a property that meets thousands of alterations tries each on what it can draw in a second
fc.configureGlobal({ numRuns: 12, interruptAfterTimeLimit: 1000 });
