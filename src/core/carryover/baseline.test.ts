import fc from "fast-check";
import { AREAS } from "@/core/config";
import { defaultConfiguration } from "@/core/idiom";
import {
  baselineDifferences,
  baselinePlan,
  onBoard,
  PART_FROM,
  planUpdate,
  settlePlan,
  withStarter,
  type Parts,
} from "@/core/carryover";
import { indexOf } from "@/core/catalog";
import { valueOf } from "@/core/problem";
import { catalogue, release } from "../../../tests/support/workshop";
import { worn } from "../../../tests/support/worn";

const TARGET = "CSLATE-B";
const to = release("heddle-22");
const identity = { target: TARGET };
const plain = { configuration: defaultConfiguration(to, TARGET, identity), release: to };
const standard = { configuration: worn(to, identity, 3), release: to };
const older = { configuration: worn(release("heddle-19"), identity, 5), release: release("heddle-19") };
const board = { configuration: worn(to, identity), release: to };

const own = valueOf(planUpdate(board, to, TARGET, catalogue()));
const bases = [plain, standard, older].map((from) => valueOf(planUpdate(from, to, TARGET, catalogue(), "another")));
const drawnParts: fc.Arbitrary<Parts> = fc.dictionary(fc.constantFrom(...AREAS), fc.constantFrom(...PART_FROM));

describe("a baseline's plan", () => {
  it("has each place of the release once, from where the choice of parts says, over drawn choices", () => {
    fc.assert(
      fc.property(fc.constantFrom(...bases), drawnParts, (base, parts) => {
        const plan = baselinePlan(base, own, { parts, to });
        const ids = plan.items.map(({ id }) => id);
        expect(new Set(ids).size).toBe(ids.length);
        for (const item of plan.items) {
          if (item.kind === "line") continue;
          const from = parts[item.area];
          const belongs =
            item.kind === "row"
              ? indexOf(to).tables.get(item.table)?.belongsTo
              : indexOf(to).settings.get(item.to?.key ?? item.id.split("/").at(-1) ?? "")?.belongsTo;
          const ofBoard = from === undefined ? belongs !== undefined && belongs !== "type" : from === "board";
          expect([item.id, item.ofBoard === true]).toEqual([item.id, ofBoard]);
        }
        // lines that nobody understands are a person's to decide, wherever they stood
        expect(plan.items.filter(({ kind }) => kind === "line").length).toBe(
          [...base.items, ...own.items].filter(({ kind }) => kind === "line").length,
        );
      }),
      { numRuns: 60 },
    );
  });

  it("case C90: what it changes on this board is what the bay foretold, over drawn choices", () => {
    fc.assert(
      fc.property(fc.constantFrom(...bases), drawnParts, (base, parts) => {
        const told = baselineDifferences(base, own, to).reduce((sum, { area, shared, own: mine }) => {
          const from = parts[area];
          return sum + (from === "board" ? 0 : from === "baseline" ? shared + mine : shared);
        }, 0);
        const held = onBoard(baselinePlan(base, own, { parts, to }), own, {}, to);
        expect(held.changes).toBe(told);
        for (const { now, then, same } of Object.values(held.places)) if (!same) expect(now).not.toBe(then);
      }),
      { numRuns: 60 },
    );
  });

  it("all from the board is the board's own plan; all from the baseline is the baseline's", () => {
    const all = (from: "board" | "baseline"): Parts => Object.fromEntries(AREAS.map((area) => [area, from]));
    const places = (items: typeof own.items) =>
      items
        .filter(({ kind }) => kind !== "line")
        .map((item) => [item.id, item.kind === "line" ? "" : (item.to ?? null)]);
    for (const base of bases) {
      expect(places(baselinePlan(base, own, { parts: all("board"), to }).items)).toEqual(places(own.items));
      expect(places(baselinePlan(base, own, { parts: all("baseline"), to }).items)).toEqual(places(base.items));
    }
  });

  it("whatever is chosen, every row stands in one place, and a receiver that stood elsewhere is somewhere or was taken off", () => {
    const RECEIVER = { use: "receiver" } as const;
    const wired = fc.uniqueArray(fc.constantFrom("1", "2", "3", "4"), { minLength: 1, maxLength: 3 });
    fc.assert(
      fc.property(wired, wired, fc.infiniteStream(fc.nat(5)), (mine, theirs, picks) => {
        const withRows = (keys: readonly string[]) => ({
          release: to,
          configuration: {
            ...plain.configuration,
            rows: [
              ...plain.configuration.rows.filter(({ table }) => table !== "ports"),
              ...keys.map((key, i) => ({
                table: "ports",
                key,
                cells: { use: i === 0 ? RECEIVER.use : "telemetry", speed: "115200" },
                line: 0,
              })),
            ],
          },
        });
        const plan = baselinePlan(
          valueOf(planUpdate(withRows(theirs), to, TARGET, catalogue(), "another")),
          valueOf(planUpdate(withRows(mine), to, TARGET, catalogue())),
          { parts: {}, to },
        );
        const asked = plan.items.filter(({ id, choices }) => id.startsWith("row ports/") && choices.length > 0);
        expect(asked.length > 0).toBe(
          mine[0] !== theirs[0] || mine.slice(1).some((key) => theirs.length > 1 && !theirs.slice(1).includes(key)),
        );
        const decisions = Object.fromEntries(
          plan.items.flatMap(({ id, choices }) => {
            const pick = choices[(picks.next().value ?? 0) % Math.max(1, choices.length)];
            return pick ? [[id, pick.id]] : [];
          }),
        );
        const settled = settlePlan(plan, decisions, to);
        // two choices may want one place: then it is said, and nothing is sent
        if (!settled.ok) return expect(settled.problem.code).toBe("plan-rows");
        const keys = settled.value.configuration.rows.filter(({ table }) => table === "ports").map(({ key }) => key);
        expect(new Set(keys).size).toBe(keys.length);
      }),
      { numRuns: 60 },
    );
  });

  it("can be settled by its first choices, into one value for each place", () => {
    for (const base of bases) {
      const plan = baselinePlan(base, own, { parts: { receiver: "baseline", tune: "board" }, to });
      const first = Object.fromEntries(
        plan.items.flatMap(({ id, choices: [choice] }) => (choice ? [[id, choice.id]] : [])),
      );
      const { configuration } = valueOf(settlePlan(plan, first, to));
      const places = configuration.settings.map(({ scope, key }) => `${scope}/${key}`);
      expect(new Set(places).size).toBe(places.length);
    }
  });
});

