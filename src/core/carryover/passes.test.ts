import fc from "fast-check";
import type { Wants } from "@/core/catalog";
import type { SettingEntry, Value } from "@/core/config";
import { passesOf, type Pass } from "@/core/carryover/passes";
import { passesIn, scriptOf } from "@/core/carryover/script";
import { writerFor } from "@/core/carryover/writer";
import { checkDocument } from "@/core/catalog";
import {
  madeCatalogue,
  nextRelease,
  releaseIn,
  setting,
  wholeRelease,
  writtenValues,
} from "../../../tests/support/made";
import { statementIdiom } from "../../../tests/support/workshop";

const KEYS = ["a", "b", "c", "d", "e", "f"] as const;
const ON = { switch: true } as const;

interface Drawn {
  readonly wants: readonly (Wants | undefined)[];
  readonly defaults: readonly boolean[];
  readonly values: readonly boolean[];
  readonly table: Wants | undefined;
  readonly inProfile: Wants | undefined;
  readonly deep: number;
}

const wantsAmong = (keys: readonly string[]) =>
  keys.length === 0
    ? fc.constant(undefined)
    : fc.option(
        fc.record(
          { key: fc.constantFrom(...keys), is: fc.boolean(), sinceStart: fc.boolean() },
          { requiredKeys: ["key", "is"] },
        ),
        { nil: undefined },
      );

/** Six switches of which each may want one before it, a table and a value of a profile that may want one of them. */
const drawn: fc.Arbitrary<Drawn> = fc.record({
  wants: fc.tuple(...KEYS.map((_, i) => wantsAmong(KEYS.slice(0, i)))),
  defaults: fc.tuple(...KEYS.map(() => fc.boolean())),
  values: fc.tuple(...KEYS.map(() => fc.boolean())),
  table: wantsAmong(KEYS),
  inProfile: wantsAmong(KEYS),
  deep: fc.integer({ min: 0, max: 9 }),
});

const wanting = (wants: Wants | undefined) => (wants ? { wants } : {});

function releaseOf({ wants, defaults, table, inProfile }: Drawn) {
  const settings = KEYS.map((key, i) => setting(key, ON, defaults[i] ?? false, wanting(wants[i])));
  const deep = setting("deep", { number: { min: 0, max: 9, step: 1 } }, 3, { scope: "tune", ...wanting(inProfile) });
  const lamps = {
    ...{ name: "lamps", title: "Lamp", area: "lights", maxRows: 4, rows: [{ key: "1", cells: { lit: true } }] },
    keys: [{ name: "lamp", title: "Lamp", type: { number: { min: 1, max: 4, step: 1 } }, default: 1 }],
    columns: [{ name: "lit", title: "Lit", type: ON, default: false }],
    ...wanting(table),
  };
  // settings want what is defined after them as well
  const document = wholeRelease("five-1", [deep, ...settings.toReversed()], {
    tables: [lamps],
    profiles: [{ kind: "tune", title: "Tune", count: 2 }],
  });
  return releaseIn(madeCatalogue(document), "five-1");
}

const configurationOf = ({ values, deep }: Drawn) =>
  writtenValues(
    { ...Object.fromEntries(KEYS.map((key, i) => [key, values[i] ?? false])), "tune 1/deep": deep, "tune 2/deep": 3 },
    { rows: [{ table: "lamps", key: "2", cells: { lit: true }, line: 1 }], active: { tune: 1 } },
  );

/** A console that knows only this: what something wants has to be so, now or since it started. */
function play(passes: readonly Pass[], { wants, defaults, table, inProfile }: Drawn) {
  const now = new Map<string, Value>(KEYS.map((key, i) => [key, defaults[i] ?? false]));
  const held = new Map<string, Value>([
    ["tune 1/deep", 3],
    ["tune 2/deep", 3],
  ]);
  // how it stood when it started last, nobody knows
  let begun = new Map<string, Value>();
  const refused: string[] = [];
  const filled: string[] = [];
  const ask = (name: string, need: Wants | undefined) => {
    const so = need === undefined || (need.sinceStart ? begun : now).get(need.key) === need.is;
    if (!so) refused.push(name);
    return so;
  };
  const set = ({ scope, key, value }: SettingEntry) => {
    if (scope !== "system" && ask(key, inProfile)) held.set(`${scope}/${key}`, value);
    if (scope === "system" && ask(key, wants[KEYS.indexOf(key as "a")])) now.set(key, value);
  };
  for (const pass of passes) {
    for (const sending of pass) {
      if (sending.kind === "values") sending.entries.forEach(set);
      if (sending.kind === "table" && ask(sending.table.name, table)) filled.push(sending.table.name);
    }
    begun = new Map(now);
  }
  return { now, held, refused, filled };
}

