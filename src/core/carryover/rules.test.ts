import fc from "fast-check";
import { findTarget, indexOf, type Catalogue, type Release } from "@/core/catalog";
import { isOfKind, type Configuration, type Value } from "@/core/config";
import { planCarryover } from "@/core/carryover/compute";
import type { SettingItem } from "@/core/carryover/plan";
import { routeBetween } from "@/core/carryover/route";
import { valueOf } from "@/core/problem";
import {
  buildFrom,
  madeCatalogue,
  nextRelease,
  number,
  releaseIn,
  setting,
  wholeRelease,
  writtenValues,
} from "../../../tests/support/made";

const OLD = wholeRelease(
  "Test-1",
  [
    setting("a", number(0, 100), 10),
    setting("b", number(0, 100), 20),
    setting("c", number(0, 100), 30),
    setting("word", { choice: ["left", "right", "up"] }, "left"),
    setting("in-tune", number(0, 100), 5, { scope: "tune" }),
    setting("one", number(0, 100), 7),
    setting("apart", number(0, 100), 9),
    setting("nobody", number(0, 100), 1),
    setting("limit", number(0, 100), 50),
  ],
  {
    tables: [
      {
        name: "ports",
        title: "Port",
        area: "ports",
        maxRows: 4,
        keys: [{ name: "port", title: "Port", type: number(1, 4), default: 1 }],
        columns: [{ name: "use", title: "Use", type: { choice: ["gone", "stays"] }, default: "stays" }],
        rows: [],
      },
    ],
  },
);

function releases(rules: object[], more: object = {}): [Release, Release, Catalogue] {
  const catalogue = madeCatalogue(OLD, nextRelease("Test-2", "Test-1", rules, more));
  return [releaseIn(catalogue, "Test-1"), releaseIn(catalogue, "Test-2"), catalogue];
}

function plan(
  rules: object[],
  values: Readonly<Record<string, Value>> = {},
  more: object = {},
  rest: Partial<Configuration> = {},
) {
  const [from, to, catalogue] = releases(rules, more);
  const target = findTarget(to, "T1");
  if (!target) throw new Error("no target");
  const source = writtenValues(values, rest);
  const route = valueOf(routeBetween(catalogue, from, to));
  return planCarryover({ source, from, to, target, route, whose: "this-board" });
}
const find = (made: ReturnType<typeof plan>, id: string) =>
  made.items.find((item) => item.id === id) as SettingItem | undefined;

