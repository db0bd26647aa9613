import fc from "fast-check";
import { addressId, limitValue, type Configuration, type Value, type ValueType } from "@/core/config";
import { scopesOf } from "@/core/catalog";
import { joinLines, quoteWord, splitLines, splitWords } from "@/core/idiom/reading/text";
import { readRecital } from "@/core/idiom/reading/recital";
import { defaultConfiguration, reciteLines } from "@/core/idiom/writing/write";
import { catalogue, release, statementIdiom } from "../../../../tests/support/workshop";

const idiom = statementIdiom();
const heddle = release("heddle-22");
const IDENTITY = {
  family: "Heddle",
  release: "22",
  builtOn: "2026-03-11",
  target: "CSLATE-B",
  board: "Corsley Slate",
  chipId: "4A17-0C22-91FE",
};
const whole = (): Configuration => defaultConfiguration(heddle, "CSLATE-B", IDENTITY);
const text = (extent: "all" | "active" | "moved" = "all", configuration = whole()) =>
  `${reciteLines(configuration, heddle, idiom, extent).join("\n")}\n`;
const read = (source: string) => {
  const recital = readRecital(source, idiom, catalogue());
  if (!recital.ok) throw new Error(JSON.stringify(recital.problem));
  return recital.value;
};

/** Any value that a setting of this type can hold. */
function valueArbitrary(type: ValueType): fc.Arbitrary<Value> {
  switch (type.kind) {
    case "number":
      return fc.double({ min: type.min, max: type.max, noNaN: true }).map((v) => limitValue(v, type) ?? type.min);
    case "switch":
      return fc.boolean();
    case "choice":
      return fc.constantFrom(...type.options);
    case "flags":
      return fc.subarray([...type.options]);
    case "text":
      return fc.string({ maxLength: type.maxLength, unit: "grapheme-ascii" }).filter((s) => s !== idiom.spelling.empty);
  }
}

const configurations: fc.Arbitrary<Configuration> = fc
  .tuple(
    ...heddle.settings.flatMap((setting) =>
      scopesOf(heddle, setting).map((scope) =>
        valueArbitrary(setting.type).map((value) => ({ scope, key: setting.key, value, raw: "", line: 0 })),
      ),
    ),
  )
  .map((settings) => ({ ...whole(), settings, active: { tune: 3, feel: 2, battery: 4 } }));

describe("lines and statements", () => {
  it("split and joined again, any text is the same to the byte", () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom("a", " ", "\n", "\r", '"', "\\", ";", "=") }),
        (any) => joinLines(splitLines(any)) === any,
      ),
    );
  });

  it("any word survives quoting", () => {
    fc.assert(
      fc.property(fc.string({ unit: "grapheme-ascii" }), (word) => splitWords(quoteWord(word, '"'), '"')?.[0] === word),
    );
  });
});

