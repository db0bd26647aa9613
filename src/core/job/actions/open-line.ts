import { partAction, partsBehind, type Wish } from "@/core/job/action";
import { batteries, CLOSED, factsOf, YES, type FactName, type Facts } from "@/core/job/fact";
import type { Part } from "@/core/job/subject";
import type { Supply } from "@/core/catalog";

/** One part of each kind that stands behind a line: the first. */
export const firstOfKinds = (wish: Wish): Part[] => {
  const all = partsBehind(wish);
  return all.filter(({ part }, i) => all.findIndex((each) => each.part === part) === i).map(({ name }) => name);
};

/** Whether a battery feeds parts of a kind alone. */
const isFed = (wish: Wish, kind: string): boolean =>
  partsBehind(wish).some(({ part, supply }) => part === kind && supply !== "board");

/** What ends when the parts of a kind are not reached any more, or those that are fed in one way. */
export const shownBehind = (
  wish: Wish,
  { kind, supply }: { readonly kind?: string; readonly supply?: Supply } = {},
): FactName[] =>
  partsBehind(wish)
    .filter((each) => (kind ?? each.part) === each.part && (supply ?? each.supply) === each.supply)
    .map(({ name }): FactName => `${name}: shows`);

/** The same as they are reached. */
export const reached = (...which: Parameters<typeof shownBehind>): Facts =>
  Object.fromEntries(shownBehind(...which).map((name) => [name, "loader"]));

export const openLine = partAction(
  "open-line",
  (wish, part) => {
    const { part: kind = "", unfed = false, title = "" } = wish.parts[part]?.behind ?? {};
    return {
      title: `Open the line to the ${kind}`,
      why: `From then on the console passes on every byte: only so is a ${title} spoken to.`,
      needs: {
        ...factsOf("main", { shows: "console", known: YES, "settings kept": YES, line: CLOSED }),
        // on a detour only the release in between has the words
        ...(wish.parts.main?.detour ? factsOf("main", { runs: wish.parts.main.detour.id }) : {}),
        // what a battery feeds may turn something
        ...(isFed(wish, kind) ? { "aircraft: propellers off": YES } : {}),
        ...(unfed ? batteries(wish.batteries, "out") : {}),
      },
      // the firmware in between leads the line from one to the next
      gives: { ...factsOf("main", { line: kind, "line open": YES }), ...reached(wish, { kind, supply: "board" }) },
      undoes: ["main: shows"],
    };
  },
  undefined,
  { subjects: firstOfKinds },
);
