import fc from "fast-check";
import { findTarget, type Catalogue } from "@/core/catalog";
import { addressId, type Configuration, type Value } from "@/core/config";
import { planCarryover } from "@/core/carryover/compute";
import { reverseRules } from "@/core/carryover/reverse";
import { costOf, lossesOfRoute } from "@/core/carryover/loss";
import { otherWays, routeBetween, routeTitle, routesBetween } from "@/core/carryover/route";
import type { Hop } from "@/core/carryover/hop";
import { settlePlan } from "@/core/carryover/settle";
import { openItems } from "@/core/carryover/plan";
import { defaultConfiguration } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { madeCatalogue, nextRelease, number, releaseIn, setting, wholeRelease } from "../../../tests/support/made";
import { catalogue, release } from "../../../tests/support/workshop";

const BASE = wholeRelease("one-1", [
  setting("a", number(0, 1000), 10),
  setting("b", { choice: ["x", "y", "z"] }, "x"),
  setting("c", number(0, 100), 5, { scope: "tune" }),
  setting("d", number(0, 100), 3),
  setting("gone", number(0, 9), 1),
]);
const LATER = nextRelease(
  "one-2",
  "one-1",
  [
    { rule: "rename", key: "a", to: "alpha" },
    { rule: "rescale", key: "a", factor: 0.1, why: "Tenths." },
    { rule: "map", key: "b", words: { x: "ex", y: "wy", z: "wy" }, why: "Words." },
    { rule: "move", key: "c", to: "system", why: "One for all." },
    { rule: "split", key: "d", into: ["d1", "d2"], why: "Two stages." },
    { rule: "retire", key: "gone", why: "Gone." },
  ],
  {
    change: [
      { key: "alpha", type: number(0, 100, 0.1), default: 1 },
      { key: "b", type: { choice: ["ex", "wy"] }, default: "ex" },
    ],
    add: [setting("d1", number(0, 100), 3), setting("d2", number(0, 100), 3), setting("fresh", number(0, 9), 2)],
  },
);
const lineage = madeCatalogue(BASE, LATER);

function carry(from: Catalogue, source: Configuration, a: string, b: string) {
  const [start, end] = [releaseIn(from, a), releaseIn(from, b)];
  const target = findTarget(end, "T1");
  if (!target) throw new Error("no target");
  return planCarryover({
    source,
    from: start,
    to: end,
    target,
    route: valueOf(routeBetween(from, start, end)),
    whose: "this-board",
  });
}
const written = (
  values: Readonly<Record<string, Value>>,
  active: Record<string, number> = { tune: 2 },
): Configuration => ({
  identity: { target: "T1" },
  settings: Object.entries(values).map(([id, value], i) => ({
    scope: id.split("/")[0] as "system",
    key: id.split("/")[1] ?? "",
    value,
    raw: "",
    line: i + 1,
  })),
  rows: [],
  active,
  unknown: [],
});

describe("case C06: rules run backwards", () => {
  it("renames, scales and words come back; what cannot is asked or said to be lost", () => {
    const back = carry(
      lineage,
      written({
        "system/alpha": 2.5,
        "system/b": "wy",
        "system/c": 8,
        "system/d1": 7,
        "system/d2": 9,
        "system/fresh": 4,
      }),
      "one-2",
      "one-1",
    );
    const at = (id: string) => back.items.find((item) => item.id === id);
    expect(at("system/a")).toMatchObject({ outcome: "converted", to: { value: 25 } });
    expect(at("system/b")).toMatchObject({ outcome: "your-call", call: "no-counterpart" });
    expect(at("tune 1/c")).toMatchObject({ to: { value: 8 } });
    expect(at("tune 2/c")).toMatchObject({ to: { value: 8 } });
    expect(at("system/d")).toMatchObject({ to: { value: 7 } });
    expect(at("system/gone")).toMatchObject({ outcome: "new-default" });
    expect(back.items.find((item) => item.title === "fresh")).toMatchObject({
      outcome: "retired",
      trail: [{ why: "one 2 brought it; one 1 does not have it" }],
    });
  });

  it("reversing twice gives rules that do what the first did", () => {
    const rules = releaseIn(lineage, "one-2").passages[0]?.rules ?? [];
    const twice = reverseRules(reverseRules(rules, releaseIn(lineage, "one-1")), releaseIn(lineage, "one-2"));
    const rename = twice.find((rule) => rule.rule === "rename");
    expect(rename).toMatchObject({ key: "a", to: "alpha" });
    expect(twice.find((rule) => rule.rule === "rescale")).toMatchObject({
      key: "a",
      factor: expect.closeTo(0.1, 10) as number,
    });
  });

  it("there and back again: what the rules can turn round arrives as it was, for any values", () => {
    const [h19, h22] = [release("heddle-19"), release("heddle-22")];
    const world = catalogue();
    const keys = [
      "system/position.least",
      "system/home.height",
      "system/hold.radius",
      "system/climb.up",
      "system/receiver.rate",
    ];
    const target = { a: findTarget(h22, "CSLATE-B"), b: findTarget(h19, "CSLATE-B") };
    if (!target.a || !target.b) throw new Error("no target");
    const base = defaultConfiguration(h19, "CSLATE-B", { target: "CSLATE-B" });
    const drawn = fc.record(
      Object.fromEntries(
        keys.map((id) => {
          const type = h19.settings.find((s) => `system/${s.key}` === id)?.type;
          if (type?.kind !== "number") throw new Error(id);
          return [
            id,
            fc
              .integer({ min: 0, max: Math.floor((type.max - type.min) / type.step) })
              .map((n) => type.min + n * type.step),
          ];
        }),
      ),
    ) as fc.Arbitrary<Record<string, number>>;
    const routes = [valueOf(routeBetween(world, h19, h22)), valueOf(routeBetween(world, h22, h19))] as const;
    fc.assert(
      fc.property(drawn, (values) => {
        const source = {
          ...base,
          settings: base.settings.map((s) => ({ ...s, value: values[addressId(s)] ?? s.value })),
        };
        const there = planCarryover({
          source,
          from: h19,
          to: h22,
          target: target.a as never,
          route: routes[0],
          whose: "this-board",
        });
        const keep = Object.fromEntries(
          openItems(there, {}).map((item) => [
            item.id,
            item.choices.find((c) => c.id === "keep")?.id ?? item.choices[0]?.id ?? "",
          ]),
        );
        const middle = valueOf(settlePlan(there, keep, h22)).configuration;
        const home = planCarryover({
          source: middle,
          from: h22,
          to: h19,
          target: target.b as never,
          route: routes[1],
          whose: "this-board",
        });
        for (const id of keys) {
          const item = home.items.find((each) => each.id === id);
          if (item?.kind !== "setting" || typeof item.to?.value !== "number") throw new Error(id);
          expect([id, item.to.value]).toEqual([id, expect.closeTo(values[id] ?? NaN, 6)]);
        }
      }),
      { numRuns: 25 },
    );
  });
});

