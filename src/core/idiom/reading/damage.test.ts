import { buf } from "crc-32";
import fc from "fast-check";
import { addressId, doubtsOf } from "@/core/config";
import { idiomOf } from "@/core/idiom/definition/definition";
import { readRecital } from "@/core/idiom/reading/recital";
import { defaultConfiguration, reciteLines } from "@/core/idiom/writing/write";
import { valueOf } from "@/core/problem";
import { configurations } from "../../../../tests/support/configurations";
import { damage, damages, lies, type Damage } from "../../../../tests/support/damage";
import { definitions, smallCatalogue } from "../../../../tests/support/idioms";
import { catalogue, release, statementIdiom } from "../../../../tests/support/workshop";

const RUNS = Number(process.env.SOAK ?? 600);
/** What the configurations of the demo's releases are drawn with; said when one of them fails. */
const SEED = Number(process.env.SEED ?? (process.env.SOAK === undefined ? 2026 : Date.now()));
const extents = fc.constantFrom("all" as const, "all" as const, "moved" as const);
const identity = { family: "Small", release: "1" };

const drawn = definitions.chain((definition) => {
  const language = smallCatalogue(definition);
  const any = configurations(language.release, identity);
  return fc.record({ language: fc.constant(language), told: any, other: any, extent: extents, hit: damages });
});

/** Releases of the demo world, one for each idiom and way of closing. */
const DEMO = ["heddle-19", "heddle-22", "weft-9", "treadle-71", "bobbin-41"].map((id) => {
  const of = release(id);
  const document = catalogue().idioms.get(of.idiom);
  const target = of.targets[0]?.id;
  if (!document || target === undefined) throw new Error(id);
  return {
    language: { release: of, idiom: idiomOf(document), catalogue: catalogue() },
    configurations: configurations(of, { family: of.family, release: of.version, target }),
  };
});

function keepsItsWord(...[told, extent, text, language, hit]: [...Parameters<typeof lies>, Damage]): void {
  const found = lies(told, extent, text, language);
  if (found.length > 0)
    throw new Error(
      [
        `${language.release.id}, ${extent}: ${JSON.stringify(hit)} (SEED=${SEED})`,
        ...found.slice(0, 5),
        ...text.flatMap((line, i) =>
          text.slice(Math.max(0, i - 3), i + 4).some((near) => near.hurt)
            ? [`${line.hurt ? "!" : " "} ${i + 1}: ${line.text}`]
            : [],
        ),
      ].join("\n"),
    );
}

describe("case C75: damage to a line changes what comes from that line, and nothing else, or says so", () => {
  it("in any language, of any configuration", () => {
    fc.assert(
      fc.property(drawn, ({ language, told, other, extent, hit }) => {
        const { release: of, idiom } = language;
        const lines = reciteLines(told, of, idiom, extent);
        const theirs = reciteLines(other, of, idiom, extent);
        keepsItsWord(told, extent, damage(lines, theirs, hit), language, hit);
      }),
      { numRuns: RUNS, endOnFailure: true },
    );
  }, 3_600_000);

  it.each(DEMO)(
    "in the language of $language.release.id",
    ({ language, configurations: any }) => {
      const { release: of, idiom } = language;
      const told = fc.sample(any, { numRuns: 4, seed: SEED });
      const which = fc.nat(told.length - 1);
      const written = new Map(
        told.flatMap((each) =>
          (["all", "moved"] as const).map((e) => [`${told.indexOf(each)} ${e}`, reciteLines(each, of, idiom, e)]),
        ),
      );
      fc.assert(
        fc.property(which, which, extents, damages, (one, two, extent, hit) => {
          const mine = told[one];
          const lines = written.get(`${one} ${extent}`);
          const theirs = written.get(`${two} ${extent}`);
          if (mine && lines && theirs) keepsItsWord(mine, extent, damage(lines, theirs, hit), language, hit);
        }),
        { numRuns: Math.ceil(RUNS / 10), endOnFailure: true },
      );
    },
    3_600_000,
  );
});

