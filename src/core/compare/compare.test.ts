import fc from "fast-check";
import { addressId, type Configuration, type Value } from "@/core/config";
import type { Firmware } from "@/core/catalog";
import { assign } from "@/core/compare/assign";
import { changesBetween, fleetImpact } from "@/core/compare/changes";
import { comparisonSentence } from "@/core/compare/difference";
import { driftSentence, fleetDrift, vectorOf } from "@/core/compare/fleet";
import { openConflicts } from "@/core/compare/takes";
import { compareThree, mergeThree } from "@/core/compare/three";
import { compareTwo } from "@/core/compare/two";
import { defaultConfiguration, readRecital, reciteLines } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { catalogue, release, statementIdiom } from "../../../tests/support/workshop";

const [h22, h23] = [release("heddle-22"), release("heddle-23")];
const identity = (version: string, more: object = {}) => ({
  family: "Heddle",
  release: version,
  target: "CSLATE-B",
  builtOn: version === "22" ? h22.builtOn : h23.builtOn,
  ...more,
});

function board(of: Firmware, values: Readonly<Record<string, Value>> = {}, more: Partial<Configuration> = {}) {
  const base = defaultConfiguration(of, "CSLATE-B", identity(of.version));
  const settings = base.settings.map((s, i) => ({ ...s, value: values[addressId(s)] ?? s.value, line: i + 10 }));
  return { configuration: { ...base, settings, ...more }, release: of };
}
/** The same board read out as moved values only. */
function movedOnly(of: Firmware, values: Readonly<Record<string, Value>> = {}) {
  const text = reciteLines(board(of, values).configuration, of, statementIdiom(), "moved").join("\n");
  const recital = valueOf(readRecital(text, statementIdiom(), catalogue()));
  return { configuration: recital.configuration, release: recital.release };
}
const compare = (left: ReturnType<typeof board>, right: ReturnType<typeof board>, options = {}) =>
  valueOf(compareTwo(left, right, catalogue(), options));