describe("ways", () => {
  it("of two ways the one that loses less is taken", () => {
    const long = madeCatalogue(
      BASE,
      nextRelease("one-2", "one-1", [
        { rule: "retire", key: "gone", why: "x" },
        { rule: "retire", key: "d", why: "x" },
        { rule: "retire", key: "b", why: "x" },
      ]),
      nextRelease("one-3", "one-2", [], {
        passages: [{ from: "one-1", rules: [{ rule: "retire", key: "gone", why: "x" }] }],
      }),
    );
    const route = valueOf(routeBetween(long, releaseIn(long, "one-1"), releaseIn(long, "one-3")));
    expect(routeTitle(releaseIn(long, "one-1"), route)).toBe("one 1 → 3");
    expect(route.map((hop) => hop.by)).toEqual(["passage"]);
  });

  it("families that share nothing are refused in words; those that share meanings are joined by them", () => {
    const apart = madeCatalogue(BASE, wholeRelease("two-1", [setting("q", number(0, 9), 1)]));
    const refused = routeBetween(apart, releaseIn(apart, "one-1"), releaseIn(apart, "two-1"));
    expect(!refused.ok && refused.problem).toMatchObject({
      code: "no-passage",
      detail: expect.stringContaining("share the meaning of 0 settings") as string,
    });
    const meant = (family: string, factor?: number) =>
      wholeRelease(
        `${family}-1`,
        Array.from({ length: 9 }, (_, i) =>
          setting(`${family}${i}`, number(0, 1000, 0.5), 10, {
            concept: { id: `c${i}`, ...(factor ? { factor } : {}) },
          }),
        ),
      );
    const joined = madeCatalogue(meant("red"), meant("blue", 0.5));
    const plan = carry(joined, written({ "system/red3": 12 }), "red-1", "blue-1");
    expect(plan.items.find((item) => item.id === "system/blue3")).toMatchObject({
      outcome: "converted",
      to: { value: 24 },
    });
  });

  it("within one release there is no way to go", () => {
    expect(valueOf(routeBetween(lineage, releaseIn(lineage, "one-1"), releaseIn(lineage, "one-1")))).toEqual([]);
  });

  it("case C15: positions mean other values: converted, limited to the lever, and shown before and after", () => {
    const [from, to] = [release("heddle-23"), release("weft-9")];
    const target = findTarget(to, "PWEIR");
    if (!target) throw new Error("no target");
    const base = defaultConfiguration(from, "PWEIR", { target: "PWEIR" });
    const rows = [{ table: "switches", key: "1", cells: { action: "arm", channel: 5, from: 1700, to: 2100 }, line: 9 }];
    const plan = planCarryover({
      source: { ...base, rows },
      from,
      to,
      target,
      route: valueOf(routeBetween(catalogue(), from, to)),
      whose: "this-board",
    });
    const row = plan.items.find((item) => item.kind === "row");
    expect(row).toMatchObject({ outcome: "converted", to: { cells: { from: 400, to: 1200 } } });
    expect(row?.trail.find((step) => step.before?.startsWith("from"))).toMatchObject({
      before: "from 1700 µs",
      after: "from 400 ‰",
    });
  });
});