describe("the order of a restore", () => {
  it("whatever wants what: nothing is refused, and the board ends as it was to", () => {
    fc.assert(
      fc.property(drawn, (each) => {
        const end = play(passesOf({ configuration: configurationOf(each), lines: [] }, releaseOf(each)), each);
        expect(end.refused).toEqual([]);
        expect(Object.fromEntries(end.now)).toEqual(
          Object.fromEntries(KEYS.map((key, i) => [key, each.values[i] ?? false])),
        );
        expect([end.held.get("tune 1/deep"), end.held.get("tune 2/deep")]).toEqual([each.deep, 3]);
        expect(end.filled).toEqual(["lamps"]);
      }),
      { numRuns: 400 },
    );
  });

  it("without wants there is one pass; a start in between is asked for only where something is sent that needs it", () => {
    fc.assert(
      fc.property(drawn, (each) => {
        const needs = [...each.wants, each.table, each.inProfile].some((wants) => wants?.sinceStart === true);
        if (!needs)
          expect(passesOf({ configuration: configurationOf(each), lines: [] }, releaseOf(each))).toHaveLength(1);
      }),
    );
  });

  it("the script says which lines belong together, and their anchors stay inside of them", () => {
    fc.assert(
      fc.property(drawn, (each) => {
        const release = releaseOf(each);
        const script = scriptOf(
          { configuration: configurationOf(each), lines: [] },
          release,
          writerFor(release, statementIdiom()),
        );
        const passes = passesIn(script);
        expect(passes).toHaveLength(passesOf({ configuration: configurationOf(each), lines: [] }, release).length);
        expect(passes.flatMap(({ lines }) => lines.map(({ text }) => text))).toEqual(script.map(({ text }) => text));
        for (const { lines } of passes)
          lines.forEach(({ anchor }, i) => expect([anchor >= 0, anchor <= i]).toEqual([true, true]));
        // each leaves the profiles as they shall be active
        for (const { lines } of passes) expect(lines.at(-1)?.text).toBe("use tune 1");
      }),
      { numRuns: 60 },
    );
  });
});

describe("what a release says of its order", () => {
  const refusalOf = (...settings: object[]) => {
    const made = checkDocument(structuredClone(wholeRelease("five-1", settings as never)));
    if (!made.ok) return made.problem.code;
    try {
      madeCatalogue(wholeRelease("five-1", settings));
    } catch (error) {
      return (error as Error).message;
    }
    return "taken";
  };

  it("is refused where it can never be so: no such setting, one of a profile, a value that it does not take, a circle", () => {
    const wants = (key: string, is: Value = true) => ({ wants: { key, is } });
    expect(refusalOf(setting("a", ON, false, wants("x")))).toContain("no setting of the system");
    expect(refusalOf(setting("a", ON, false, wants("b")), setting("b", ON, false, { scope: "tune" }))).not.toBe(
      "taken",
    );
    expect(refusalOf(setting("a", ON, false, wants("b", 3)), setting("b", ON, false))).toContain("can never be so");
    expect(refusalOf(setting("a", ON, false, wants("b")), setting("b", ON, false, wants("a")))).toContain(
      "waits for itself",
    );
    expect(refusalOf(setting("a", ON, false, wants("b")), setting("b", ON, false))).toBe("taken");
  });

  it("goes along with its passages: the wanted setting under its new name, and nothing where it has ended", () => {
    const first = wholeRelease("five-1", [
      setting("a", ON, false, { wants: { key: "b", is: true } }),
      setting("b", ON, false),
    ]);
    const renamed = nextRelease("five-2", "five-1", [{ rule: "rename", key: "b", to: "better" }]);
    const ended = nextRelease("five-3", "five-2", [{ rule: "retire", key: "better", why: "Not any more." }]);
    const catalogue = madeCatalogue(first, renamed, ended);
    const wantsIn = (id: string) => releaseIn(catalogue, id).settings.find(({ key }) => key === "a")?.wants;
    expect([wantsIn("five-1"), wantsIn("five-2"), wantsIn("five-3")]).toEqual([
      { key: "b", is: true },
      { key: "better", is: true },
      undefined,
    ]);
  });
});