describe("two configurations", () => {
  it("alike is alike, and says how much was compared", () => {
    const same = compare(board(h22), board(h22));
    expect(same.differences).toEqual([]);
    expect(comparisonSentence(same)).toMatch(/^All \d+ values are alike\.$/);
  });

  it("tells value by value what differs, with both sides, lines and whether it flies otherwise", () => {
    const { differences } = compare(
      board(h22, { "system/gyro.smoothing": 95, "tune 2/roll.push": 61, "system/lights.count": 9 }),
      board(h22),
    );
    expect(differences.map((d) => [d.id, d.left?.shown, d.right?.shown, d.flies, d.cause])).toEqual([
      ["system/gyro.smoothing", "95 Hz", "90 Hz", true, "set"],
      ["system/lights.count", "9", "8", false, "set"],
      ["tune 2/roll.push", "61", "45", true, "set"],
    ]);
    expect(differences[0]?.left?.line).toBeGreaterThan(0);
    expect(comparisonSentence(compare(board(h22, { "system/gyro.smoothing": 95 }), board(h22)))).toMatch(
      /^1 of \d+ values differs; 1 changes how it flies\.$/,
    );
  });

  it("equality is by type: numbers to half a step, flags in any order", () => {
    const left = board(h22, { "system/arm.checks": ["battery", "level", "receiver"], "system/failsafe.after": 1.5 });
    const right = board(h22, { "system/arm.checks": ["level", "receiver", "battery"], "system/failsafe.after": 1.52 });
    expect(compare(left, right).differences).toEqual([]);
  });

  it("equality is by meaning: another word for the same choice is the same, and its line stays as it was", () => {
    const text = reciteLines(
      board(h22, { "system/failsafe.does": "come-back" }).configuration,
      h22,
      statementIdiom(),
      "all",
    );
    const read = (lines: readonly string[]) => valueOf(readRecital(lines.join("\n"), statementIdiom(), catalogue()));
    const [one, other] = [
      read(text),
      read(text.map((line) => line.replace("failsafe.does come-back", "failsafe.does home"))),
    ];
    expect(compare(one, other).differences).toEqual([]);
    expect(other.configuration.settings.find((s) => s.key === "failsafe.does")).toMatchObject({
      value: "come-back",
      raw: "home",
    });
  });

  it("what belongs to one board or airframe is told apart", () => {
    const { differences, personal } = compare(
      board(h22, { "system/gyro.zero.x": 0.4, "system/craft.label": "QW-77" }),
      board(h22),
    );
    expect(differences).toEqual([]);
    expect(personal.map((d) => d.id)).toEqual(["system/craft.label", "system/gyro.zero.x"]);
  });

  it("case C03: absent values count as the default of their own release; a moved default shows though neither writes it", () => {
    const found = compare(movedOnly(h23), movedOnly(h22));
    expect(found.carried).toBe("Heddle 22 → 23");
    const width = found.differences.find((d) => d.id === "system/notch.width");
    expect(width).toMatchObject({
      cause: "default-moved",
      left: { shown: "20 Hz", explicit: false },
      right: { shown: "24 Hz", explicit: false },
    });
    expect(found.differences.filter((d) => d.cause !== "default-moved")).toEqual([]);
  });

  it("case C04: equal settings on different builds are not alike: behaviour and moved defaults are listed", () => {
    // everything as the new release has it, so that no value differs any more
    const old = board(h22);
    const plan = compare(board(h23), old);
    const values = Object.fromEntries(plan.differences.flatMap((d) => (d.right ? [[d.id, d.right.value]] : [])));
    const found = compare(board(h23, values), old);
    expect(found.differences.filter((d) => d.cause === "set")).toEqual([]);
    expect(found.behaviour.map((d) => d.id)).toEqual(
      expect.arrayContaining(["system/motor.rest", "system/failsafe.sink-throttle"]),
    );
    expect(found.identity.map((d) => d.what)).toEqual(["release", "build"]);
    expect(comparisonSentence({ ...found, differences: [] })).toMatch(/^The values are alike, the aircraft are not/);
  });

  it("case C49: another profile in use is a difference of its own", () => {
    const { differences } = compare(board(h22, {}, { active: { tune: 2, feel: 1, battery: 1 } }), board(h22));
    expect(differences).toMatchObject([
      { id: "active tune", left: { shown: "tune 2" }, right: { shown: "tune 1" }, flies: true },
    ]);
  });

  it("case C10: lines that nobody understands turn up, on either side", () => {
    const unknown = [
      { line: 21, text: "put secret.sauce 7", scope: "system" as const, reason: "no setting of this name" },
    ];
    const { differences } = compare(board(h22, {}, { unknown }), board(h22));
    expect(differences).toMatchObject([{ kind: "line", cause: "only-left", title: "put secret.sauce 7" }]);
    expect(compare(board(h22, {}, { unknown }), board(h22, {}, { unknown })).differences).toEqual([]);
  });

  it("profiles are matched by number, or by which is most alike", () => {
    const strange = { "tune 1/roll.push": 60, "tune 1/pitch.push": 61, "tune 1/roll.memory": 99 };
    const turned = { "tune 3/roll.push": 60, "tune 3/pitch.push": 61, "tune 3/roll.memory": 99 };
    expect(compare(board(h22, strange), board(h22, turned)).differences).toHaveLength(6);
    const alike = compare(board(h22, strange), board(h22, turned), { profiles: "likeness" });
    expect(alike.matched).toContain("tune 3 of the right is held against tune 1 of the left");
    expect(alike.differences.map((d) => d.id)).toEqual(["active tune"]);
  });

  it("rows are matched by key; what was not written of a table is at its defaults", () => {
    const base = board(h22);
    const rows = base.configuration.rows.map((r) =>
      r.table === "ports" && r.key === "2" ? { ...r, cells: { ...r.cells, speed: "115200" } } : r,
    );
    expect(compare(board(h22, {}, { rows }), base).personal).toMatchObject([
      { id: "row ports/2", left: { shown: "speed 115200" }, right: { shown: "speed 420000" } },
    ]);
    expect(compare(movedOnly(h22), base).personal).toEqual([]);
  });

  it("families without a common ancestor are compared by what their settings mean", () => {
    const bobbin = release("bobbin-41");
    const source = defaultConfiguration(bobbin, "CSLATE-B", { target: "CSLATE-B" });
    const settings = source.settings.map((s) =>
      addressId(s) === "tune 1/stabiliser/rollPush" ? { ...s, value: 610, line: 5 } : s,
    );
    const found = compare(board(h22), { configuration: { ...source, settings }, release: bobbin });
    expect(found.differences.find((d) => d.id === "tune 1/roll.push")).toMatchObject({ right: { shown: "61" } });
  });

  it("whatever is compared with itself is alike, and the difference is the same from both sides", () => {
    const some = h22.settings.filter(
      (s) => s.type.kind === "number" && s.belongsTo === "type" && s.scope === "system" && !s.housekeeping,
    );
    const values = fc.record(
      Object.fromEntries(
        some
          .slice(0, 12)
          .map((s) => [
            `system/${s.key}`,
            s.type.kind === "number"
              ? fc.integer({ min: Math.ceil(s.type.min), max: Math.floor(s.type.max) })
              : fc.constant(0),
          ]),
      ),
    ) as fc.Arbitrary<Record<string, number>>;
    fc.assert(
      fc.property(values, values, (a, b) => {
        expect(compare(board(h22, a), board(h22, a)).differences).toEqual([]);
        const there = compare(board(h22, a), board(h22, b)).differences.map((d) => [
          d.id,
          d.left?.shown,
          d.right?.shown,
        ]);
        const back = compare(board(h22, b), board(h22, a)).differences.map((d) => [
          d.id,
          d.right?.shown,
          d.left?.shown,
        ]);
        expect(back).toEqual(there);
      }),
      { numRuns: 12 },
    );
  });
});

