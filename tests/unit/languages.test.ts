import fc from "fast-check";
import { parse } from "yaml";
import { checkDocument } from "@/core/catalog";
import { addressId, rowId, type Configuration } from "@/core/config";
import { idiomOf, joinLines, readRecital, reciteBytes, reciteLines, type Extent } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { configurations } from "../support/configurations";
import { damage, damages, lies } from "../support/damage";
import { language, languageFile, LANGUAGES, type Language, type LanguageName } from "../support/languages";

const RUNS = Number(process.env.SOAK ?? 300);
const all = LANGUAGES.map(language);
const of = (name: LanguageName): Language => {
  const found = all.find((each) => each.name === name);
  if (!found) throw new Error(name);
  return found;
};

/** What the samples say, written down by whoever wrote them. */
const SAID = {
  "system/gain.base": 12.5,
  "system/count": 7,
  "system/arm.hold": false,
  "system/mode": "mid-way",
  "system/modes": ["one", "three"],
  "system/label": "Moerdijk, Öst",
  "tune 1/roll.1": 45,
  "tune 1/roll.2": 30,
  "tune 1/roll.3": 20,
  "tune 1/tune.name": "",
  "tune 1/tune.flags": ["one"],
  "tune 2/roll.1": 50,
  "tune 2/roll.2": 35,
  "tune 2/roll.3": 25,
  "tune 2/tune.name": "soft",
  "tune 2/tune.flags": [],
  "pack 1/cells": 4,
  "pack 2/cells": 6,
};
const ROWS = {
  "sockets/1": { use: "ear", rate: 100, fast: true, loud: false },
  "sockets/2": { use: "eye", rate: 250, fast: false, loud: false },
};

const told = ({ settings, rows, active, unknown }: Configuration) => ({
  settings: Object.fromEntries(settings.map((entry) => [addressId(entry), entry.value])),
  rows: Object.fromEntries(rows.map((row) => [rowId(row), row.cells])),
  active,
  unknown: unknown.map(({ text }) => text),
});
const EXPECTED = { settings: SAID, rows: ROWS, active: { tune: 2, pack: 1 }, unknown: [] };

const read = ({ idiom, catalogue }: Language, text: string) => valueOf(readRecital(text, idiom, catalogue));
const against = (each: ReturnType<typeof read>) => each.completeness.findings.filter((finding) => finding.against);

describe.each(all)("the $name language, by its document alone", (each) => {
  const { idiom, release, catalogue, bytes, text } = each;
  const any = configurations(release, { family: "Reedling", release: "4", target: "T1" });

  it("reads what was written by hand: every value, complete", () => {
    const recital = read(each, text);
    expect(told(recital.configuration)).toEqual(EXPECTED);
    expect(against(recital)).toEqual([]);
    expect(recital.configuration.identity).toMatchObject({ family: "Reedling", release: "4", target: "T1" });
    expect(recital.completeness.verdict).toBe("complete");
    expect(joinLines(recital.lines)).toBe(text);
  });

  it("writes it back byte for byte", () => {
    const written = Buffer.from(reciteBytes(read(each, text).configuration, release, idiom, "all"));
    expect(written.toString("latin1")).toBe(bytes.toString("latin1"));
  });

  it("any configuration comes back as it was, whole and as what was changed", () => {
    fc.assert(
      fc.property(any, fc.constantFrom<Extent>("all", "moved"), (configuration, extent) => {
        const moved = extent === "moved";
        if (moved && idiom.recital.movedWord === undefined) return;
        const lines = reciteLines(configuration, release, idiom, extent);
        const recital = read(each, lines.join("\n"));
        expect(against(recital)).toEqual([]);
        expect(recital.completeness.verdict).toBe(moved ? "moved-only" : "complete");
        expect(reciteLines(recital.configuration, release, idiom, extent)).toEqual(lines);
        if (!moved) expect(told(recital.configuration).settings).toEqual(told(configuration).settings);
        expect(recital.configuration.active).toEqual(configuration.active);
      }),
      { numRuns: 120 },
    );
  });

  it("case C75: damage to a line changes what comes from that line, and nothing else, or says so", () => {
    const extents = fc.constantFrom<Extent>("all", "moved");
    fc.assert(
      fc.property(any, any, extents, damages, (mine, other, extent, hit) => {
        if (extent === "moved" && idiom.recital.movedWord === undefined) return;
        const lines = reciteLines(mine, release, idiom, extent);
        const hurt = damage(lines, reciteLines(other, release, idiom, extent), hit);
        expect([hit, hurt, lies(mine, extent, hurt, { idiom, release, catalogue })]).toEqual([hit, hurt, []]);
      }),
      { numRuns: RUNS, endOnFailure: true },
    );
  });
});