describe("a read-out", () => {
  it("text → configuration → the same text, for any values in any profile", () => {
    fc.assert(
      fc.property(configurations, (configuration) => {
        const source = text("all", configuration);
        const back = read(source);
        expect(back.completeness.verdict).toBe("complete");
        expect(text("all", back.configuration)).toBe(source);
      }),
      { numRuns: 40 },
    );
  });

  it("gives every value its line", () => {
    const recital = read(text());
    const entry = recital.configuration.settings.find((s) => addressId(s) === "tune 3/roll.push");
    expect(recital.lines[(entry?.line ?? 0) - 1]?.text).toBe("put roll.push 45");
  });

  it("case C01: only the active profiles: incomplete, and the missing ones are named", () => {
    const { completeness } = read(text("active"));
    expect(completeness.verdict).toBe("incomplete");
    expect(completeness.missingProfiles).toEqual([
      "tune 2",
      "tune 3",
      "tune 4",
      "tune 5",
      "feel 2",
      "battery 2",
      "battery 3",
      "battery 4",
    ]);
    expect(completeness.findings.filter((f) => f.against).map((f) => f.text)).toEqual([
      "Profiles are missing: tune 2, tune 3, tune 4, tune 5, feel 2, battery 2 and 2 more",
    ]);
  });

  it("case C02: cut off anywhere, it is never taken for whole, and says what is missing", () => {
    const lines = text().trimEnd().split("\n");
    for (let kept = 2; kept < lines.length; kept += 7) {
      const { completeness } = read(lines.slice(0, kept).join("\n"));
      expect({ kept, verdict: completeness.verdict }).toEqual({ kept, verdict: "incomplete" });
      expect(completeness.findings[0]?.text).toBe("The closing line is missing: the read-out was cut off");
    }
  });

  it("case C02: foreign text around, CRLF and a lost last line end do no harm and are said", () => {
    const around = `> recite all\nnoise from a terminal\n${text().trimEnd()}\n= so\nand more noise`;
    const { completeness, configuration } = read(around.replaceAll("\n", "\r\n").trimEnd());
    expect(completeness.verdict).toBe("complete");
    expect(completeness.findings.some((f) => f.text === "3 lines of other text around it")).toBe(true);
    expect(configuration.settings.length).toBe(whole().settings.length);
  });

  it("case C02: two read-outs in one text: the whole one is taken, and it is said that there are two", () => {
    const half = text().split("\n").slice(0, 60).join("\n");
    const { completeness, configuration } = read(`${half}\n${text()}`);
    expect(completeness.verdict).toBe("complete");
    expect(completeness.findings).toContainEqual(
      expect.objectContaining({ text: "The text holds 2 read-outs; this is one of them", look: true }),
    );
    expect(configuration.settings.length).toBe(whole().settings.length);
  });

  it("a changed line is found by the check, a missing one by the count", () => {
    const lines = text().trimEnd().split("\n");
    const changed = lines.map((line) => (line === "put loop.rate 4" ? "put loop.rate 5" : line));
    expect(read(changed.join("\n")).completeness.findings[1]?.text).toMatch(/^The check does not fit/);
    const missing = lines.filter((line) => line !== "put loop.rate 4");
    const { completeness } = read(missing.join("\n"));
    expect(completeness.verdict).toBe("incomplete");
    expect(completeness.missingSettings).toEqual(["system/loop.rate"]);
  });

  it("a table that does not begin is missing, and its rows are not known: no default stands in for it", () => {
    const lines = text().trimEnd().split("\n");
    const { completeness, configuration } = read(lines.filter((line) => !/^(clear|row) lights/.test(line)).join("\n"));
    expect(completeness.findings.find(({ text: says }) => says.startsWith("Tables are missing"))).toEqual({
      against: true,
      text: "Tables are missing: lights",
    });
    expect(configuration.doubts?.rows).toEqual([
      { table: "lights", cause: "missing", reason: "The read-out does not hold it", raw: "", line: 0 },
    ]);
  });

  it("moved values only: told from a whole one by its own word", () => {
    const configuration = {
      ...whole(),
      settings: whole().settings.map((s) => (s.key === "loop.rate" ? { ...s, value: 8 } : s)),
    };
    const { completeness, configuration: back } = read(text("moved", configuration));
    expect(completeness.verdict).toBe("moved-only");
    expect(back.settings.map((s) => [s.key, s.value])).toEqual([["loop.rate", 8]]);
  });

  it("case C10: lines that nobody understands are kept with their number and reason", () => {
    const lines = text().trimEnd().split("\n");
    lines.splice(20, 0, "put secret.sauce 7", "%% something else");
    const { unknown } = read(lines.join("\n")).configuration;
    expect(unknown.map(({ line, text: t, reason }) => [line, t, reason])).toEqual([
      [21, "put secret.sauce 7", "Heddle 22 has no setting of this name"],
      [22, "%% something else", "The idiom has no statement like this"],
    ]);
  });

  it("case C53: a number in another notation is not guessed", () => {
    const { unknown } = read(text().replace("put failsafe.after 1.5", "put failsafe.after 1,5")).configuration;
    expect(unknown[0]?.reason).toBe("“1,5” is not a number");
  });

  it("foreign, binary and over-long texts are refused with a code", () => {
    const code = (source: string) => {
      const result = readRecital(source, idiom, catalogue());
      return result.ok ? "ok" : result.problem.code;
    };
    expect(code("dear diary")).toBe("backup-foreign");
    expect(code("a\0b")).toBe("backup-binary");
    expect(code(`;; firmware: Heddle\n${"x".repeat(9000)}`)).toBe("backup-line");
    expect(code("x".repeat(4_100_000))).toBe("backup-size");
    expect(code(";; firmware: Heddle\n;; release: 999\n")).toBe("release-unknown");
  });
});
