import { readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import fc from "fast-check";
import { stringify } from "yaml";
import {
  checkDocument,
  columnNamed,
  indexOf,
  RULE_KINDS,
  rulesFor,
  rulesSchema,
  type PassageRule,
} from "@/core/catalog";
import { kindOf, tableOf } from "@/core/catalog/rules";
import { equalValues, isOfKind, limitValue, type Configuration, type Value } from "@/core/config";
import { planCarryover, reverseRule, reverseRules, rowItems, routeBetween, type SettingItem } from "@/core/carryover";
import { valueOf } from "@/core/problem";
import {
  madeCatalogue,
  nextRelease,
  number,
  releaseIn,
  setting,
  wholeRelease,
  writtenValues,
} from "../../../../tests/support/made";

const FORMATS = path.resolve(__dirname, "../../../../docs/formats");

/** A published file that is made from the kinds: made anew with GOLDEN=write, else held against them. */
function published(name: string, text: string, told: (text: string) => unknown = (each) => each) {
  const file = path.join(FORMATS, name);
  if (process.env.GOLDEN === "write") writeFileSync(file, text);
  expect(told(readFileSync(file, "utf8"))).toEqual(told(text));
}

describe("the kinds of rules", () => {
  it("are published: their format, and how a person writes each", () => {
    published("rule.schema.json", `${JSON.stringify(rulesSchema(), null, 2)}\n`, JSON.parse);
    const parts = RULE_KINDS.map(
      ({ rule, about, exactly, example }) =>
        `## ${rule}\n\n${about}\n\n${exactly.map((each) => `- ${each}\n`).join("")}\n\`\`\`yaml\n- ${stringify(
          example,
          {
            collectionStyle: "flow",
            flowCollectionPadding: false,
            lineWidth: 0,
          },
        )
          .replace(/^\{(.*)\}/, "{ $1 }")
          .replace(/: \{([^}]*)\}/, ": { $1 }")}\`\`\`\n`,
    );
    // what holds for all of them stands before, written by hand
    const page = readFileSync(path.join(FORMATS, "rules.md"), "utf8");
    published("rules.md", page.slice(0, page.indexOf("## rename")) + parts.join("\n"));
  });

  it("each takes its own example, and nothing that it does not know", () => {
    const withRule = (rule: object) => checkDocument(nextRelease("Test-2", "Test-1", [rule]));
    for (const { rule, example, sentence } of RULE_KINDS) {
      expect([rule, withRule(example).ok]).toEqual([rule, true]);
      expect(sentence(example).length).toBeGreaterThan(2);
      const odd = withRule({ ...example, colour: "red" });
      expect(!odd.ok && [odd.problem.detail, odd.problem.where]).toEqual([
        'must NOT have additional properties: "colour"',
        { path: "/rules/0" },
      ]);
    }
    const unknown = withRule({ rule: "melt", key: "a", why: "Hot." });
    expect(!unknown.ok && unknown.problem.detail).toContain('there is no "melt"; known are rename, rescale, map');
  });
});

const WORDS = ["left", "right", "up"] as const;
const TYPES = {
  whole: { type: number(0, 1000), default: 10 },
  fine: { type: number(-50, 50, 0.01), default: 1 },
  word: { type: { choice: [...WORDS] }, default: "left" },
  yes: { type: { switch: true }, default: true },
  some: { type: { flags: ["a", "b", "c"] }, default: ["a"] },
} as const;

/** A passage drawn by lot: what is written in the release after is what the rules need, and its ranges are wide. */
const drawnPassage = fc
  .record({
    moved: fc.boolean(),
    renamed: fc.boolean(),
    factor: fc.constantFrom(10, 0.1, 100, 0.01, 2, 60),
    offset: fc.constantFrom(0, 0, 5, -3),
    words: fc.shuffledSubarray(["ex", "wy", "zed"], { minLength: 3, maxLength: 3 }),
    flags: fc.boolean(),
    split: fc.boolean(),
    order: fc.array(fc.nat(1000), { minLength: 8, maxLength: 8 }),
  })
  .map(({ moved, renamed, factor, offset, words, flags, split, order }) => {
    const finer = Math.min(1, factor) * (Number.isInteger(offset) ? 1 : 0.1);
    const key = renamed ? "whole.new" : "whole";
    const rules: object[] = [
      { rule: "rescale", key: "whole", factor, offset, why: "x" },
      ...(renamed ? [{ rule: "rename", key: "whole", to: "whole.new" }] : []),
      { rule: "map", key: "word", words: Object.fromEntries(WORDS.map((w, i) => [w, words[i]])), why: "x" },
      ...(flags ? [{ rule: "map", key: "some", words: { a: "b", b: "c", c: "a" }, why: "x" }] : []),
      ...(moved ? [{ rule: "move", key: "yes", to: "tune", why: "x" }] : []),
      ...(split ? [{ rule: "split", key: "fine", into: ["fine.a", "fine.b"], why: "x" }] : []),
    ];
    const more = {
      change: [
        { key, type: number(-200_000, 200_000, finer), default: 10 },
        { key: "word", type: { choice: ["ex", "wy", "zed"] }, default: "ex" },
      ],
      ...(split ? { add: [setting("fine.a", TYPES.fine.type, 1), setting("fine.b", TYPES.fine.type, 1)] } : {}),
    };
    const shuffled = rules
      .map((rule, i) => ({ rule, at: order[i] ?? 0 }))
      .toSorted((a, b) => a.at - b.at)
      .map(({ rule }) => rule);
    return { rules, shuffled, more };
  });

const values = fc.record({
  whole: fc.integer({ min: 0, max: 1000 }),
  fine: fc.integer({ min: -5000, max: 5000 }).map((n) => n / 100),
  word: fc.constantFrom(...WORDS),
  yes: fc.boolean(),
  some: fc.subarray(["a", "b", "c"]),
}) as fc.Arbitrary<Record<string, Value>>;

const BASE = wholeRelease(
  "Law-1",
  Object.entries(TYPES).map(([key, { type, default: value }]) => setting(key, type, value as Value)),
);

function world(rules: readonly object[], more: object) {
  const catalogue = madeCatalogue(BASE, nextRelease("Law-2", "Law-1", rules, more));
  return { catalogue, older: releaseIn(catalogue, "Law-1"), newer: releaseIn(catalogue, "Law-2") };
}

function carried({ catalogue, older, newer }: ReturnType<typeof world>, source: Configuration, back = false) {
  const [from, to] = back ? [newer, older] : [older, newer];
  const [target] = to.targets;
  if (!target) throw new Error("no target");
  const route = valueOf(routeBetween(catalogue, from, to));
  return planCarryover({ source, from, to, target, route, whose: "this-board" }).items.filter(
    (item): item is SettingItem => item.kind === "setting",
  );
}

describe("the laws of rules", () => {
  it("up then down brings back every value that a rule can turn round, to within its rounding", () => {
    fc.assert(
      fc.property(drawnPassage, values, ({ rules, more }, start) => {
        const made = world(rules, more);
        const there = carried(made, writtenValues(start));
        const middle = Object.fromEntries(there.flatMap(({ to, id }) => (to ? [[id, to.value]] : [])));
        const home = carried(made, writtenValues(middle), true);
        for (const [key, value] of Object.entries(start)) {
          const item = home.find(({ id }) => id === `system/${key}`);
          const type = indexOf(made.older).settings.get(key)?.type ?? { kind: "switch" as const };
          expect([key, item?.to?.value]).toEqual([
            key,
            item?.to && equalValues(item.to.value, value, type) ? item.to.value : value,
          ]);
        }
      }),
      { numRuns: 300 },
    );
  });

  it("the order of rules that speak of different things, or of one thing in different ways, does not matter", () => {
    fc.assert(
      fc.property(drawnPassage, values, ({ rules, shuffled, more }, start) => {
        const [one, other] = [rules, shuffled].map((each) =>
          carried(world(each, more), writtenValues(start)).map(({ id, outcome, to, loss }) => [id, outcome, to, loss]),
        );
        expect(one).toEqual(other);
      }),
      { numRuns: 200 },
    );
  });

  it("rules turned round twice are what they were, except for their words and what has no way back", () => {
    fc.assert(
      fc.property(drawnPassage, values, ({ rules, more }, start) => {
        const made = world(rules, more);
        const forth = made.newer.passages[0]?.rules ?? [];
        const back = reverseRules(forth, made.older);
        const again = reverseRules(back, made.newer);
        const route = [{ from: made.older, to: made.newer, by: "passage", rules: again }] as const;
        const [target] = made.newer.targets;
        if (!target) throw new Error("no target");
        const plan = planCarryover({
          source: writtenValues(start),
          from: made.older,
          to: made.newer,
          target,
          route,
          whose: "this-board",
        });
        const first = carried(made, writtenValues(start));
        for (const item of plan.items)
          if (item.kind === "setting") {
            const was = first.find(({ id }) => id === item.id);
            const type = indexOf(made.newer).settings.get(item.to?.key ?? "")?.type;
            if (was?.to && type)
              expect([item.id, item.to && equalValues(item.to.value, was.to.value, type)]).toEqual([item.id, true]);
          }
      }),
      { numRuns: 100 },
    );
  });

  it("what says that it comes back whole does, value by value, and what says that it loses nothing loses nothing", () => {
    fc.assert(
      fc.property(drawnPassage, values, ({ rules, more }, start) => {
        const made = world(rules, more);
        const forth = made.newer.passages[0]?.rules ?? [];
        const reaches = new Map<string, string[]>();
        for (const rule of forth)
          for (const key of kindOf(rule).keys(rule))
            reaches.set(key, [...(reaches.get(key) ?? []), reverseRule(rule, forth, made.older).reach]);
        const there = carried(made, writtenValues(start));
        for (const item of there) {
          const type = item.to && indexOf(made.newer).settings.get(item.to.key)?.type;
          if (!item.from || !item.to || !type || item.loss !== "none") continue;
          expect(isOfKind(item.to.value, type) && limitValue(item.to.value, type)).toEqual(item.to.value);
          const untouched = rulesFor(item.from.key, forth).every((rule) => kindOf(rule).effect !== "converted");
          if (untouched) expect(item.to.value).toEqual(item.from.value);
        }
        expect([...reaches.values()].flat().every((reach) => ["whole", "rounded", "part"].includes(reach))).toBe(true);
      }),
      { numRuns: 100 },
    );
  });

  it("rows come back as well: columns, words, keys and positions", () => {
    const table = {
      name: "lamps",
      title: "Lamp",
      area: "lights",
      maxRows: 8,
      keys: [{ name: "lamp", title: "Lamp", type: number(1, 4), default: 1 }],
      columns: [
        { name: "colour", title: "Colour", type: { choice: ["red", "green", "blue"] }, default: "red" },
        { name: "from", title: "From", type: number(0, 100), default: 0 },
      ],
      rows: [],
    };
    const rules = [
      { rule: "ranges", table: "lamps", columns: ["from"], factor: 10, offset: 900, why: "x" },
      { rule: "column", table: "lamps", column: "from", to: "start", why: "x" },
      { rule: "cells", table: "lamps", column: "colour", words: { red: "rose", green: "moss", blue: "sky" }, why: "x" },
      { rule: "column", table: "lamps", column: "colour", to: "tint", why: "x" },
      { rule: "renumber", table: "lamps", rows: { "1": "2", "2": "3", "3": "1" }, why: "x" },
    ];
    const change = {
      changeColumns: [
        { table: "lamps", column: "start", type: number(900, 1900, 10), default: 900 },
        { table: "lamps", column: "tint", type: { choice: ["rose", "moss", "sky"] }, default: "rose" },
      ],
    };
    const rows = fc.uniqueArray(
      fc.record({
        key: fc.constantFrom("1", "2", "3", "4"),
        colour: fc.constantFrom("red", "green", "blue"),
        from: fc.nat(100),
      }),
      { selector: ({ key }) => key },
    );
    fc.assert(
      fc.property(rows, fc.shuffledSubarray(rules, { minLength: rules.length }), (drawn, order) => {
        const catalogue = madeCatalogue(
          wholeRelease("Law-1", [setting("a", number(0, 1), 0)], { tables: [table] }),
          nextRelease("Law-2", "Law-1", order, change),
        );
        const [older, newer] = [releaseIn(catalogue, "Law-1"), releaseIn(catalogue, "Law-2")];
        const source = writtenValues(
          {},
          { rows: drawn.map(({ key, ...cells }, i) => ({ table: "lamps", key, cells, line: i + 1 })) },
        );
        const there = rowItems(source, older, valueOf(routeBetween(catalogue, older, newer)), newer);
        expect(there.map(({ outcome, loss }) => [outcome, loss])).toEqual(drawn.map(() => ["converted", "none"]));
        const middle = writtenValues(
          {},
          { rows: there.map(({ to }, i) => ({ table: "lamps", key: to?.key ?? "", cells: to?.cells ?? {}, line: i })) },
        );
        const home = rowItems(middle, newer, valueOf(routeBetween(catalogue, newer, older)), older);
        expect(home.map(({ to }) => [to?.key, to?.cells])).toEqual(drawn.map(({ key, ...cells }) => [key, cells]));
        const lamps = newer.tables[0];
        expect(lamps && ["tint", "start"].map((name) => columnNamed(lamps, name)?.name)).toEqual(["tint", "start"]);
        expect(order.every((rule) => tableOf(rule as unknown as PassageRule) === "lamps")).toBe(true);
      }),
      { numRuns: 200 },
    );
  });
});
