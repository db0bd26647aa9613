import { partAction, planFirst } from "@/core/job/action";
import { YES, factsOf } from "@/core/job/fact";

export const liftProtection = partAction("lift-protection", (wish, part) => ({
  title: "Lift the protection against reading",
  why: `Nothing that is written to the board of ${wish.tag} could be read back and proved before that.`,
  needs: {
    ...factsOf(part, { shows: "loader", known: YES, "settings rescued": YES }),
    ...planFirst(wish),
  },
  gives: factsOf(part, { reads: YES, "settings region": "sound" }),
  undoes: [`${part}: runs`],
  costS: 15,
  risk: 0.01,
  hands: 1,
  destroys: [
    { of: part, what: "firmware" },
    { of: part, what: "settings" },
  ],
  restarts: true,
  writes: true,
  leaves: {
    begun: "a flash that is being erased",
    done: "a flash that is erased: neither firmware nor settings are on it",
  },
}));