describe("what is in doubt", () => {
  const heddle = release("heddle-19");
  const document = catalogue().idioms.get(heddle.idiom);
  if (!document) throw new Error("no early idiom");
  const early = idiomOf(document);
  const told = defaultConfiguration(heddle, "CSLATE", { family: "Heddle", release: "19", target: "CSLATE" });
  const push = (scope: string) => (scope === "tune 2" ? 61 : 45);
  const lines = reciteLines(
    { ...told, settings: told.settings.map((s) => (s.key === "roll.push" ? { ...s, value: push(s.scope) } : s)) },
    heddle,
    early,
    "all",
  );
  const read = (texts: readonly string[]) => valueOf(readRecital(`${texts.join("\n")}\n`, early, catalogue()));
  const garbled = (what: string, now: string) => lines.map((line) => (line === what ? now : line));

  it("case C93: a line that chose a profile cannot be read: what follows is in doubt, even if only one place is left for it", () => {
    const { configuration, completeness } = read(garbled("use tune 2", "us\u0007 tune 2"));
    const pushes = configuration.settings.filter(({ key }) => key === "roll.push");
    expect(pushes.map((entry) => [addressId(entry), entry.value])).toEqual(
      [1, 3, 4, 5].map((n) => [`tune ${n}/roll.push`, 45]),
    );
    const doubt = doubtsOf(configuration).values.find((each) => addressId(each) === "tune 2/roll.push");
    expect(doubt).toMatchObject({ cause: "misplaced", raw: expect.stringContaining("61") as string });
    expect(completeness.verdict).toBe("incomplete");
    expect(completeness.findings.find(({ look }) => look)?.text).toBe("1 line was not understood and kept as they are");
  });

  it("case C93: a value that cannot be read and stands again further down is in doubt, whichever comes first", () => {
    const at = lines.findIndex((line) => line.startsWith("put gyro.smoothing "));
    const odd = "put gyro.smoothing 9\u00070";
    for (const texts of [
      [...lines.slice(0, at), odd, ...lines.slice(at)],
      [...lines.slice(0, at + 1), odd, ...lines.slice(at + 1)],
    ]) {
      const { configuration, completeness } = read(texts);
      expect(configuration.settings.filter(({ key }) => key === "gyro.smoothing")).toEqual([]);
      expect(doubtsOf(configuration).values).toMatchObject([{ key: "gyro.smoothing", cause: "unread" }]);
      expect(completeness.verdict).toBe("incomplete");
    }
  });

  it("a row that stands twice and says two things is neither, whichever comes first and however far apart", () => {
    const at = lines.findIndex((line) => line.startsWith("row ports 1 "));
    const row = lines[at] ?? "";
    const other = row.replace(/[0-9]+$/, "9600");
    expect([row === "", other === row]).toEqual([false, false]);
    const same = read(lines).configuration.rows;
    for (const texts of [
      lines.toSpliced(at, 0, other),
      lines.toSpliced(at + 1, 0, other),
      [...lines.slice(0, -3), other, ...lines.slice(-3)],
    ]) {
      const { configuration, completeness } = read(texts);
      const certain = new Set(configuration.rows.map((each) => `${each.table} ${each.key}`));
      const gone = same.filter((each) => !certain.has(`${each.table} ${each.key}`));
      expect(gone).toHaveLength(1);
      expect(doubtsOf(configuration).rows).toMatchObject([{ table: gone[0]?.table, key: gone[0]?.key }]);
      expect(completeness.verdict).toBe("incomplete");
    }
  });

  it("case C93: cut off at any character, the last line says nothing for certain", () => {
    const from = lines.findIndex((line) => line.startsWith("put gyro.smoothing "));
    const before = lines.slice(0, from);
    const own = lines[from] ?? "";
    for (let kept = 1; kept <= own.length; kept++) {
      const cut = [...before, own.slice(0, kept)].join("\n");
      const { configuration } = valueOf(readRecital(cut, early, catalogue()));
      expect([kept, configuration.settings.filter(({ key }) => key === "gyro.smoothing")]).toEqual([kept, []]);
    }
  });

  it("a stretch of lines is gone and nothing that is left looks odd: what may be of either profile is in doubt", () => {
    // from the middle of one profile to the middle of the next, at the ends of lines
    const [from, to] = [lines.indexOf("put roll.push 45"), lines.indexOf("put roll.push 61")];
    const { configuration, completeness } = read(lines.filter((_, i) => i <= from || i > to));
    const doubts = doubtsOf(configuration).values;
    const certain = configuration.settings.filter(({ scope }) => scope === "tune 1" || scope === "tune 2");
    expect(certain).toEqual([]);
    expect(doubts.find((each) => addressId(each) === "tune 1/roll.push")).toMatchObject({
      cause: "misplaced",
      value: 45,
    });
    expect(completeness.verdict).toBe("incomplete");
  });

  it("the same before the last profile, which is the active one: its choice at the end chose nothing before", () => {
    const active = reciteLines({ ...told, active: { ...told.active, tune: 5 } }, heddle, early, "all");
    const [from, to] = [active.indexOf("use tune 4") + 5, active.indexOf("use tune 5") + 5];
    const { configuration } = read(active.filter((_, i) => i <= from || i > to));
    const certain = configuration.settings.filter(({ scope }) => scope === "tune 4" || scope === "tune 5");
    expect(certain).toEqual([]);
    expect(configuration.settings.some(({ scope }) => scope === "tune 3")).toBe(true);
  });

  it("two such lines: the profiles that they chose are in doubt, the others are not; the judgement names them", () => {
    const { configuration, completeness } = read(
      garbled("use tune 2", "us?").map((line) => (line === "use tune 4" ? "???" : line)),
    );
    const open = doubtsOf(configuration).values.filter(({ key }) => key === "roll.push");
    expect(open.map((doubt) => [doubt.scope, doubt.cause])).toEqual([
      ["tune 2", "misplaced"],
      ["tune 4", "misplaced"],
    ]);
    expect(configuration.settings.some((entry) => addressId(entry) === "tune 3/roll.push")).toBe(true);
    expect(completeness.verdict).toBe("incomplete");
    expect(completeness.findings.find(({ text }) => text.startsWith("In doubt"))?.text).toMatch(
      /tune 2, tune \(\d+\), tune 4, tune \(\d+\)/,
    );
  });

  it("case C76: a value that cannot be read is unknown, with its line; not missing, and no default", () => {
    const at = lines.indexOf("put roll.push 45", lines.indexOf("use tune 3"));
    const { configuration, completeness } = read(lines.with(at, "put roll.push 4S"));
    const [doubt, ...rest] = doubtsOf(configuration).values;
    expect([doubt?.scope, doubt?.key, doubt?.cause, doubt?.raw, rest.length]).toEqual([
      "tune 3",
      "roll.push",
      "unread",
      "put roll.push 4S",
      0,
    ]);
    expect(completeness.findings.find(({ text }) => text.startsWith("Not readable"))).toMatchObject({
      against: true,
      line: doubt?.line,
      text: "Not readable: 1 value of tune 3, tune (1). “4S” is not a number",
    });
  });

  it("a whole read-out with a fitting check is taken at its word, whatever it does not understand (case C10)", () => {
    const idiom = statementIdiom();
    const now = release("heddle-22");
    const plain = reciteLines(
      defaultConfiguration(now, "CSLATE-B", { family: "Heddle", release: "22", target: "CSLATE-B" }),
      now,
      idiom,
      "all",
    ).slice(0, -1);
    const custom = [...plain.slice(0, 40), "gimbal says hello", ...plain.slice(40)];
    const crc = (buf(new TextEncoder().encode(`${custom.join("\n")}\n`)) >>> 0).toString(16).padStart(8, "0");
    const text = [...custom, `;; that is all, ${custom.length} lines, check ${crc}`].join("\n");
    const { configuration, completeness } = valueOf(readRecital(text, idiom, catalogue()));
    expect([completeness.verdict, configuration.doubts, configuration.unknown.length]).toEqual([
      "complete",
      undefined,
      1,
    ]);
  });
});
