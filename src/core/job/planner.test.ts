import fc from "fast-check";
import { keyOf, unmet, type FactName, type Facts } from "@/core/job/fact";
import { after, costOf, hindrance, planMoves, type Invariant, type Move } from "@/core/job/planner";

const NAMES = (["holds", "runs", "shows", "known", "reads"] as const).map(
  (each) => `main: ${each}` as const,
) satisfies FactName[];
const A = "main: holds";
const VALUES = ["x", "y"];

interface Drawn extends Move {
  readonly no: number;
  readonly destroys: boolean;
}

const facts = (most: number): fc.Arbitrary<Facts> =>
  fc
    .uniqueArray(fc.tuple(fc.constantFrom(...NAMES), fc.constantFrom(...VALUES)), {
      selector: ([name]) => name,
      maxLength: most,
    })
    .map((pairs) => Object.fromEntries(pairs) as Facts);

const move = fc.record({
  needs: facts(2),
  gives: facts(2),
  undoes: fc.uniqueArray(fc.constantFrom(...NAMES), { maxLength: 2 }),
  costS: fc.integer({ min: 1, max: 50 }),
  risk: fc.constantFrom(0, 0, 0.001, 0.01),
  hands: fc.integer({ min: 0, max: 1 }),
  destroys: fc.boolean(),
});
const worlds = fc.record({
  start: facts(3),
  wanted: facts(3),
  moves: fc.array(move, { maxLength: 7 }).map((all) => all.map((each, no): Drawn => ({ ...each, no }))),
});

/** Nothing is destroyed while “a” is not so. */
const SAFE: readonly Invariant<Drawn>[] = [
  {
    name: "a first",
    forbids: ({ destroys }, { [A]: a }) => (destroys && a === undefined ? "a is not kept" : undefined),
  },
];

/** Every state that can be reached, with what the way to it costs at least: relaxed until nothing gets cheaper. */
function everyWay({ start, moves }: { start: Facts; moves: readonly Drawn[] }): Map<string, [Facts, number]> {
  const all = new Map<string, [Facts, number]>([[keyOf(start), [start, 0]]]);
  for (let changed = true; changed;) {
    changed = false;
    for (const [state, cost] of [...all.values()])
      for (const each of moves) {
        if (unmet(state, each.needs).length > 0 || (each.destroys && state[A] === undefined)) continue;
        const next = after(state, each);
        const known = all.get(keyOf(next))?.[1] ?? Infinity;
        if (cost + costOf(each) >= known) continue;
        all.set(keyOf(next), [next, cost + costOf(each)]);
        changed = true;
      }
  }
  return all;
}

describe("plans over drawn worlds", () => {
  it("are as cheap as the cheapest of all ways, with every need met and nothing forbidden; or there is no way", () => {
    fc.assert(
      fc.property(worlds, ({ start, wanted, moves }) => {
        const reachable = [...everyWay({ start, moves }).values()].filter(
          ([state]) => unmet(state, wanted).length === 0,
        );
        const cheapest = Math.min(...reachable.map(([, cost]) => cost));
        const planned = planMoves(start, wanted, moves, SAFE);
        if (planned.kind === "none") {
          expect(reachable).toEqual([]);
          return;
        }
        expect(planned.cost).toBeCloseTo(cheapest, 6);
        let state = start;
        let cost = 0;
        for (const each of planned.moves) {
          expect(hindrance(each, state, SAFE)).toBeUndefined();
          state = after(state, each);
          cost += costOf(each);
        }
        expect(unmet(state, wanted)).toEqual([]);
        expect(cost).toBeCloseTo(planned.cost, 6);
      }),
      { numRuns: 4000 },
    );
  });

  it("are the same for the same world, whatever order its facts were told in", () => {
    fc.assert(
      fc.property(worlds, ({ start, wanted, moves }) => {
        const turned = Object.fromEntries(Object.entries(start).reverse()) as Facts;
        expect(planMoves(turned, wanted, moves, SAFE)).toEqual(planMoves(start, wanted, moves, SAFE));
      }),
      { numRuns: 300 },
    );
  });
});

describe("a goal that cannot be reached", () => {
  const step = (needs: Facts, gives: Facts): Move => ({ needs, gives, undoes: [], costS: 1, risk: 0, hands: 0 });

  it("says what nothing brings about, as near to the start as can be told", () => {
    const moves = [
      step({ "main: settings kept": "yes" }, { "main: holds": "yes" }),
      step({ "main: shows": "console" }, { "main: settings kept": "yes" }),
    ];
    expect(planMoves({}, { "main: holds": "yes" }, moves)).toEqual({
      kind: "none",
      missing: ["main: shows console"],
      because: [],
    });
  });

  it("says what forbids it, when nothing is missing", () => {
    const wipe = { ...step({}, { "main: holds": "yes" }), destroys: true };
    const keep: Invariant<typeof wipe> = {
      name: "kept",
      forbids: ({ destroys }, known) =>
        destroys && known["main: settings kept"] === undefined ? "nothing is kept" : undefined,
    };
    expect(planMoves({}, { "main: holds": "yes" }, [wipe], [keep])).toEqual({
      kind: "none",
      missing: [],
      because: ["nothing is kept"],
    });
  });
});