describe("ways in a drawn lineage", () => {
  /** A lineage by lot: a chain with forks, and passages that join lines. */
  const drawn = fc
    .record({
      parents: fc.array(fc.nat(1000), { minLength: 3, maxLength: 14 }),
      joins: fc.array(fc.tuple(fc.nat(1000), fc.nat(1000)), { maxLength: 5 }),
      retired: fc.array(fc.nat(3), { minLength: 16, maxLength: 16 }),
    })
    .map(({ parents, joins, retired }) => {
      const keys = ["k0", "k1", "k2", "k3"];
      const gone: string[][] = [[]];
      const documents: object[] = [
        wholeRelease(
          "road-0",
          keys.map((key) => setting(key, number(0, 9), 1)),
        ),
      ];
      parents.forEach((parent, i) => {
        const at = parent % (i + 1);
        const left = keys.filter((key) => !(gone[at] ?? []).includes(key));
        const lost = left.slice(0, Math.min(left.length - 1, (retired[i] ?? 0) % 2));
        gone.push([...(gone[at] ?? []), ...lost]);
        const more = joins
          .map(([a, b]) => [a % (parents.length + 1), b % (parents.length + 1)] as const)
          .filter(([a, b]) => b === i + 1 && a < b && a !== at)
          .map(([a]) => ({ from: `road-${a}`, rules: [] }));
        documents.push(
          nextRelease(
            `road-${i + 1}`,
            `road-${at}`,
            lost.map((key) => ({ rule: "retire", key, why: "x" })),
            {
              passages: more.filter(({ from }, j) => more.findIndex((other) => other.from === from) === j),
            },
          ),
        );
      });
      return madeCatalogue(...documents);
    });

  /** The shortest of all simple ways, by trying each. */
  function shortest(world: Catalogue, from: string, to: string): number {
    const hops = [...world.releases.values()].flatMap((later) =>
      later.passages.flatMap(({ from: earlier, rules }) => {
        const there = releaseIn(world, earlier);
        return [
          { from: there, to: later, by: "passage", rules } as const,
          { from: later, to: there, by: "passage backwards", rules: reverseRules(rules, there) } as const,
        ];
      }),
    );
    const walk = (at: string, been: readonly string[], length: number): number =>
      at === to
        ? length
        : Math.min(
            ...hops
              .filter((hop) => hop.from.id === at && !been.includes(hop.to.id))
              .map((hop) => walk(hop.to.id, [...been, hop.to.id], length + costOf(lossesOfRoute([hop])))),
            Infinity,
          );
    return walk(from, [from], 0);
  }

  it("the one that loses least is found, up and down and over forks; it is the same each time", () => {
    fc.assert(
      fc.property(drawn, fc.nat(100), fc.nat(100), (world, a, b) => {
        const ids = [...world.releases.keys()];
        const [from, to] = [releaseIn(world, ids[a % ids.length] ?? ""), releaseIn(world, ids[b % ids.length] ?? "")];
        const route = valueOf(routeBetween(world, from, to));
        const others = otherWays(world, from, to);
        const sum = (each: readonly Hop[]) => each.reduce((length, hop) => length + costOf(lossesOfRoute([hop])), 0);
        expect(Math.min(...[route, ...others].map(sum))).toBeCloseTo(shortest(world, from.id, to.id), 9);
        expect(route.map((hop) => hop.from.id)).toEqual(
          [from.id, ...route.map((hop) => hop.to.id)].slice(0, route.length),
        );
        for (const other of others) {
          expect(other.at(-1)?.to.id).toBe(to.id);
          expect(costOf(lossesOfRoute(other)) + 0.01 * other.length).toBeGreaterThanOrEqual(
            costOf(lossesOfRoute(route)),
          );
          expect(routeTitle(from, other)).not.toBe(routeTitle(from, route));
        }
        // what no rule ends on the way arrives: the count is of what is there at its end
        if (route.length > 0)
          expect(lossesOfRoute(route).lost).toBe(
            from.settings.filter(({ key }) => !to.settings.some((s) => s.key === key)).length,
          );
      }),
      { numRuns: 150 },
    );
  });

  it("what a way loses is the same whether releases share their settings as objects or have each their own", () => {
    const apart = (one: Catalogue): Catalogue => ({ ...one, releases: structuredClone(one.releases) });
    fc.assert(
      fc.property(drawn, fc.nat(100), fc.nat(100), (world, a, b) => {
        const ids = [...world.releases.keys()];
        const [x, y] = [ids[a % ids.length] ?? "", ids[b % ids.length] ?? ""];
        const told = (one: Catalogue) => routesBetween(one, releaseIn(one, x), releaseIn(one, y));
        expect(told(apart(world))).toEqual(told(world));
      }),
      { numRuns: 100 },
    );
    const demo = catalogue();
    const ids = [...demo.releases.keys()];
    for (const x of ids)
      for (const y of ids) {
        const told = (one: Catalogue) => routesBetween(one, releaseIn(one, x), releaseIn(one, y));
        expect([x, y, told(apart(demo))]).toEqual([x, y, told(demo)]);
      }
  });
});
