import fc from "fast-check";
import { findTarget } from "@/core/catalog";
import { aloneOn } from "@/core/carryover/alone";
import { planCarryover } from "@/core/carryover/compute";
import { routeBetween } from "@/core/carryover/route";
import { catalogue } from "../../../tests/support/workshop";
import { worn } from "../../../tests/support/worn";

const releases = [...catalogue().releases.values()];
const pairs = releases.flatMap((from) =>
  releases.flatMap((to) => {
    const route = routeBetween(catalogue(), from, to);
    return route.ok && route.value.length > 0 && to.targets.length > 0 ? [{ from, to, route: route.value }] : [];
  }),
);

describe("values that go a way by themselves", () => {
  it("come out the same whichever aircraft were planned before on that way, of whatever target", () => {
    const plans = fc.array(fc.record({ seed: fc.nat(40), fromTarget: fc.nat(9), toTarget: fc.nat(9) }), {
      minLength: 2,
      maxLength: 4,
    });
    fc.assert(
      fc.property(fc.constantFrom(...pairs), plans, ({ from, to, route }, drawn) => {
        for (const { seed, fromTarget, toTarget } of drawn) {
          const before = from.targets[fromTarget % from.targets.length];
          const target = findTarget(to, to.targets[toTarget % to.targets.length]?.id ?? "");
          if (!before || !target) continue;
          const source = worn(from, { family: from.family, release: from.version, target: before.id }, seed);
          const plan = (along: typeof route) =>
            planCarryover({ source, from, to, target, route: along, whose: "this-board" });
          // a way that nobody went before knows nothing
          expect(JSON.stringify(plan(route))).toBe(JSON.stringify(plan([...route])));
        }
      }),
      { numRuns: 12 },
    );
  });

  it("are most of them on the demo's lineages, and none between families by what they mean", () => {
    const shares = pairs.map(({ from, route }) => aloneOn(route, from).size / from.settings.length);
    expect(Math.max(...shares)).toBeGreaterThan(0.7);
    for (const [i, { route }] of pairs.entries())
      if (route.some(({ by }) => by === "shared meanings")) expect(shares[i]).toBe(0);
    expect(pairs.length).toBeGreaterThan(20);
  });
});
