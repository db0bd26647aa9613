import { buildCatalogue, checkDocument } from "@/core/catalog";
import { addressId } from "@/core/config";
import { idiomOf } from "@/core/idiom/definition/definition";
import { readRecital } from "@/core/idiom/reading/recital";
import { recogniseText } from "@/core/idiom/reading/recognise";
import { readStatements } from "@/core/idiom/reading/read";
import { defaultConfiguration, reciteLines } from "@/core/idiom/writing/write";
import { valueOf } from "@/core/problem";
import { catalogue, release } from "../../../../tests/support/workshop";
import { SMALL_RELEASE } from "../../../../tests/support/idioms";

/** A console unlike all others: many statements on a line, numbers for names, checks by the statement, any case. */
const ODD = {
  document: "idiom",
  id: "odd",
  title: "Odd idiom",
  spelling: { decimalMark: ".", on: "ON", off: "OFF", listMark: "/", empty: "VOID", width: 8 },
  text: {
    between: ";",
    continues: "\\",
    comments: [{ from: "//" }, { from: "(", to: ")" }],
    prompts: ["] "],
    noise: ["MORE {no}"],
    lineCheck: { mark: "^", kind: "sum8" },
    anyCase: true,
  },
  quote: "|",
  escape: "|",
  countFrom: 0,
  keys: "number",
  facts: { family: "MAKE", release: "MARK" },
  lines: [
    { means: "end", pattern: "BYE {lines}" },
    { means: "fact", pattern: "IS {name} {value...}" },
    { means: "select", pattern: "BANK {profile} {number}" },
    { means: "clear", pattern: "WIPE {table}" },
    { means: "row", pattern: "ROW {table} {cells...}" },
    { means: "set", pattern: "S{key} {value...}" },
  ],
  recital: { cellMark: ":", movedWord: "DIFF", end: {} },
  console: {
    commands: { recite: "SPILL", declare: "ID", sense: "FEEL", forget: "ZERO", keep: "BURN", restart: "BOOT" },
    replies: { accepted: "K", adjusted: "K {value...}", refused: "E {cause} {text...}", causes: { N: "unknown-name" } },
    senses: { roll: "R", pitch: "P", heading: "H", receiver: "X", battery: "V", sticks: ["A", "B", "C", "D"] },
  },
};
const sum = (text: string) =>
  `${text}^${[...Buffer.from(text)]
    .reduce((all, byte) => (all + byte) & 255, 0)
    .toString(16)
    .padStart(2, "0")}`;
const odd = idiomOf(valueOf(checkDocument(structuredClone(ODD))));
const oddCatalogue = valueOf(
  buildCatalogue([
    valueOf(checkDocument(structuredClone(ODD))),
    valueOf(checkDocument(structuredClone({ ...SMALL_RELEASE, idiom: "odd" }))),
  ]),
);
const readOdd = (text: string) => valueOf(readRecital(text, odd, oddCatalogue));

describe("a console unlike the others", () => {
  const head = `${sum("IS MAKE Small")};${sum("IS MARK 1")}`;

  it("several statements on a line, comments anywhere, words in any case, numbers for names, numbers filled up", () => {
    const { configuration } = readOdd(
      `] ${head}\n] (gain) ${sum("s10 00012.50")} ; ${sum("S200 on")} // the end\nMORE 2\n${sum("bank tune 2")};${sum("S0300 00000077")}`,
    );
    expect(configuration.unknown).toEqual([]);
    expect(configuration.settings.map((s) => [addressId(s), s.value, s.line])).toEqual([
      ["system/alpha", 12.5, 2],
      ["system/gamma", true, 2],
      ["tune 3/push", 77, 4],
    ]);
  });

  it("a statement that never ends is given up after as much as a line may hold, and told; what follows is read", () => {
    const lines = Array.from({ length: 2000 }, (_, i) => `S10 ${i} \\`);
    const { clauses } = readStatements(`${lines.join("\n")}\n\n${sum("S10 5.00")}\n`, odd);
    const faults = clauses.filter(({ fault }) => fault === "The statement does not end");
    expect(faults.length).toBeGreaterThan(1);
    for (const { text } of faults) expect(text.length).toBeLessThan(9000);
    expect(clauses.at(-1)?.statements).toEqual([{ kind: "set", key: "10", value: "5.00" }]);
  });

  it("a statement goes on in the next line; a quote holds marks; a doubled quote is one", () => {
    const clause = (text: string) => sum(text);
    const { configuration } = readOdd(`${head}\n${clause("S203 |a;b ||(c) |").replace("S203 ", "S203 \\\n")}`);
    expect(configuration.unknown.map((u) => u.reason)).toEqual([]);
    expect(configuration.settings[0]?.value).toBe("a;b |(c) ");
  });

  it("a statement whose check does not fit is kept, shown, and never read", () => {
    const { configuration } = readOdd(`${head}\nS10 00012.50^00\nS200 ON`);
    expect(configuration.settings).toEqual([]);
    expect(configuration.unknown.map((u) => [u.line, u.reason])).toEqual([
      [2, "The line's check does not fit: it says 00, its text gives 5a"],
      [3, "The line carries no check"],
    ]);
  });

  it("an open quote or comment ends with its text and swallows no more than its share", () => {
    const read = readStatements(`${head}\n${sum("S200 ON")}\n( never closed\n${sum("S10 00001.00")}`, odd);
    expect(read.clauses.at(-1)?.fault).toBe("A comment is left open");
  });
});