describe("what a baseline would change", () => {
  it("is nothing where the board holds it already, and each value that somebody moved where it does not", () => {
    const same = valueOf(planUpdate(plain, to, TARGET, catalogue()));
    expect(baselineDifferences(same, same, to)).toEqual([]);
    const moved = {
      ...plain.configuration,
      settings: plain.configuration.settings.map((entry) =>
        entry.key === "roll.push" && entry.scope === "tune 2"
          ? { ...entry, value: 61 }
          : entry.key === "gyro.zero.x"
            ? { ...entry, value: 0.5 }
            : entry,
      ),
    };
    const mine = valueOf(planUpdate({ configuration: moved, release: to }, to, TARGET, catalogue()));
    const found = baselineDifferences(same, mine, to);
    expect(found.find(({ area }) => area === "tune")).toEqual({ area: "tune", shared: 1, own: 0 });
    expect(found.find(({ area }) => area === "calibration")).toEqual({ area: "calibration", shared: 0, own: 1 });
    expect(found).toHaveLength(2);
  });

  it("a starter set lies over the defaults, value by value, and changes nothing else", () => {
    const starter = to.starters.find(({ name }) => name === "sedge-7");
    if (!starter) throw new Error("no starter set");
    const laid = withStarter(plain.configuration, starter);
    const changed = laid.settings.filter(({ value }, i) => value !== plain.configuration.settings[i]?.value);
    expect(changed.map(({ scope, key, value }) => ({ scope, key, value }))).toEqual(
      expect.arrayContaining([{ scope: "tune 1", key: "roll.push", value: 52 }]),
    );
    expect(changed.length).toBeLessThanOrEqual(starter.values.length);
  });
});

describe("what is kept place by place", () => {
  const base = valueOf(planUpdate(plain, to, TARGET, catalogue(), "another"));

  it("whatever places are kept: those stand as the board holds them, and every other one as without", () => {
    const ids = own.items.flatMap(({ id, kind }) => (kind === "setting" ? [id] : []));
    fc.assert(
      fc.property(fc.uniqueArray(fc.constantFrom(...ids), { maxLength: 6 }), fc.boolean(), (names, tune) => {
        const keep = [...names, ...(tune ? ["active tune"] : [])];
        const without = baselinePlan(base, own, { parts: {}, to });
        const plan = baselinePlan(base, own, { parts: {}, to, keep });
        const at = (from: typeof plan, id: string) => {
          const item = from.items.find((each) => each.id === id);
          return item?.kind === "setting" ? item.to?.value : undefined;
        };
        for (const id of ids) expect([id, at(plan, id)]).toEqual([id, at(names.includes(id) ? own : without, id)]);
        expect(plan.active.tune).toBe((tune ? own : base).active.tune);
      }),
      { numRuns: 60 },
    );
  });

  it("a place is called as the standard's release has it, whatever it is called on the board's", () => {
    const later = release("heddle-23");
    const target = later.targets.find(({ id }) => id === TARGET)?.id ?? TARGET;
    const standing = valueOf(planUpdate(plain, later, target, catalogue(), "another"));
    const held = defaultConfiguration(later, target, { target });
    const renamed = standing.items.flatMap((item) =>
      item.kind === "setting" && item.from && item.to && item.from.key !== item.to.key && item.choices.length === 0
        ? [{ before: `${item.from.scope}/${item.from.key}`, id: item.id }]
        : [],
    );
    expect(renamed.length).toBeGreaterThan(5);
    const mine = valueOf(planUpdate({ configuration: held, release: later }, later, target, catalogue()));
    for (const { before, id } of renamed) {
      const plan = baselinePlan(standing, mine, { parts: {}, to: later, keep: [before] });
      expect([before, plan.items.find((item) => item.id === id)?.ofBoard]).toEqual([before, true]);
    }
  });
});
