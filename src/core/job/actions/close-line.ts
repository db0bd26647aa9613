import { partAction } from "@/core/job/action";
import { firstOfKinds, shownBehind } from "@/core/job/actions/open-line";
import { batteries, CLOSED, factsOf } from "@/core/job/fact";

export const closeLine = partAction(
  "close-line",
  (wish, part) => {
    const { part: kind = "", unfed = false } = wish.parts[part]?.behind ?? {};
    return {
      title: `Close the line to the ${kind}`,
      why: "Until then the console is not heard.",
      needs: { ...factsOf("main", { line: kind }), ...(unfed ? batteries(wish.batteries, "out") : {}) },
      gives: factsOf("main", { line: CLOSED, shows: "console" }),
      undoes: ["main: line open", ...shownBehind(wish, { kind })],
    };
  },
  undefined,
  { subjects: firstOfKinds },
);
