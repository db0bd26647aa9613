import fc from "fast-check";
import { buildCatalogue, checkDocument, defaultOf, scopesOf, type Release } from "@/core/catalog";
import { compareTwo, comparisonSentence, driftSentence, fleetDrift, vectorOf } from "@/core/compare";
import { showValue, type Configuration, type RowDoubt, type Value, type ValueDoubt } from "@/core/config";
import { valueOf } from "@/core/problem";
import { configurations } from "../../../tests/support/configurations";
import { SMALL_RELEASE } from "../../../tests/support/idioms";
import { catalogue as demo } from "../../../tests/support/workshop";

const idiom = demo().idioms.get("statement");
const large = valueOf(
  buildCatalogue([
    ...(idiom ? [idiom] : []),
    valueOf(checkDocument(structuredClone({ ...SMALL_RELEASE, idiom: "statement" }))),
  ]),
);
const [small] = large.releases.values();
if (!small) throw new Error("no release");
const release: Release = small;
const IDENTITY = { family: "Small", release: "1", target: "T1", chipId: "A-1" };

interface Side {
  readonly configuration: Configuration;
  readonly says: (scope: string, key: string) => Value | undefined;
}

/** A configuration of which some values are not written, some are in doubt, and a line or two nobody understands. */
const side: fc.Arbitrary<Side> = fc
  .record({
    whole: configurations(release, IDENTITY),
    unwritten: fc.array(fc.nat(40), { maxLength: 8 }),
    doubted: fc.array(fc.nat(40), { maxLength: 3 }),
    rowDoubt: fc.constantFrom<readonly RowDoubt[]>(
      [],
      [],
      [{ table: "sockets", cause: "misplaced", reason: "Rows are mixed", raw: "", line: 4 }],
    ),
    activeDoubt: fc.subarray(["tune", "pack"], { maxLength: 1 }),
    lines: fc.subarray(["odd one", "odd two", `long ${"x".repeat(120)}`]),
  })
  .map(({ whole, unwritten, doubted, rowDoubt, activeDoubt, lines }) => {
    const hit = (list: readonly number[], i: number) => list.some((n) => n % whole.settings.length === i);
    const doubts: ValueDoubt[] = whole.settings.flatMap(({ scope, key }, i) =>
      hit(doubted, i) ? [{ scope, key, cause: "misplaced", reason: "It was lost", raw: "", line: i + 1 }] : [],
    );
    const settings = whole.settings.flatMap((entry, i) =>
      hit(unwritten, i) || hit(doubted, i) ? [] : [{ ...entry, line: i + 1 }],
    );
    const says = (scope: string, key: string) => {
      if (doubts.some((doubt) => doubt.scope === scope && doubt.key === key)) return undefined;
      const setting = release.settings.find((each) => each.key === key);
      const entry = settings.find((each) => each.scope === scope && each.key === key);
      return entry?.value ?? (setting && defaultOf(setting, undefined));
    };
    const open = doubts.length + rowDoubt.length + activeDoubt.length > 0;
    const configuration: Configuration = {
      ...whole,
      settings,
      rows: rowDoubt.length > 0 ? [] : whole.rows.map((row, i) => ({ ...row, line: 200 + i })),
      begun: ["sockets"],
      unknown: lines.map((text, i) => ({ line: 900 + i, text, scope: "system", reason: "Not understood" })),
      ...(open ? { doubts: { values: doubts, rows: rowDoubt, active: activeDoubt } } : {}),
    };
    return { configuration, says };
  });

const same = (a: Value | undefined, b: Value | undefined) =>
  JSON.stringify(Array.isArray(a) ? [...(a as string[])].sort() : a) ===
  JSON.stringify(Array.isArray(b) ? [...(b as string[])].sort() : b);
const places = release.settings.flatMap((setting) => scopesOf(release, setting).map((scope) => ({ setting, scope })));
const rowsIn = ({ rows }: Configuration) => new Map(rows.map((row) => [`row ${row.table}/${row.key}`, row.cells]));
const rowDoubted = ({ doubts }: Configuration) => (doubts?.rows.length ?? 0) > 0;
const cellsAlike = (a: Readonly<Record<string, Value>> | undefined, b: typeof a) =>
  a !== undefined && b !== undefined && ["use", "rate"].every((name) => same(a[name], b[name]));
