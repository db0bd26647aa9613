import { scopesOf } from "@/core/catalog";
import { addressId } from "@/core/config";
import {
  asOfNewest,
  changesBetween,
  comparisonSentence,
  compareThree,
  compareTwo,
  drawPictures,
  driftSentence,
  fleetDrift,
  fleetImpact,
  mergeThree,
  resolve,
  sinceWhen,
  valueOverTime,
  vectorOf,
  type Compared,
} from "@/core/compare";
import { valueOf } from "@/core/problem";
import { expectGolden, linesOf } from "../../../tests/support/golden";
import { catalogue, release } from "../../../tests/support/workshop";
import { worn } from "../../../tests/support/worn";

const side = (id: string, target: string, seed: number): Compared => {
  const of = release(id);
  const identity = { family: of.family, release: of.version, target, chipId: `AA01-BB0${seed}` };
  return { release: of, configuration: worn(of, identity, seed) };
};
const hashed = (entries: readonly unknown[]) => linesOf(entries, () => false);

/** What comparisons give on configurations as years of use leave them: read through once, and it stays as it is. */
describe("comparisons, held against what was read through", () => {
  it.each([
    ["heddle-22", "heddle-22", "CSLATE-B", "as-numbered"],
    ["heddle-23", "heddle-22", "CSLATE-B", "as-numbered"],
    ["weft-9", "heddle-22", "PWEIR", "likeness"],
  ] as const)("%s against %s, profiles %s", (leftId, rightId, target, profiles) => {
    const [left, right] = [side(leftId, target, 0), side(rightId, target, 5)];
    const options = profiles === "likeness" ? { profiles } : {};
    const comparison = valueOf(compareTwo(left, right, catalogue(), options));
    const pictures = drawPictures(
      resolve(left.configuration, left.release),
      resolve(right.configuration, right.release),
    );
    expectGolden(`compare/${leftId}-${rightId}-${profiles}`, {
      sentence: [comparisonSentence(comparison)],
      differences: linesOf(comparison.differences),
      rest: hashed(Object.entries(comparison).filter(([name]) => name !== "differences")),
      pictures: hashed(pictures),
    });
  });

  it("three of them, and what becomes of both", () => {
    const [base, mine, theirs] = [
      side("heddle-22", "CSLATE-B", 0),
      side("heddle-22", "CSLATE-B", 1),
      side("heddle-23", "CSLATE-B", 2),
    ];
    const three = valueOf(compareThree(base, mine, theirs, catalogue()));
    const takes = Object.fromEntries(three.items.map((item, i) => [item.id, i % 2 === 0 ? "mine" : "theirs"] as const));
    expectGolden("compare/three", {
      counts: [JSON.stringify(three.counts)],
      items: linesOf(three.items, (item: { change: string }) => item.change === "conflict"),
      merged: hashed(Object.entries(mergeThree(three, takes))),
    });
  });

  it("a fleet against its standard, what a release changes, and what that means for the fleet", () => {
    const standard = side("heddle-22", "CSLATE-B", 0);
    const fleet = [
      side("heddle-22", "CSLATE-B", 0),
      side("heddle-22", "CSLATE-B", 3),
      side("heddle-23", "CSLATE-B", 6),
    ];
    const drift = fleetDrift(
      standard,
      fleet.map((each, i) => ({ tag: `QW-0${i}`, vector: vectorOf(each.configuration, each.release) })),
      catalogue(),
    );
    expectGolden("compare/fleet", {
      sentence: [driftSentence("Sedge", drift)],
      columns: linesOf(drift.columns),
      rows: hashed(drift.rows),
      impact: linesOf(
        Object.entries(
          fleetImpact(
            fleet.map((each, i) => ({ tag: `QW-0${i}`, ...each })),
            release("heddle-24"),
            catalogue(),
          ),
        ),
        () => false,
      ),
    });
    for (const [from, to] of [
      ["heddle-22", "heddle-23"],
      ["weft-8", "weft-9"],
      ["heddle-22", "weft-9"],
      ["heddle-30", "heddle-24"],
      ["heddle-18", "heddle-19"],
      ["heddle-19", "weft-7"],
      ["heddle-22", "sley-3"],
      ["treadle-71", "treadle-80"],
      ["bobbin-40", "bobbin-41"],
      ["heddle-22", "bobbin-41"],
    ] as const) {
      const changes = valueOf(changesBetween(release(from), release(to), catalogue()));
      expectGolden(`compare/changes-${from}-${to}`, {
        changes: linesOf(changes.changes, (change: { how: string }) => change.how !== "new"),
        rest: hashed(Object.entries(changes).filter(([name]) => name !== "changes")),
      });
    }
  });

  it("what was read out over the years, and one value through them", () => {
    const years = ["heddle-19", "heddle-22", "heddle-22", "heddle-23"].map((id, i) => ({
      ...side(id, "CSLATE-B", i * 2),
      id: i + 1,
      at: i * 1000,
      name: `reading ${i}`,
    }));
    const told = asOfNewest(years, catalogue());
    const newest = release("heddle-23");
    expectGolden("compare/history", {
      told: hashed(told.map(({ id, at, resolved: { active, rows } }) => ({ id, at, active, rows: [...rows] }))),
      since: linesOf([...sinceWhen(told)].filter((_, i) => i % 40 === 0)),
      // every tenth, in each profile that it has
      overTime: linesOf(
        newest.settings
          .filter((_, i) => i % 10 === 0)
          .flatMap((setting) =>
            scopesOf(newest, setting).map((scope) => valueOverTime(told, addressId({ scope, key: setting.key }))),
          ),
        () => false,
      ),
    });
  });
});
