import fc from "fast-check";
import { choiceOf, openItems, planUpdate, proposalsFor, type EarlierPlan, type Plan } from "@/core/carryover";
import { valueOf } from "@/core/problem";
import { catalogue, release } from "../../../tests/support/workshop";
import { worn } from "../../../tests/support/worn";

function planned(fromId: string, toId: string, seed: number): Plan {
  const from = release(fromId);
  const identity = { family: from.family, release: from.version, target: "CSLATE-B" };
  const recital = { configuration: worn(from, identity, seed), release: from };
  return valueOf(planUpdate(recital, release(toId), "CSLATE-B", catalogue()));
}

/** A plan of another aircraft on which everything was decided by lot. */
function decided(plan: Plan, lot: readonly number[], tag: string): EarlierPlan {
  const items = openItems(plan, {});
  const decisions = Object.fromEntries(
    items.map(({ id, choices }, i) => [id, choices[(lot[i % lot.length] ?? 0) % choices.length]?.id ?? ""]),
  );
  return {
    tag,
    plan,
    decisions,
    decidedBy: Object.fromEntries(items.map(({ id }, i) => [id, { account: "lead", at: i }])),
  };
}

describe("what was decided on the type before", () => {
  it("is proposed only where the same choice sends the same here, and never what only a lead may choose", () => {
    fc.assert(
      fc.property(fc.nat(5), fc.nat(5), fc.array(fc.nat(5), { minLength: 1, maxLength: 9 }), (a, b, lot) => {
        const [plan, other] = [planned("heddle-22", "heddle-24", a), planned("heddle-22", "heddle-24", b)];
        const earlier = decided(other, lot, "T-2");
        const found = proposalsFor(plan, [earlier]);
        const odd = Object.entries(found).filter(([id, proposal]) => {
          const choice = plan.items.find((item) => item.id === id)?.choices.find((c) => c.id === proposal.choiceId);
          const before = other.items.find((item) => item.id === id);
          const theirs = before && choiceOf(before, earlier.decisions);
          return !choice || choice.by === "lead" || choice.shown !== theirs?.shown || proposal.tag !== "T-2";
        });
        expect(odd).toEqual([]);
        // what is the same in every way on both is proposed
        const missing = openItems(plan, {}).filter((item) => {
          const before = other.items.find(({ id }) => id === item.id);
          const same = JSON.stringify(before?.choices) === JSON.stringify(item.choices);
          return same && !found[item.id] && before && choiceOf(before, earlier.decisions)?.by !== "lead";
        });
        expect(missing).toEqual([]);
      }),
      { numRuns: 15 },
    );
  });

  it("the newest counts, and a way between other releases proposes nothing", () => {
    const plan = planned("heddle-22", "heddle-24", 1);
    const [newer, older] = [decided(plan, [0], "T-2"), decided(plan, [1], "T-3")];
    const found = Object.values(proposalsFor(plan, [newer, older]));
    expect(found.length).toBeGreaterThan(3);
    expect(new Set(found.map(({ tag }) => tag))).toEqual(new Set(["T-2"]));
    expect(proposalsFor(plan, [decided(planned("heddle-22", "heddle-23", 1), [0], "T-2")])).toEqual({});
  });
});