describe("what else these languages allow", () => {
  const reads = (name: LanguageName, change: (text: string) => string) => {
    const recital = read(of(name), change(of(name).text));
    expect(told(recital.configuration)).toEqual(EXPECTED);
    return recital;
  };

  it("comments in comments, several statements on a line, words that mean the same", () => {
    const recital = reads("path", (text) =>
      text
        .replace("sys/sensors/count", "(* a (* b *) ; sys/sensors/count = 8 *) sys/sensors/count")
        .replace("= 7\nsys/failsafe/arm.hold = disabled", "= 7; sys/failsafe/arm.hold = 0"),
    );
    expect(against(recital)).toEqual([]);
  });

  it("prompts, what was typed, colours, page breaks and lines that go on", () => {
    const recital = reads("block", (text) =>
      `fen> show everything\n${text}fen> \n`
        .replace("gain.base: ", "\x1b[32mgain.base\x1b[0m: ")
        .replace("begin pack 1", "-- page 2 --\nbegin pack 1")
        .replace("socket 2 eye 0xfa 0x0", "socket 2 eye &\n0xfa 0x0"),
    );
    // what goes on in a second line is counted as the console printed it, and its check is of what it printed
    expect(against(recital).map(({ text }) => text.slice(0, 24))).toEqual(["The check does not fit: "]);
  });

  it("statements over several lines, any case of words, comments of two kinds", () => {
    const recital = reads("sentence", (text) =>
      text
        .replace("let count be 00007;", "LET count\n  BE 7; -- seven")
        .replace("let mode be mid-way;", "/* /* old */ let mode be low; */ let mode be Mid-Way;"),
    );
    expect(recital.completeness.findings.some(({ text }) => text.startsWith("The check does not fit"))).toBe(true);
  });

  it("numbers of settings with and without their zeros; a check in the other case of letters", () => {
    const { text } = of("ledger");
    const line = text.split("\r\n").find((each) => each.startsWith("0007")) ?? "";
    const lower = line.replace(/\*(..)$/, (_, digits: string) => `*${digits.toLowerCase()}`);
    expect(told(read(of("ledger"), text.replace(line, lower)).configuration)).toEqual(EXPECTED);
    const damaged = read(of("ledger"), text.replace(line, line.replace("12.500", "13.500")));
    expect(damaged.configuration.unknown).toMatchObject([
      { reason: expect.stringContaining("The line's check does not fit") as string },
    ]);
  });

  it("facts that a pattern names itself are ended and checked as every statement is", () => {
    const { text: file, release, catalogue } = of("lists");
    const document = parse(languageFile("lists.idiom.yaml").toString("utf8")) as Record<string, unknown>;
    const text = { ends: ";", lineCheck: { mark: " !", kind: "crc16-kermit" } };
    const idiom = idiomOf(valueOf(checkDocument({ ...document, text })));
    const configuration = read(of("lists"), file).configuration;
    const lines = reciteLines(configuration, release, idiom, "all");
    expect(lines[0]).toMatch(/^made by Reedling 4, pads T1 ![0-9a-f]{4};$/);
    expect(told(valueOf(readRecital(lines.join("\n"), idiom, catalogue)).configuration)).toEqual(EXPECTED);
  });

  it("what is not said is at its default only where the language says so", () => {
    const recital = read(of("lists"), of("lists").text.replace("made by", "only changes\nmade by"));
    expect(recital.completeness.findings.some(({ text }) => text.includes("counts 20 lines, but"))).toBe(false);
    const moved = reciteLines(
      read(of("lists"), of("lists").text).configuration,
      of("lists").release,
      of("lists").idiom,
      "moved",
    );
    expect(moved[1]).toBe("only changes");
    expect(read(of("lists"), moved.join("\n")).completeness.verdict).toBe("moved-only");
  });
});
