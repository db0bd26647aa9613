import fc from "fast-check";
import { plansBeside, planUpdate } from "@/core/carryover";
import { openItems, type Plan } from "@/core/carryover/plan";
import { valueOf } from "@/core/problem";
import { catalogue, release } from "../../../tests/support/workshop";
import { worn } from "../../../tests/support/worn";

const from = release("heddle-22");
const identity = { family: from.family, release: from.version, target: "CSLATE-B" };
const planOf = (seed: number, to: string) =>
  valueOf(
    planUpdate({ configuration: worn(from, identity, seed), release: from }, release(to), "CSLATE-B", catalogue()),
  );
const decided = (plan: Plan, nth: number) => ({
  plan,
  decisions: Object.fromEntries(
    openItems(plan, {}).map(({ id, choices }) => [id, choices[nth % choices.length]?.id ?? ""]),
  ),
});

describe("two plans beside each other", () => {
  it("a plan differs from itself in nothing; turned round, the sides change over and nothing else", () => {
    fc.assert(
      fc.property(fc.nat(20), fc.nat(20), fc.nat(2), fc.constantFrom("heddle-23", "weft-7"), (a, b, nth, to) => {
        const [left, right] = [decided(planOf(a, to), nth), decided(planOf(b, to), 0)];
        expect(plansBeside(left, left)).toEqual([]);
        const [there, back] = [plansBeside(left, right), plansBeside(right, left)];
        const turned = back.map(({ left: l, right: r, ...rest }) => ({
          ...rest,
          ...(r === undefined ? {} : { left: r }),
          ...(l === undefined ? {} : { right: l }),
        }));
        const byId = (all: typeof there) => all.toSorted((x, y) => (x.id < y.id ? -1 : 1));
        expect(byId(turned)).toEqual(byId(there));
      }),
      { numRuns: 25 },
    );
  });

  it("one decision taken otherwise is one difference, with what each sends", () => {
    const plan = planOf(1, "heddle-23");
    const item = openItems(plan, {}).find(({ choices }) => choices.length > 1 && choices.every(({ shown }) => shown));
    if (!item) throw new Error("nothing to decide");
    const [one, other] = item.choices;
    const base = decided(plan, 0);
    const found = plansBeside(
      { plan, decisions: { ...base.decisions, [item.id]: one?.id ?? "" } },
      { plan, decisions: { ...base.decisions, [item.id]: other?.id ?? "" } },
    );
    expect(found).toMatchObject([{ id: item.id, left: one?.shown, right: other?.shown }]);
  });
});
