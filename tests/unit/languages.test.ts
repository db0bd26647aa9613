import fc from "fast-check";
import { parse } from "yaml";
import { buildCatalogue, checkDocument, layoutOf, readDocument } from "@/core/catalog";
import { addressId, rowId, type Configuration } from "@/core/config";
import {
  defaultConfiguration,
  idiomOf,
  isAcross,
  joinLines,
  lineWriter,
  linesOfValue,
  readRecital,
  reciteBytes,
  reciteLines,
  unwritable,
  type Extent,
} from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { configurationOfApp, startApplication } from "@/core/sim/application";
import { runLine } from "@/core/sim/statements";
import { configurations } from "../support/configurations";
import { damage, damages, lies } from "../support/damage";
import { language, languageFile, LANGUAGES, type Language, type LanguageName } from "../support/languages";
import { catalogue } from "../support/workshop";

const RUNS = Number(process.env.SOAK ?? 100);
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
        const recital = read(each, `${lines.join("\n")}\n`);
        expect(against(recital)).toEqual([]);
        expect(recital.completeness.verdict).toBe(moved ? "moved-only" : "complete");
        expect(reciteLines(recital.configuration, release, idiom, extent)).toEqual(lines);
        if (!moved) expect(told(recital.configuration).settings).toEqual(told(configuration).settings);
        expect(recital.configuration.active).toEqual(configuration.active);
      }),
      { numRuns: 40 },
    );
  });

  it("says which profiles are in use even where nothing else of them was changed", () => {
    if (idiom.recital.movedWord === undefined) return;
    const plain = defaultConfiguration(release, "T1", { family: "Reedling", release: "4", target: "T1" });
    const active = { tune: 2, pack: 2 };
    const lines = reciteLines({ ...plain, active }, release, idiom, "moved");
    const recital = read(each, `${lines.join("\n")}\n`);
    expect([against(recital), recital.configuration.active]).toEqual([[], active]);
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

describe.each(all.filter(({ idiom }) => unwritable(idiom).length === 0))(
  "a board whose console speaks the $name language",
  ({ idiom, release }) => {
    const any = configurations(release, { family: "Reedling", release: "4", target: "T1" });

    /** A board that was erased and is told a configuration value by value, as a restore does. */
    function told(configuration: Configuration): Configuration {
      const [demo] = catalogue().releases.get("heddle-22")?.targets ?? [];
      if (!demo) throw new Error("no target");
      const layout = layoutOf(catalogue(), release);
      const app = startApplication({ release, idiom, layout, target: { ...demo, id: "T1" } }, "");
      app.rows.clear();
      const write = lineWriter(release, idiom);
      const run = (lines: readonly string[]) => {
        for (const line of lines) expect([line, runLine(app, line).kind]).toEqual([line, "accepted"]);
      };
      for (const table of release.tables) {
        run(write.clear(table.name));
        for (const row of configuration.rows)
          if (row.table === table.name) run(write.row(row.table, row.key, row.cells));
      }
      const values = new Map(configuration.settings.map((entry) => [addressId(entry), entry.value]));
      for (const { scope, key, value } of configuration.settings) {
        const area = scope === "system" ? (release.settings.find((each) => each.key === key)?.area ?? "") : scope;
        const lines = linesOfValue(write, release, { scope, key, value }, area, values);
        if (isAcross(write, release, scope)) run(lines);
        else run([...write.enter(scope, area), ...lines, ...write.leave(scope, area)]);
      }
      run(write.activate(configuration.active));
      return configurationOfApp(app, {});
    }

    it("holds afterwards what it was told, whatever that is", () => {
      fc.assert(
        fc.property(any, (configuration) => {
          const held = told(configuration);
          const plain = ({ settings, rows }: Configuration) => ({
            settings: Object.fromEntries(settings.map((entry) => [addressId(entry), entry.value])),
            rows: Object.fromEntries(rows.map((row) => [rowId(row), row.cells])),
          });
          expect(plain(held)).toEqual(plain(configuration));
          expect(held.active).toEqual(configuration.active);
        }),
        { numRuns: 25 },
      );
    });
  },
);

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
    expect(against(recital).map(({ text }) => text.slice(0, 24))).toEqual(["The check does not fit, "]);
  });

  it("statements over several lines, any case of words, comments of two kinds", () => {
    const recital = reads("sentence", (text) =>
      text
        .replace("let count be 00007;", "LET count\n  BE 7; -- seven")
        .replace("let mode be mid-way;", "/* /* old */ let mode be low; */ let mode be Mid-Way;"),
    );
    expect(recital.completeness.findings.some(({ text }) => text.startsWith("The check does not fit"))).toBe(true);
  });

  it("lines that begin with a blank go on from the one before", () => {
    const recital = reads("pairs", (text) =>
      text.replaceAll(" roll.2", "\n    roll.2").replace("failsafe: ", "failsafe:\n\t"),
    );
    expect(against(recital)).toEqual([]);
  });

  it("a heading that says the profile and what keys begin with, again for each beginning, without any check", () => {
    const document = parse(languageFile("sheet.idiom.yaml").toString("utf8")) as { lines: object[] };
    const lines = [{ means: "section", pattern: "== {section} {number} / {prefix} ==" }, ...document.lines];
    const idiom = idiomOf(valueOf(checkDocument({ ...document, keysUnder: ".", lines })));
    const { text, release, catalogue } = of("sheet");
    const configuration = read(of("sheet"), text).configuration;
    const written = reciteLines(configuration, release, idiom, "all");
    expect(written).toContain("== tune 2 / roll ==");
    const recital = valueOf(readRecital(`${written.join("\n")}\n`, idiom, catalogue));
    expect([told(recital.configuration), against(recital)]).toEqual([EXPECTED, []]);
  });

  it("pairs and lists of flags whose own mark parts the values as well", () => {
    const document = parse(languageFile("pairs.idiom.yaml").toString("utf8")) as { spelling: object };
    const { text, release, catalogue } = of("pairs");
    const configuration = read(of("pairs"), text).configuration;
    const idiom = idiomOf(valueOf(checkDocument({ ...document, spelling: { ...document.spelling, listMark: ", " } })));
    const written = reciteLines(configuration, release, idiom, "all");
    expect(written).toContain('switches: modes="[one, three]"');
    expect(told(valueOf(readRecital(`${written.join("\n")}\n`, idiom, catalogue)).configuration)).toEqual(EXPECTED);
  });

  it("flags in brackets, in quotes or not, with blanks or not", () => {
    const document = parse(languageFile("lists.idiom.yaml").toString("utf8")) as { spelling: object };
    const { text, release, catalogue } = of("lists");
    const configuration = read(of("lists"), text).configuration;
    for (const [list, written] of [
      [{ open: "[", close: "]", quoted: true }, 'modes is ["one", "three"]'],
      [{ open: "{", close: "}" }, "modes is {one, three}"],
      [{}, "modes is one, three"],
      [{ quoted: true }, 'modes is "one", "three"'],
    ] as const) {
      const spelling = { ...document.spelling, listMark: ", ", list };
      const idiom = idiomOf(valueOf(checkDocument({ ...document, spelling })));
      const lines = reciteLines(configuration, release, idiom, "all");
      expect(lines).toContain(written);
      expect(told(valueOf(readRecital(`${lines.join("\n")}\n`, idiom, catalogue)).configuration)).toEqual(EXPECTED);
    }
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
    expect(told(valueOf(readRecital(`${lines.join("\n")}\n`, idiom, catalogue)).configuration)).toEqual(EXPECTED);
  });

  it("names and words as a console writes them, whatever letters and marks they have", () => {
    const body = parse(languageFile("reedling-4.release.yaml").toString("utf8")) as {
      settings: { key: string; type: object; default: unknown }[];
    };
    const settings = body.settings.map((setting, i) =>
      i === 3
        ? { ...setting, key: "Größe[2]:äußerste", type: { choice: ["früh (5V+)", "spät"] }, default: "spät" }
        : setting,
    );
    for (const name of ["sheet", "block", "brace"] as const) {
      const document = valueOf(readDocument(languageFile(`${name}.idiom.yaml`).toString("utf8")));
      const release = valueOf(checkDocument({ ...body, idiom: name, settings }));
      const made = valueOf(buildCatalogue([document, release]));
      const [own] = made.releases.values();
      if (!own) throw new Error("no release");
      const plain = defaultConfiguration(own, "T1", { family: "Reedling", release: "4", target: "T1" });
      const said = {
        ...plain,
        settings: plain.settings.map((each) => (each.key.startsWith("Gr") ? { ...each, value: "früh (5V+)" } : each)),
      };
      const { configuration } = valueOf(
        readRecital(`${reciteLines(said, own, idiomOf(document), "all").join("\n")}\n`, idiomOf(document), made),
      );
      expect(told(configuration)).toEqual(told(said));
    }
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
    expect(read(of("lists"), `${moved.join("\n")}\n`).completeness.verdict).toBe("moved-only");
  });

  it("a value that was printed twice is not that of a profile whose heading was lost", () => {
    // two read-outs, line by line, up to the end of the second: each line fits its check
    const text = `66> version 4 on T1
31> count = +0
5b> mode = High
9d> modes = three
2a> [gain]
0c> base = +0.00
53> [arm]
80> hold = -
40> [[sockets]]
bb> [tune a *]
c9> flags = one/two
53> flags = two
74> [roll]
74> [roll]
3c> 1 = +0
3c> 1 = +0
a0> 2 = +0
a0> 2 = +0
5d> 3 = +0
5d> 3 = +0
9b> [pack a *]
b8> [tune b]
ac> cells = +0
0c> name = Z
1f> [pack b]
1e> flags = none
ac> cells = +0
74> [roll]
99> in all 30
3c> 1 = +0
3e> 2 = +200
`;
    const { configuration } = read(of("front"), text);
    const held = configuration.settings.filter(({ scope, key }) => scope === "tune 2" && key.startsWith("roll."));
    expect(held).toEqual([]);
  });

  it("a text that contradicts itself is not taken at its word because its check fits", () => {
    const lines = of("brace").text.split("\n");
    const at = lines.findIndex((line) => line.startsWith("count"));
    const doubled = [...lines.slice(0, at + 1), (lines[at] ?? "").replace(/: .*/, ": 8"), ...lines.slice(at + 1)];
    // the check that such a text would have, as the refusal of the one that it has tells
    const refused = read(of("brace"), doubled.join("\n"));
    const gives = refused.completeness.findings.map(({ text }) => / give (\w+)/.exec(text)?.[1]).find(Boolean) ?? "";
    const recital = read(of("brace"), doubled.join("\n").replace(/^done \w+/m, `done ${gives}`));
    expect(recital.completeness.findings.some(({ text }) => text.startsWith("The check does not fit"))).toBe(false);
    expect(recital.completeness.findings).toContainEqual(
      expect.objectContaining({ look: true, text: expect.stringContaining("Its check fits, and yet") as string }),
    );
    expect(recital.configuration.settings.filter(({ key }) => key === "count")).toEqual([]);
  });

  it("where one kind of profile has two headings of a number, values of another kind are not given out by their order", () => {
    const own = of("brace").text.split("\n");
    const at = (what: string) => own.findIndex((line) => line.startsWith(what));
    const [one, two, pack] = [at("tune no 1"), at("tune no 2"), at("pack no 1")];
    const alike = (line: string) => line.replace(/^( +[123] +: ).*/, "$10");
    const block = own.slice(one, two).map(alike);
    const rolls = block.slice(block.findIndex((line) => line.includes("roll {")));
    // the second tune's heading is gone, what stands under the first is there twice, and a pack of another read-out follows
    const text = [
      ...own.slice(0, one),
      ...block.slice(0, -1),
      ...rolls,
      ...own.slice(pack, pack + 3),
      ...own.slice(pack),
    ];
    const { configuration } = read(of("brace"), text.join("\n"));
    expect(configuration.settings.filter(({ scope, key }) => scope === "tune 2" && key.startsWith("roll."))).toEqual(
      [],
    );
  });

  it("flags of one set that do not stand together are not put together", () => {
    const lines = of("path").text.split("\n");
    const at = lines.findIndex((line) => line.startsWith("tune/1/tune.flags"));
    const [flag = ""] = lines.splice(at, 1);
    const end = lines.findIndex((line) => line.startsWith("active"));
    lines.splice(end, 0, flag);
    const { configuration, completeness } = read(of("path"), lines.join("\n"));
    const flags = configuration.settings.filter(({ scope, key }) => scope === "tune 1" && key === "tune.flags");
    expect([flags, completeness.verdict]).toEqual([[], "incomplete"]);
  });

  it("flags of one set stand together also where blank lines and remarks are between them", () => {
    const lines = of("path")
      .text.split("\n")
      .flatMap((line) => (line.includes("tune.flags") ? ["", line, ""] : [line]));
    const { configuration } = read(of("path"), lines.join("\n"));
    const flags = configuration.settings.filter(({ key }) => key === "tune.flags");
    expect(flags.map(({ scope }) => scope).toSorted()).toEqual(["tune 1", "tune 2"]);
  });
});