describe("three configurations", () => {
  const base = board(h22);
  const mine = board(h22, { "system/gyro.smoothing": 95, "tune 1/roll.push": 50, "system/notch.width": 30 });
  const theirs = board(h22, { "system/gyro.smoothing": 80, "system/return.height": 45, "system/notch.width": 30 });
  const three = valueOf(compareThree(base, mine, theirs, catalogue()));

  it("says who changed what, and what is in conflict", () => {
    expect(three.items.map((item) => [item.id, item.change])).toEqual([
      ["system/gyro.smoothing", "conflict"],
      ["system/notch.width", "both-alike"],
      ["system/return.height", "theirs"],
      ["tune 1/roll.push", "mine"],
    ]);
  });

  it("merges what is clear; a conflict waits for a decision", () => {
    expect(openConflicts(three.items, {}).map((item) => item.id)).toEqual(["system/gyro.smoothing"]);
    const merged = mergeThree(three, { "system/gyro.smoothing": "theirs" });
    const at = (id: string) => merged.settings.find((s) => addressId(s) === id)?.value;
    expect([
      at("system/gyro.smoothing"),
      at("system/notch.width"),
      at("system/return.height"),
      at("tune 1/roll.push"),
    ]).toEqual([80, 30, 45, 50]);
    expect(merged.settings).toHaveLength(base.configuration.settings.length);
  });
});

describe("a fleet against its standard", () => {
  const standard = board(h22);
  const fleet = [
    { tag: "QW-91", vector: vectorOf(board(h22).configuration, h22) },
    {
      tag: "QW-92",
      vector: vectorOf(board(h22, { "system/gyro.smoothing": 95, "system/gyro.zero.x": 1 }).configuration, h22),
    },
    { tag: "QW-93", vector: vectorOf(movedOnly(h22, { "system/lights.count": 3 }).configuration, h22) },
    { tag: "QW-94", vector: vectorOf(board(h23).configuration, h23) },
  ];
  const drift = fleetDrift(standard, fleet, catalogue());

  it("case C50: who, in what; what is personal to an airframe is left aside", () => {
    expect(
      drift.rows.slice(0, 3).map((row) => [row.tag, row.cells.map((c) => `${c.column} ${c.shown}, not ${c.standard}`)]),
    ).toEqual([
      ["QW-91", []],
      ["QW-92", ["system/gyro.smoothing 95 Hz, not 90 Hz"]],
      ["QW-93", ["system/lights.count 3, not 8"]],
    ]);
    expect(driftSentence("Sedge", drift)).toMatch(
      /^3 of 4 of type Sedge stand off their standard; 2 fly differently\.$/,
    );
  });

  it("case C68: on another release the standard is carried there first, and said so; columns stay those of the standard", () => {
    const last = drift.rows[3];
    expect(last?.carried).toBe("Heddle 22 → 23");
    expect(last?.cells.map((c) => c.column)).toContain("system/notch.width");
    // a renamed and rescaled setting that flies alike is no drift
    expect(last?.cells.map((c) => c.column).filter((id) => id.includes("turn-rate"))).toEqual([]);
  });

  it("case C07: what nobody set is told from what somebody did", () => {
    const byDefault = (i: number) => drift.rows[i]?.cells.map((cell) => cell.byDefault ?? false);
    expect(byDefault(1)).toEqual([false]);
    expect(new Set(byDefault(3))).toEqual(new Set([true]));
  });

  it("columns: what flies first, then what most stand off", () => {
    expect(drift.columns[0]?.flies).toBe(true);
    expect(drift.columns.find((c) => c.id === "system/gyro.smoothing")).toMatchObject({ count: 2, standard: "90 Hz" });
  });
});

