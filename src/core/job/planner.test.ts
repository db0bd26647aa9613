import fc from "fast-check";
import { ANY, keyOf, unmet, YES, type FactName, type Facts } from "@/core/job/fact";
import { cheapestPath } from "@/core/job/planning/search";
import { alikeKeyOf } from "@/core/job/planning/symmetry";
import { afterStep, COST_UNIT, taskOf } from "@/core/job/planning/task";
import { after, costOf, hindrance, planMoves, type Invariant, type Move } from "@/core/job/planner";

const NAMES = (["holds", "runs", "shows", "known", "reads"] as const).map(
  (each) => `main: ${each}` as const,
) satisfies FactName[];
const runs = (few: number) => Number(process.env.SOAK ?? few);
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
    asks: ({ destroys }) => (destroys ? [{ [A]: ANY }] : []),
    says: () => "a is not kept",
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

const costing = (costS: number, no: number, gives: Facts): Drawn => ({
  ...{ needs: {}, undoes: [], risk: 0, hands: 0, destroys: false },
  ...{ gives, costS, no },
});
/** Whichever of the first two comes last leaves its own value behind. */
const LAST_WRITER = {
  start: {},
  wanted: { "main: shows": "y", "main: known": "x" },
  moves: [
    costing(1, 0, { "main: known": "x" }),
    costing(1, 1, { "main: known": "y", "main: shows": "y" }),
    costing(2, 2, { "main: shows": "y" }),
  ],
};