describe("which idiom, family and release a text is in", () => {
  const text = (id: string, kept = Infinity) => {
    const of = release(id);
    const document = catalogue().idioms.get(of.idiom);
    if (!document) throw new Error(id);
    const target = of.targets[0]?.id ?? "";
    const identity = { family: of.family, release: of.version, target };
    return reciteLines(defaultConfiguration(of, target, identity), of, idiomOf(document), "all").slice(0, kept);
  };

  it.each(["heddle-18", "heddle-30", "sley-3", "weft-9", "treadle-71", "bobbin-40"])("%s by its own word", (id) => {
    const found = valueOf(recogniseText(`${text(id).join("\n")}\n`, catalogue()));
    expect([found.recital.release.id, found.recital.completeness.verdict, found.recognition.by]).toEqual([
      id,
      "complete",
      "said",
    ]);
  });

  it("case C02: a partial paste that says nothing is read by what its settings fit, and judged incomplete", () => {
    const found = valueOf(recogniseText(`${text("heddle-23").slice(20, 60).join("\n")}\n`, catalogue()));
    expect(found.recital.release.family).toBe("Heddle");
    expect(found.recital.completeness.verdict).toBe("incomplete");
    expect(found.recital.completeness.findings[0]?.text).toMatch(
      /^The text does not say what it comes from; its settings fit Heddle/,
    );
    expect(found.recognition.evidence[1]).toMatch(/^\d+ of its \d+ settings are known to Heddle/);
    const wing = valueOf(recogniseText(`${text("treadle-80").slice(40, 90).join("\n")}\n`, catalogue()));
    expect(wing.recital.release.id).toBe("treadle-80");
  });

  it("two read-outs of different releases in one text are both there, each with its own lines", () => {
    const [old, now] = [text("heddle-22"), text("heddle-23")];
    const { recitals } = valueOf(recogniseText(`${[...old, "noise", ...now].join("\n")}\n`, catalogue()));
    expect(recitals.map((r) => [r.release.id, r.completeness.verdict, r.span])).toEqual([
      ["heddle-22", "complete", { first: 1, last: old.length }],
      ["heddle-23", "complete", { first: old.length + 2, last: old.length + 1 + now.length }],
    ]);
  });

  it("case C53: units and decimal marks are read by the idiom's rule, or refused; never guessed", () => {
    const lines = text("treadle-80");
    const at = lines.findIndex((line) => line.startsWith("Cruise speed:"));
    const withLine = (line: string) =>
      valueOf(recogniseText(`${[...lines.slice(0, at), line, ...lines.slice(at + 1)].join("\n")}\n`, catalogue()))
        .recital;
    const value = (line: string) => withLine(line).configuration.settings.find((s) => s.key === "Cruise speed")?.value;
    expect(value("Cruise speed: 12,5 m/s")).toBe(12.5);
    for (const [line, why] of [
      ["Cruise speed: 12.5 m/s", "“12.5 m/s” is not a number"],
      ["Cruise speed: 45 km/h", "“45 km/h” is not in m/s"],
      ["Cruise speed: 12,5", "“12,5” is not in m/s"],
    ] as const) {
      const { configuration } = withLine(line);
      expect([line, configuration.unknown[0]?.reason]).toEqual([line, why]);
    }
  });

  it("a record of another edition is refused whole", () => {
    const lines = text("bobbin-41").map((line, i) => (i === 3 ? line.replace("c204", "a91f") : line));
    const { configuration } = valueOf(recogniseText(`${lines.join("\n")}\n`, catalogue())).recital;
    expect(configuration.unknown[0]?.reason).toBe("The record is of edition a91f; Bobbin 41 takes c204");
  });

  it("case C54: what nobody understands is refused with what was tried; deep and broken records too", () => {
    const refusal = (source: string) => {
      const result = recogniseText(source, catalogue());
      return result.ok ? "read" : result.problem;
    };
    expect(refusal("dear diary\nit rained")).toMatchObject({
      code: "backup-foreign",
      detail: expect.stringContaining("Statement idiom 0 of 2 statements") as string,
    });
    expect(refusal("[".repeat(7000))).toMatchObject({ code: "backup-foreign" });
    expect(refusal(`{"record":"system","no":0,"holds":${"[".repeat(3000)}`)).toMatchObject({ code: "backup-foreign" });
    expect(refusal("x".repeat(5_000_000))).toMatchObject({ code: "backup-size" });
  });
});