describe("case C06: each passage rule, on a firmware of the test's own", () => {
  it("rename and behaviour on the same setting", () => {
    const made = plan(
      [
        { rule: "rename", key: "a", to: "alpha" },
        { rule: "behaviour", key: "a", why: "Means more now." },
      ],
      { a: 11 },
    );
    expect(find(made, "system/alpha")).toMatchObject({ outcome: "your-call", call: "behaviour", to: { value: 11 } });
    expect(find(made, "system/alpha")?.trail.map((t) => t.rule)).toEqual(["rename", "behaviour"]);
  });

  it("rescale with offset; the rounding stands in the trail", () => {
    const change = { change: [{ key: "a", type: number(0, 1, 0.25), default: 0.5 }] };
    const made = plan(
      [{ rule: "rescale", key: "a", factor: 0.01, offset: 0.1, why: "A share now." }],
      { a: 33 },
      change,
    );
    expect(find(made, "system/a")).toMatchObject({ outcome: "converted", to: { value: 0.5 } });
    expect(find(made, "system/a")?.trail[0]).toMatchObject({ before: "33", after: "0.50" });
  });

  it("a rescaled value that falls out of the new range is limited and needs a nod", () => {
    const change = { change: [{ key: "limit", type: number(0, 400), default: 200 }] };
    const made = plan([{ rule: "rescale", key: "limit", factor: 5, why: "Counted finer." }], { limit: 100 }, change);
    expect(find(made, "system/limit")).toMatchObject({
      outcome: "limited",
      to: { value: 400 },
      choices: [{ id: "accept" }],
    });
  });

  it("a word with a counterpart is mapped; one without is your call, never guessed", () => {
    const change = { change: [{ key: "word", type: { choice: ["port", "starboard"] }, default: "port" }] };
    const rules = [{ rule: "map", key: "word", words: { left: "port", right: "starboard" }, why: "Nautical now." }];
    expect(find(plan(rules, { word: "right" }, change), "system/word")).toMatchObject({
      outcome: "converted",
      to: { value: "starboard" },
    });
    expect(find(plan(rules, { word: "up" }, change), "system/word")).toMatchObject({
      outcome: "your-call",
      call: "no-counterpart",
      choices: [{ id: "take-default" }],
    });
  });

  const merge = (take: string, keys: readonly string[], values: Record<string, Value>) =>
    find(
      plan([{ rule: "merge", keys, to: "abc", take, why: "One for all." }], values, {
        add: [setting("abc", number(0, 100), 10)],
      }),
      "system/abc",
    );

  it("merge takes the largest, the smallest or the first of its own keys, where nobody set any", () => {
    const merged = (take: string, keys = ["a", "b", "c"]) => merge(take, keys, {})?.to?.value;
    expect([merged("first"), merged("largest"), merged("smallest")]).toEqual([10, 30, 10]);
    expect(merged("first", ["c", "a", "b"])).toBe(30);
  });

  it("case C86: a set value never loses to one that nobody set; several that differ are all shown, and a person decides", () => {
    // the largest would be c's default, and nobody set that
    expect(merge("largest", ["a", "b", "c"], { a: 12 })).toMatchObject({ outcome: "converted", to: { value: 12 } });
    expect(merge("first", ["a", "b", "c"], { b: 12, c: 12 })).toMatchObject({ to: { value: 12 }, choices: [] });
    const several = merge("first", ["a", "b", "c"], { b: 41, c: 43 });
    expect(several).toMatchObject({
      outcome: "your-call",
      call: "several",
      from: { key: "b" },
      others: [{ key: "c" }],
    });
    expect(several?.choices.map(({ id, value, means }) => [id, value, means])).toEqual([
      ["from b", 41, "“b” was 41."],
      ["from c", 43, "“c” was 43."],
    ]);
  });

  it("split gives each its value", () => {
    const add = { add: [setting("one.x", number(0, 100), 7), setting("one.y", number(0, 100), 7)] };
    const made = plan([{ rule: "split", key: "one", into: ["one.x", "one.y"], why: "Apart now." }], { one: 55 }, add);
    expect([find(made, "system/one.x")?.to?.value, find(made, "system/one.y")?.to?.value]).toEqual([55, 55]);
  });

  it("moved into profiles it goes into each; out of them the active one's value is taken", () => {
    const into = plan([{ rule: "move", key: "one", to: "tune", why: "By tune now." }], { one: 61 });
    expect([1, 2, 3].map((n) => find(into, `tune ${n}/one`)?.to?.value)).toEqual([61, 61, 61]);
    const out = (values: Record<string, Value>) =>
      find(plan([{ rule: "move", key: "in-tune", to: "system", why: "For all now." }], values), "system/in-tune");
    expect(out({ "tune 2/in-tune": 2 })).toMatchObject({ to: { value: 2 }, choices: [] });
    expect(out({ "tune 2/in-tune": 2, "tune 3/in-tune": 2 })).toMatchObject({ to: { value: 2 }, choices: [] });
  });

  it("case C86: where other profiles were set to something else, all that would be lost is shown", () => {
    const rules = [{ rule: "move", key: "in-tune", to: "system", why: "For all now." }];
    const set = { "tune 1/in-tune": 1, "tune 2/in-tune": 2, "tune 3/in-tune": 3 };
    expect(find(plan(rules, set), "system/in-tune")?.choices.map(({ value, means }) => [value, means])).toEqual([
      [2, "tune 2 was 2."],
      [1, "tune 1 was 1."],
      [3, "tune 3 was 3."],
    ]);
    // the active one was set by nobody: it does not win unasked
    const unset = find(plan(rules, { "tune 3/in-tune": 3 }), "system/in-tune");
    expect(unset).toMatchObject({ call: "several" });
    expect(unset?.choices.map(({ id }) => id)).toEqual(["from tune 2", "from tune 3"]);
  });

  it("a port use that the new release does not offer cannot be here", () => {
    const rows = [
      { table: "ports", key: "1", cells: { use: "gone" }, line: 4 },
      { table: "ports", key: "2", cells: { use: "stays" }, line: 5 },
    ];
    const made = plan(
      [],
      {},
      { changeColumns: [{ table: "ports", column: "use", type: { choice: ["stays"] }, default: "stays" }] },
      { rows },
    );
    expect(made.items.filter((i) => i.kind === "row").map((i) => [i.id, i.outcome])).toEqual([
      ["row ports/1", "cannot-be-here"],
      ["row ports/2", "as-it-was"],
    ]);
  });

  it("onto the same release nothing is asked and nothing changes", () => {
    const [from] = releases([]);
    const target = findTarget(from, "T1");
    if (!target) throw new Error("no target");
    const source: Configuration = {
      identity: { target: "T1" },
      settings: [{ scope: "system", key: "a", value: 3, raw: "3", line: 1 }],
      rows: [],
      active: {},
      unknown: [],
    };
    const made = planCarryover({ source, from, to: from, target, route: [], whose: "this-board" });
    expect(new Set(made.items.map((i) => i.outcome))).toEqual(new Set(["as-it-was"]));
  });
});