const activeOf = ({ active, doubts }: Configuration, kind: string) =>
  doubts?.active.includes(kind) ? undefined : (active[kind] ?? 1);

/** What two sides differ in, worked out place by place without the comparison's means. */
function told(mine: Side, theirs: Side): { off: string[]; unsure: string[] } {
  const [off, unsure]: [string[], string[]] = [[], []];
  for (const { setting, scope } of places) {
    const [a, b] = [mine.says(scope, setting.key), theirs.says(scope, setting.key)];
    const id = `${scope}/${setting.key}`;
    if (a === undefined || b === undefined) unsure.push(id);
    else if (!same(a, b)) off.push(id);
  }
  const [here, there] = [rowsIn(mine.configuration), rowsIn(theirs.configuration)];
  for (const id of new Set([...here.keys(), ...there.keys()]))
    if (rowDoubted(mine.configuration) || rowDoubted(theirs.configuration)) unsure.push(id);
    else if (!cellsAlike(here.get(id), there.get(id))) off.push(id);
  for (const kind of ["tune", "pack"]) {
    const [a, b] = [activeOf(mine.configuration, kind), activeOf(theirs.configuration, kind)];
    if (a === undefined || b === undefined) unsure.push(`active ${kind}`);
    else if (a !== b) off.push(`active ${kind}`);
  }
  const texts = ({ configuration }: Side) => configuration.unknown.map(({ text }) => text);
  for (const [own, other, name] of [
    [mine, theirs, "left"],
    [theirs, mine, "right"],
  ] as const)
    for (const { text, line } of own.configuration.unknown)
      if (!texts(other).includes(text)) off.push(`${name} line ${line}`);
  return { off: off.sort(), unsure: unsure.sort() };
}

const plural = (n: number, one: string, many: string) => (n === 1 ? one : many);