describe("what a release changes", () => {
  it("case C07: the silent ones first, then what behaves otherwise", () => {
    const { changes, route } = valueOf(changesBetween(h22, h23, catalogue()));
    expect(route).toBe("Heddle 22 → 23");
    expect(changes[0]?.how).toBe("silent");
    const of = (how: string) => changes.filter((c) => c.how === how).map((c) => c.place);
    expect(of("silent")).toHaveLength(5);
    expect(of("silent")).toContain("notch.width");
    expect(of("behaviour")).toEqual(["motor.rest", "failsafe.sink-throttle"]);
    expect(of("renamed")).toContain("craft.label → aircraft.label");
    expect(of("retired")).toContain("gyro.range");
    expect(of("limit")).toContain("return.speed");
  });

  it("a default of a target is told with the target, and only where it moves", () => {
    const changed = h23.settings.map((setting) =>
      setting.key === "motor.frequency" ? { ...setting, defaultByTarget: { TMOTE: 96 } } : setting,
    );
    const places = (to: typeof h23) =>
      valueOf(changesBetween(h22, to, catalogue()))
        .changes.filter(({ how }) => how === "silent")
        .map(({ place, before, after, why }) => [place, before, after, why[0]].join(" | "));
    const told = new Set(places(h23));
    expect(places({ ...h23, settings: changed }).filter((each) => !told.has(each))).toEqual([
      "motor.frequency | 48 kHz | 96 kHz | On TMOTE.",
    ]);
  });

  it("case C52: new settings that can limit flight are told apart from the other new ones", () => {
    const { changes } = valueOf(changesBetween(h22, h23, catalogue()));
    const restricting = changes.filter((c) => c.how === "restricts");
    expect(restricting.map((c) => c.place)).toEqual(expect.arrayContaining(["ceiling.hard", "arm.fix-first"]));
    expect(restricting.find((c) => c.place === "ceiling.hard")?.after).toBe("120 m");
    expect(changes.filter((c) => c.how === "new").length).toBeGreaterThan(0);
  });

  it("for one aircraft: what it uses", () => {
    const used = board(h22, { "feel 1/yaw.turn-rate": 2.79 });
    const { changes } = valueOf(changesBetween(h22, h23, catalogue(), used));
    const converted = changes.filter((c) => c.how === "converted");
    expect(converted.map((c) => [c.place, c.before, c.after])).toContainEqual([
      "yaw.turn-rate → feel.yaw.rate · feel 1",
      "2.79 rad/s",
      "160 °/s",
    ]);
    expect(converted.map((c) => c.place)).not.toContain("roll.turn-rate → feel.roll.rate · feel 1");
  });

  it("over several releases, and with what other parts must run", () => {
    const { changes, requirements, route } = valueOf(changesBetween(release("weft-7"), release("weft-9"), catalogue()));
    expect(route).toBe("Weft 7 → 8 → 9");
    expect(requirements.map((r) => r.part)).toEqual(["co-processor", "speed controllers"]);
    expect(changes.some((c) => c.place === "sampler.lift → winch.lift")).toBe(true);
  });

  it("case C73: the whole fleet before anyone flashes: aircraft × settings × how", () => {
    const fleet = [
      { tag: "QW-91", ...board(h22) },
      { tag: "QW-92", ...board(h22, { "system/gyro.smoothing": 95, "system/return.speed": 18 }) },
      { tag: "QW-93", ...board(h23) },
      {
        tag: "QW-94",
        configuration: { ...board(h22).configuration, identity: identity("22", { target: "PSLUICE-X" }) },
        release: h22,
      },
    ];
    const { impacts, aircraft } = fleetImpact(fleet, h23, catalogue());
    expect(aircraft.map((a) => [a.tag, a.problem?.code])).toEqual([
      ["QW-91", undefined],
      ["QW-92", undefined],
      ["QW-94", "target-missing"],
    ]);
    expect(impacts[0]?.how).toBe("silent");
    const smoothing = impacts.find((i) => i.how === "silent" && i.place === "gyro.smoothing");
    expect(smoothing?.aircraft).toEqual([{ tag: "QW-91", before: "90 Hz", after: "110 Hz" }]);
    expect(impacts.find((i) => i.how === "limit" && i.place === "return.speed")?.aircraft.map((a) => a.tag)).toEqual([
      "QW-92",
    ]);
  });
});

describe("the assignment", () => {
  it("costs no more than any other", () => {
    const matrix = fc.integer({ min: 1, max: 5 }).chain((n) =>
      fc.array(fc.array(fc.integer({ min: 0, max: 50 }), { minLength: n, maxLength: n }), {
        minLength: n,
        maxLength: n,
      }),
    );
    const permutations = (n: number): number[][] =>
      n === 0
        ? [[]]
        : permutations(n - 1).flatMap((p) =>
            Array.from({ length: n }, (_, i) => [...p.slice(0, i), n - 1, ...p.slice(i)]),
          );
    fc.assert(
      fc.property(matrix, (cost) => {
        const total = (columns: readonly number[]) =>
          columns.reduce((sum, column, row) => sum + (cost[row]?.[column] ?? NaN), 0);
        expect(total(assign(cost))).toBe(Math.min(...permutations(cost.length).map(total)));
      }),
    );
    expect(assign([[1], [0], [2]])).toEqual([-1, 0, -1]);
    expect(assign([])).toEqual([]);
  });
});