/** What the plan costs where it is searched from the first state on as if it were not found soon. */
function hardPath(start: Facts, wanted: Facts, moves: readonly Drawn[], invariants: readonly Invariant<Drawn>[] = []) {
  const path = cheapestPath(taskOf(start, wanted, moves, invariants), { easyStates: 0 });
  return path ? path.cost / COST_UNIT : Infinity;
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
        expect(hardPath(start, wanted, moves, SAFE)).toBeCloseTo(cheapest, 6);
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
      { numRuns: runs(2000), examples: [[LAST_WRITER]] },
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

/** Parts behind one line, which is open to one of them at a time and while the battery is in; some wait for others. */
const behindOneLine = fc
  .array(
    fc.record({
      waitsFor: fc.option(fc.nat(5), { nil: undefined }),
      wants: fc.boolean(),
      costS: fc.integer({ min: 1, max: 40 }),
      wantsBatteryOut: fc.boolean(),
    }),
    { minLength: 1, maxLength: 6 },
  )
  .chain((parts) => fc.boolean().map((closed) => ({ parts, closed })))
  .map(({ parts, closed }) => {
    const part = (i: number) => `esc ${i + 1}` as const;
    const [battery, line] = ["battery: is", "main: shows"] as const;
    const move = (given: Partial<Drawn> & Pick<Move, "gives">): Drawn => ({
      ...{ needs: {}, undoes: [], costS: 3, risk: 0, hands: 0, destroys: false, no: 0 },
      ...given,
    });
    const moves = [
      move({ needs: { [line]: "console" }, gives: { [battery]: "out" }, hands: 1 }),
      move({ needs: { [line]: "console" }, gives: { [battery]: "in" }, hands: 1 }),
      ...parts.flatMap(({ waitsFor, costS, wantsBatteryOut }, i) => {
        const other = waitsFor !== undefined && waitsFor < parts.length && waitsFor !== i ? waitsFor : undefined;
        return [
          move({ needs: { [line]: "console", [battery]: "in" }, gives: { [line]: part(i) } }),
          move({ needs: { [line]: part(i) }, gives: { [line]: "console" } }),
          move({
            needs: { [line]: part(i), ...(other === undefined ? {} : { [`${part(other)}: runs`]: "new" }) },
            gives: { [`${part(i)}: runs`]: "new" },
            costS,
          }),
          // what is only to be seen without the battery
          ...(wantsBatteryOut
            ? [
                move({
                  needs: { [battery]: "out", [`${part(i)}: runs`]: "new" },
                  gives: { [`${part(i)}: known`]: YES },
                }),
              ]
            : []),
        ];
      }),
    ].map((each, no) => ({ ...each, no }));
    const wanted = Object.fromEntries(
      parts.flatMap(({ wants, wantsBatteryOut }, i) => [
        ...(wants ? [[`${part(i)}: runs`, "new"]] : []),
        ...(wants && wantsBatteryOut ? [[`${part(i)}: known`, YES]] : []),
      ]),
    ) as Facts;
    return {
      start: { [line]: "console", [battery]: "out" },
      wanted: closed ? { ...wanted, [line]: "console" } : wanted,
      moves,
    };
  });

/** Parts of which some are alike: read behind the line, written behind it once the board runs its new release, each from where it stands. */
const alikeBehindALine = fc
  .record({
    parts: fc.array(
      fc.record({
        costS: fc.constantFrom(4, 9),
        wants: fc.constantFrom("read", "written"),
        begins: fc.constantFrom(undefined, "read"),
      }),
      { minLength: 2, maxLength: 4 },
    ),
    board: fc.boolean(),
    battery: fc.boolean(),
    /** The goal says that the line is closed in the end. */
    said: fc.boolean(),
  })
  .map(({ parts, board, battery, said }) => {
    const move = (given: Partial<Drawn> & Pick<Move, "gives">): Drawn => ({
      ...{ needs: {}, undoes: [], costS: 3, risk: 0, hands: 0, destroys: false, no: 0 },
      ...given,
    });
    const all = (value: string): Facts => Object.fromEntries(parts.map((_, i) => [`esc ${i + 1}: shows`, value]));
    const shown = parts.map((_, i) => `esc ${i + 1}: shows` as const);
    const fed: Facts = battery ? { "battery: is": "in" } : {};
    const every = (kind: "read" | "written"): Facts =>
      Object.fromEntries(
        parts.flatMap(({ wants }, i) => (kind === "read" || wants === "written" ? [[`esc ${i + 1}: holds`, YES]] : [])),
      );
    const moves = [
      move({
        needs: { "main: shows": "console" },
        gives: { "main: line": "open", ...all("loader") },
        undoes: ["main: shows"],
      }),
      move({
        needs: { "main: line": "open", ...(battery ? { "battery: is": "out" } : {}) },
        gives: { "main: shows": "console", "main: line": "closed" },
        undoes: shown,
      }),
      move({
        gives: { "battery: is": "in" },
        needs: { "main: line": "open" },
        hands: 1,
      }),
      move({ gives: { "battery: is": "out" }, hands: 1 }),
      // all is made safe at once, which costs more, and is not done while a line is open
      move({
        needs: { "main: line": "closed" },
        gives: { "battery: is": "out", "aircraft: propellers off": YES },
        costS: 2,
      }),
      move({ needs: { "main: shows": "console", ...every("read") }, gives: { "main: runs": "new" }, costS: 20 }),
      ...parts.flatMap(({ costS, wants }, i) => [
        move({ needs: { [`esc ${i + 1}: shows`]: "loader", ...fed }, gives: { [`esc ${i + 1}: holds`]: YES }, costS }),
        ...(wants === "written"
          ? [
              move({
                needs: {
                  ...{ [`esc ${i + 1}: shows`]: "loader", [`esc ${i + 1}: holds`]: YES, ...fed },
                  ...(board ? { "main: runs": "new" } : {}),
                },
                gives: { [`esc ${i + 1}: runs`]: "new" },
                costS: costS + 1,
              }),
            ]
          : []),
      ]),
    ].map((each, no) => ({ ...each, no }));
    return {
      start: {
        ...{ "main: shows": "console", "main: line": "closed", "battery: is": "out" },
        ...Object.fromEntries(parts.flatMap(({ begins }, i) => (begins ? [[`esc ${i + 1}: holds`, YES]] : []))),
      },
      wanted: {
        ...{ "main: shows": "console", "main: runs": "new", ...every("written") },
        ...(said ? { "main: line": "closed" } : {}),
        ...Object.fromEntries(
          parts.flatMap(({ wants }, i) => (wants === "written" ? [[`esc ${i + 1}: runs`, "new"]] : [])),
        ),
      },
      moves,
    };
  });

/** The cheapest of all orders, by taking up the cheapest state that is left, again and again. */
function cheapestOfAll({ start, wanted, moves }: { start: Facts; wanted: Facts; moves: readonly Drawn[] }): number {
  const left = new Map<string, [Facts, number]>([[keyOf(start), [start, 0]]]);
  const settled = new Set<string>();
  while (left.size > 0) {
    const [key, [state, cost]] = [...left].reduce((least, each) => (each[1][1] < least[1][1] ? each : least));
    if (unmet(state, wanted).length === 0) return cost;
    left.delete(key);
    settled.add(key);
    for (const each of moves) {
      const next = after(state, each);
      const to = keyOf(next);
      if (unmet(state, each.needs).length > 0 || settled.has(to)) continue;
      if (cost + costOf(each) < (left.get(to)?.[1] ?? Infinity)) left.set(to, [next, cost + costOf(each)]);
    }
  }
  return Infinity;
}

describe("plans for up to six parts behind one line", () => {
  it("are as cheap as the cheapest of all orders; where parts wait for each other in a ring, there is none", () => {
    fc.assert(
      fc.property(behindOneLine, (world) => {
        const planned = planMoves(world.start, world.wanted, world.moves);
        const cheapest = cheapestOfAll(world);
        expect(planned.kind === "plan" ? planned.cost : Infinity).toBeCloseTo(cheapest, 6);
        expect(hardPath(world.start, world.wanted, world.moves)).toBeCloseTo(cheapest, 6);
      }),
      { numRuns: runs(60) },
    );
  });
});

describe("plans for parts of which some are alike", () => {
  it("are as cheap as the cheapest of all orders, and lead there", () => {
    fc.assert(
      fc.property(alikeBehindALine, (world) => {
        const planned = planMoves(world.start, world.wanted, world.moves);
        expect(planned.kind === "plan" ? planned.cost : Infinity).toBeCloseTo(cheapestOfAll(world), 6);
        if (planned.kind === "none") return;
        let facts: Facts = world.start;
        for (const each of planned.moves) {
          expect(unmet(facts, each.needs)).toEqual([]);
          facts = after(facts, each);
        }
        expect(unmet(facts, world.wanted)).toEqual([]);
        expect(hardPath(world.start, world.wanted, world.moves)).toBeCloseTo(cheapestOfAll(world), 6);
      }),
      { numRuns: runs(60) },
    );
  });

  it("those that are alike in all are one state, whichever of them stands where; one that differs in anything is its own", () => {
    const parts = (costs: readonly number[]) => {
      const moves = costs.map((costS, i) => ({
        ...{ needs: {}, undoes: [], costS, risk: 0, hands: 0 },
        gives: { [`esc ${i + 1}: runs`]: "new" },
      })) as Move[];
      const wanted = Object.fromEntries(costs.map((_, i) => [`esc ${i + 1}: runs`, "new"])) as Facts;
      const task = taskOf({}, wanted, moves, []);
      const key = alikeKeyOf(task);
      const states = task.steps.map((step) => key(afterStep(step, task.start, task)));
      return new Set(states).size;
    };
    expect([parts([5, 5, 5, 5]), parts([5, 5, 6, 5]), parts([5, 6, 7, 8])]).toEqual([1, 2, 4]);
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

  it("names as few facts as would do, of those that nothing brings about", () => {
    const subsets = <T>(of: readonly T[], size: number): T[][] =>
      size === 0 ? [[]] : of.flatMap((each, i) => subsets(of.slice(i + 1), size - 1).map((more) => [each, ...more]));
    let told = 0;
    fc.assert(
      fc.property(worlds, ({ start, wanted, moves }) => {
        const planned = planMoves(start, wanted, moves, SAFE);
        if (planned.kind === "plan") return;
        const reaches = (supposed: readonly (readonly [FactName, string])[]) =>
          [...everyWay({ start: { ...start, ...Object.fromEntries(supposed) }, moves }).values()].some(
            ([state]) => unmet(state, wanted).length === 0,
          );
        const given = new Set(moves.flatMap(({ gives }) => Object.entries(gives).map(String)));
        // what asks for any value is met by one that no move gives as well
        const nobodys = NAMES.flatMap((name) => [...VALUES, "z"].map((value) => [name, value] as const)).filter(
          (atom) => !given.has(String(atom)) && start[atom[0]] !== atom[1],
        );
        // of a need that is met by whatever value one is as good as the other
        const least = [0, 1, 2, 3].find((size) => subsets(nobodys, size).some(reaches));
        const names = [...planned.missing, ...planned.because];
        expect(names.length).toBeGreaterThan(0);
        if (least === undefined) return;
        told++;
        expect(names).toHaveLength(least);
        const facts = planned.missing.map((each) => {
          const [, name, value = "x"] = /^(main: \w+)(?: (\w))?$/.exec(each) ?? [];
          return [name as FactName, value] as const;
        });
        if (planned.because.length === 0) expect(reaches(facts)).toBe(true);
      }),
      { numRuns: runs(600) },
    );
    expect(told).toBeGreaterThan(20);
  });

  it("where facts only wait for each other, names one of them", () => {
    const [a, b] = [{ "main: known": "yes" }, { "main: runs": "x" }] as const;
    expect(
      planMoves({}, { "main: holds": "yes" }, [step(a, b), step(b, a), step(b, { "main: holds": "yes" })]),
    ).toEqual({
      kind: "none",
      missing: ["main: runs x"],
      because: [],
    });
  });

  it("says what forbids it, when nothing is missing", () => {
    const wipe = { ...step({}, { "main: holds": "yes" }), destroys: true };
    const keep: Invariant<typeof wipe> = {
      name: "kept",
      asks: ({ destroys }) => (destroys ? [{ "main: settings kept": ANY }] : []),
      says: () => "nothing is kept",
    };
    expect(planMoves({}, { "main: holds": "yes" }, [wipe], [keep])).toEqual({
      kind: "none",
      missing: [],
      because: ["nothing is kept"],
    });
  });
});