describe("comparisons, held against what is worked out place by place", () => {
  it("two sides of one release", () => {
    fc.assert(
      fc.property(side, side, (mine, theirs) => {
        const found = valueOf(
          compareTwo(
            { configuration: mine.configuration, release },
            { configuration: theirs.configuration, release },
            large,
          ),
        );
        const { off, unsure } = told(mine, theirs);
        const all = [...found.differences, ...found.personal];
        expect([all.map(({ id }) => id).sort(), found.unsure.map(({ id }) => id).sort()]).toEqual([off, unsure]);
        expect(found.behaviour).toEqual([]);
        for (const each of [...all, ...found.unsure]) {
          const place = places.find(({ setting, scope }) => `${scope}/${setting.key}` === each.id);
          if (place) {
            const { setting, scope } = place;
            const [a, b] = [mine.says(scope, setting.key), theirs.says(scope, setting.key)];
            const shown = (value: Value | undefined) =>
              value === undefined ? "not known" : showValue(value, setting.type);
            expect([each.left?.shown, each.right?.shown, each.flies]).toEqual([
              shown(a),
              shown(b),
              each.cause !== "unsure" ? setting.flies : each.flies,
            ]);
            const entry = mine.configuration.settings.find((e) => e.scope === scope && e.key === setting.key);
            if (a !== undefined)
              expect([each.left?.explicit, each.left?.line]).toEqual([entry !== undefined, entry?.line ?? 0]);
            expect(each.cause).toBe(a === undefined || b === undefined ? "unsure" : "set");
            expect(each.why).toEqual(a === undefined || b === undefined ? ["It was lost"] : []);
          } else if (each.kind === "row" && each.cause !== "unsure") {
            const [a, b] = [rowsIn(mine.configuration).get(each.id), rowsIn(theirs.configuration).get(each.id)];
            expect(each.cause).toBe(a === undefined ? "only-right" : b === undefined ? "only-left" : "set");
            // only the cells that are not the same are told
            const odd = ["use", "rate"].filter((name) => !a || !b || !same(a[name], b[name]));
            const text = (cells: typeof a) =>
              cells &&
              odd
                .map((name) => (name === "use" ? `use ${String(cells.use)}` : `rate ${String(cells.rate)} Hz`))
                .join(", ");
            expect([each.left?.shown, each.right?.shown]).toEqual([text(a), text(b)]);
          } else if (each.kind === "line") {
            expect([each.title.length <= 80, each.why]).toEqual([true, ["Not understood"]]);
            expect((each.left ?? each.right)?.value).toMatch(/^(odd one|odd two|long x{120})$/);
          }
        }
        const keys = new Set([...rowsIn(mine.configuration).keys(), ...rowsIn(theirs.configuration).keys()]);
        const values = unsure.filter((id) => !id.startsWith("active ")).length;
        expect(found.compared).toBe(places.length + keys.size - values);
        const flies = found.differences.filter((each) => each.flies).length;
        const n = found.differences.length;
        const first =
          n === 0
            ? `All ${found.compared} values are alike.`
            : `${n} of ${found.compared} values ${plural(n, "differs", "differ")}; ${flies === 0 ? "none changes" : `${flies} ${plural(flies, "changes", "change")}`} how it flies.`;
        const last =
          unsure.length === 0 ? "" : ` ${unsure.length} ${plural(unsure.length, "value", "values")} cannot be told.`;
        expect(comparisonSentence(found)).toBe(first + last);
      }),
      { numRuns: 250 },
    );
  });

  it("a fleet against its standard: each member's cells, and how many stand off in each column", () => {
    fc.assert(
      fc.property(side, fc.array(side, { minLength: 1, maxLength: 4 }), (standard, members) => {
        const certain = { ...standard.configuration };
        delete (certain as { doubts?: unknown }).doubts;
        const wanted: Side = {
          configuration: certain,
          says: (scope, key) => {
            const setting = release.settings.find((each) => each.key === key);
            const entry = certain.settings.find((each) => each.scope === scope && each.key === key);
            return entry?.value ?? (setting && defaultOf(setting, undefined));
          },
        };
        const fleet = members.map(({ configuration }, i) => ({
          tag: `T${i}`,
          vector: vectorOf(configuration, release),
        }));
        const drift = fleetDrift({ configuration: certain, release }, fleet, large);
        const counts = new Map<string, number>();
        for (const [i, row] of drift.rows.entries()) {
          const member = members[i] ?? wanted;
          const expected = told(member, wanted);
          const mine = (ids: readonly string[]) =>
            ids.filter((id) => {
              const place = places.find(({ setting, scope }) => `${scope}/${setting.key}` === id);
              return (
                !id.includes(" line ") &&
                (!place || (place.setting.belongsTo === "type" && !place.setting.housekeeping))
              );
            });
          const tell = (unsure: boolean) =>
            row.cells.filter((cell) => (cell.unsure === true) === unsure).map((cell) => cell.column);
          const doubtful = new Set(mine(expected.unsure));
          expect(tell(false).sort()).toEqual(mine(expected.off));
          expect(tell(true).sort()).toEqual([...doubtful].sort());
          for (const cell of row.cells) {
            counts.set(cell.column, (counts.get(cell.column) ?? 0) + 1);
            const place = places.find(({ setting, scope }) => `${scope}/${setting.key}` === cell.column);
            if (!place) continue;
            const { setting, scope } = place;
            const value = member.says(scope, setting.key);
            expect(cell.shown).toBe(value === undefined ? "not known" : showValue(value, setting.type));
            expect(cell.standard).toBe(showValue(wanted.says(scope, setting.key) ?? "", setting.type));
            expect(cell.flies).toBe(value !== undefined && setting.flies);
            expect(cell.byDefault === true).toBe(value !== undefined && same(value, defaultOf(setting, undefined)));
          }
        }
        expect(new Map(drift.columns.map(({ id, count }) => [id, count]))).toEqual(counts);
        const off = drift.rows.filter(({ cells }) => cells.some(({ unsure }) => unsure !== true));
        const flying = off.filter(({ cells }) => cells.some(({ flies }) => flies)).length;
        const open = drift.rows.filter(({ cells }) => cells.some(({ unsure }) => unsure === true)).length;
        const head =
          off.length === 0
            ? `All ${members.length} of type Reed are as their standard.`
            : `${off.length} of ${members.length} of type Reed ${plural(off.length, "stands", "stand")} off their standard; ${flying === 0 ? "none flies" : flying === 1 ? "one flies" : `${flying} fly`} differently.`;
        expect(driftSentence("Reed", drift)).toBe(head + (open === 0 ? "" : ` Of ${open} not every value is known.`));
      }),
      { numRuns: 150 },
    );
  });
});