describe("rules that bring together what is not alike", () => {
  const KINDS = [
    { type: number(0, 100), default: 10 },
    { type: number(-1, 1, 0.01, "m"), default: 0.5 },
    { type: { switch: true }, default: true },
    { type: { choice: ["left", "right"] }, default: "left" },
    { type: { flags: ["red", "green"] }, default: ["red"] },
    { type: { text: 8 }, default: "word" },
  ] as const;
  const kind = fc.constantFrom(...KINDS);
  const rule = fc.constantFrom(
    { rule: "rename", key: "a", to: "z" },
    { rule: "rescale", key: "a", to: "z", factor: 10, offset: 1, why: "x" },
    { rule: "map", key: "a", to: "z", words: { left: "right", true: "left", "10": "word" }, why: "x" },
    { rule: "split", key: "a", into: ["z", "y"], why: "x" },
    { rule: "merge", keys: ["a", "b"], to: "z", take: "first", why: "x" },
    { rule: "merge", keys: ["b", "a"], to: "z", take: "largest", why: "x" },
    { rule: "behaviour", key: "a", why: "x", suggest: { factor: 2 } },
    { rule: "move", key: "a", to: "tune", why: "x" },
  );

  it("ask a person where a value is of another kind than its place; there and back, with every kind", () => {
    fc.assert(
      fc.property(rule, kind, kind, kind, kind, (drawn, a, b, y, z) => {
        const made = (key: string, each: (typeof KINDS)[number]) => setting(key, each.type, each.default);
        const renames = ["rename", "rescale", "map"].includes(drawn.rule);
        const stays = drawn.rule === "behaviour" || drawn.rule === "move";
        const drawnCatalogue = buildFrom(
          wholeRelease("Odd-1", [made("a", a), made("b", b)]),
          nextRelease(
            "Odd-2",
            "Odd-1",
            [drawn],
            renames || stays
              ? { change: [{ key: stays ? "a" : "z", type: z.type, default: z.default }], add: [made("y", y)] }
              : { add: [made("y", y), made("z", z)] },
          ),
        );
        // what cannot be told is refused at import, and says so
        if (!drawnCatalogue.ok) {
          expect(["release-rule", "release-inconsistent"]).toContain(drawnCatalogue.problem.code);
          return;
        }
        const catalogue = drawnCatalogue.value;
        const [older, newer] = [releaseIn(catalogue, "Odd-1"), releaseIn(catalogue, "Odd-2")];
        for (const [from, to] of [
          [older, newer],
          [newer, older],
        ] as const) {
          const route = valueOf(routeBetween(catalogue, from, to));
          const target = findTarget(to, "T1");
          if (!target) throw new Error("no target");
          const found = planCarryover({ source: writtenValues({}), from, to, target, route, whose: "this-board" });
          for (const item of found.items) {
            const type = item.kind === "setting" && item.to && indexOf(to).settings.get(item.to.key)?.type;
            const given = [...(item.kind === "setting" && item.to ? [item.to] : []), ...item.choices].flatMap((each) =>
              each.value === undefined ? [] : [each.value],
            );
            if (type) expect([item.id, given.filter((value) => !isOfKind(value, type))]).toEqual([item.id, []]);
            // where no value can arrive, a person is asked
            if (item.kind === "setting" && item.outcome === "your-call" && !item.to)
              expect(item.choices.length).toBeGreaterThan(0);
          }
        }
      }),
      { numRuns: 400 },
    );
  });
});
