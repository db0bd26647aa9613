import {
  checkDocument,
  readDocument,
  buildCatalogue,
  keptCatalogue,
  processorOf,
  meeting,
  resolveRelease,
  versionsOf,
  wantedBy,
  compilePattern,
  matchPattern,
  fillPattern,
  loaderIdOf,
} from "@/core/catalog";
import { valueOf } from "@/core/problem";
import { release } from "../../../tests/support/workshop";
import { demoCatalogue, demoDocuments } from "../../../demo/documents";

const codeOf = (text: string) => {
  const result = readDocument(text);
  return result.ok ? "ok" : result.problem.code;
};

describe("catalogue documents", () => {
  it("what does not fit its published format is refused with the place", () => {
    expect(codeOf("just text")).toBe("document-kind");
    expect(codeOf("document: recipe")).toBe("document-kind");
    expect(codeOf("document: [")).toBe("document-syntax");
    const unknown = checkDocument({ ...demoDocuments()[0]?.document, colour: "red" });
    expect(!unknown.ok && unknown.problem).toMatchObject({
      code: "document-schema",
      detail: expect.stringContaining("colour") as string,
    });
  });

  it("case C54: a document of references upon references is refused", () => {
    const levels = Array.from({ length: 12 }, (_, i) => `a${i + 1}: &a${i + 1} [${`*a${i},`.repeat(9)}*a${i}]`);
    expect(codeOf(["a0: &a0 [x]", ...levels, "document: *a12"].join("\n"))).toBe("document-syntax");
  });

  it("what the format cannot see is found when a release is resolved", () => {
    const parts = demoDocuments().map((d) => d.document);
    const whole = parts.find((d) => d.id === "heddle-22");
    const next = parts.find((d) => d.id === "heddle-23");
    if (!whole || !next) throw new Error("the demo has no releases");
    const fault = (document: object, ancestor = release("heddle-22")) => {
      const result = resolveRelease(document as never, ancestor);
      return result.ok ? "ok" : result.problem.code;
    };
    expect(fault({ ...next, rules: [...(next.rules as object[]), { rule: "retire", key: "no.such", why: "x" }] })).toBe(
      "release-rule",
    );
    expect(fault({ ...next, change: [{ key: "no.such", default: 1 }] })).toBe("release-change");
    expect(
      fault({
        ...next,
        add: [{ key: "loop.rate", title: "x", area: "sensors", type: { switch: true }, default: true, says: "x" }],
      }),
    ).toBe("release-inconsistent");
    const choice = { choice: ["a", { word: "b", also: ["a"] }] };
    expect(
      fault({ ...next, add: [{ key: "odd", title: "x", area: "sensors", type: choice, default: "a", says: "x" }] }),
    ).toBe("release-inconsistent");
    expect(
      fault({
        ...next,
        add: [{ key: "odd", title: "x", area: "nowhere", type: { switch: true }, default: true, says: "x" }],
      }),
    ).toBe("release-inconsistent");
    expect(fault({ ...next, inherits: "heddle-9" })).toBe("release-ancestor");
    const lonely = buildCatalogue([next]);
    expect(!lonely.ok && lonely.problem.code).toBe("release-ancestor");
  });
});

describe("releases of other parts", () => {
  const part = (id: string, more: object = {}) => ({
    document: "part-release",
    id,
    part: "co-processor",
    family: "Shuttle",
    version: id.slice(1),
    standing: "stable",
    builtOn: "2026-01-01",
    ...more,
  });
  const trust = { key: "trust", title: "Trust", area: "sensors", type: { switch: true }, default: true, says: "x" };
  const whole = { targets: [{ id: "A", processor: "Nettle 12" }], settings: [trust] };
  const wants = { part: "co-processor", family: "Shuttle", least: 2, most: 3 };
  const built = (...documents: object[]) => buildCatalogue(documents.map((d) => valueOf(checkDocument(d))));
  const codes = (...documents: object[]) => {
    const result = built(...documents);
    return result.ok ? "ok" : result.problem.code;
  };

  it("are written as their ancestor and rules, and tell what they serve", () => {
    const after = { inherits: "s1", rules: [{ rule: "rename", key: "trust", to: "belief" }], requires: [wants] };
    const catalogue = valueOf(built(part("s2", after), part("s1", whole), part("s3", { ...after, inherits: "s1" })));
    expect(catalogue.parts.get("s2")).toMatchObject({
      settings: [{ key: "belief" }],
      targets: [{ id: "A", aliases: [] }],
      ancestor: "s1",
    });
    expect(meeting(catalogue, wants).map((each) => each.id)).toEqual(["s2", "s3"]);
    expect(meeting(catalogue, { ...wants, part: "loader" })).toEqual([]);
    const [first, second] = ["s1", "s2"].map((id) => catalogue.parts.get(id));
    expect(first && wantedBy(catalogue, first)).toEqual([]);
    expect(second && wantedBy(catalogue, second).map((each) => each.id)).toEqual(["s2", "s3"]);
    expect(versionsOf(wants)).toBe("2 to 3");
    expect(versionsOf({ least: 2 })).toBe("2 or later");
  });

  it("are refused when they descend from what is missing or runs elsewhere, or take a release's id", () => {
    expect(codes(part("s2", { inherits: "s1" }))).toBe("release-ancestor");
    expect(codes(part("s1", whole), part("s2", { inherits: "s1", part: "speed controllers" }))).toBe(
      "release-inconsistent",
    );
    expect(codes(part("s1", whole), part("s2", { ...whole, settings: [{ ...trust, default: 3 }] }))).toBe(
      "release-inconsistent",
    );
    const main = demoDocuments().find((d) => d.document.id === "heddle-18")?.document;
    expect(codes(main ?? {}, part("heddle-18", { ...whole, version: "18" }))).toBe("release-twice");
    const wordy = checkDocument(part("s1", { ...whole, version: "one" }));
    expect(!wordy.ok && wordy.problem).toMatchObject({ code: "document-schema", where: { path: "/version" } });
  });
});

it("a processor with two loaders on one transport is refused as it comes in, and read where it is kept", () => {
  const [loader] = processorOf(demoCatalogue(), "Nettle 20").loaders;
  const doubled = demoDocuments().map(({ document }) =>
    document.id === "Nettle 20" ? { ...document, loaders: [loader, loader] } : document,
  );
  const found = buildCatalogue(doubled);
  expect(!found.ok && found.problem).toMatchObject({ code: "processor-loaders" });
  expect(keptCatalogue(doubled).ok).toBe(true);
});

describe("patterns", () => {
  it("match, fill, and refuse what does not fit", () => {
    const row = compilePattern("row {table} {cells...}");
    expect(matchPattern(row, "row ports 3 use=receiver")).toEqual({ table: "ports", cells: "3 use=receiver" });
    expect(fillPattern(row, { table: "ports", cells: "3" })).toBe("row ports 3");
    expect(matchPattern(row, "rows ports 3")).toBeUndefined();
    expect(matchPattern(compilePattern("clear {table}"), "clear two words")).toBeUndefined();
  });
});

it("case C46, case C22: a loader's id is derived from the chip id by the processor's rule", () => {
  expect(loaderIdOf("4A17-0C22-91FE", { loaderIdWords: [2, 0, 1] })).toBe("91FE-4A17-0C22");
});

describe("what a document says wrongly", () => {
  const idiom = [
    "document: idiom",
    "id: odd",
    "title: Odd",
    'spelling: { decimalMark: ".", "on": a, "off": b, listMark: "+", empty: c }',
    `quote: "'"`,
    "facts: {}",
    "lines:",
    '  - { means: set, pattern: "{key} = {value...}" }',
    "recital: {}",
  ];
  const broken = (line: string, by = 7) => readDocument(idiom.with(by, line).join("\n"));

  it.each([
    ['  - { means: set, pattern: "{key} = {vale...}" }', "There is no placeholder {vale}"],
    ['  - { means: set, pattern: "{key = {value...}" }', "There is no placeholder {key = {value"],
    ['  - { means: set, pattern: "{key} = {value..." }', "that begins at character 9 is not closed"],
    ['  - { means: set, pattern: "{value...} is {key}" }', "nothing can follow it"],
    ['  - { means: set, pattern: "{profile}{key} {value}" }', "Nothing tells where {profile} ends"],
    ['  - { means: set, pattern: "{key} {key}" }', "has to say {value}"],
    ['  - { means: set, pattern: "{key:number} {value}" }', "There is no shape “number”"],
    ['  - { means: row, pattern: "row {cells...}" }', "Nothing says which table it is of"],
    ['  - { means: row, pattern: "row {table}" }', "has to say {cells}"],
    ['  - { means: cell, pattern: "{row}.{column} {value}" }', "Nothing says which table it is of"],
    ['  - { means: section, pattern: "<{prefix}>" }', "keysUnder says what joins the two"],
    ['  - { means: leave, pattern: "back" }', "Nothing is left where no line means “section”"],
    ['  - { means: set, pattern: "{key:0} {value}" }', "a width of 1 to 99"],
    ['  - { means: set, pattern: "{key:9}{value}" }', "Nothing tells where {key} ends"],
    ['  - { means: clear, pattern: "no {table}", with: { profile: x } }', "has no field profile"],
    ['  - { means: comment, pattern: "x{text...}", inComment: true }', "The language has no comments"],
  ])("%s is told with its line, its column and in words", (line, words) => {
    const read = broken(line);
    if (read.ok) throw new Error("it was taken");
    expect(read.problem.message).toContain(words);
    expect(read.problem.where).toMatchObject({ line: 8 });
    expect(read.problem.where?.column).toBeGreaterThan(1);
    expect(read.problem.where?.path).toMatch(/^\/lines\/0/);
  });

  it("a check wider than it is, at its place", () => {
    const read = broken("recital: { end: { check: { kind: { crc: 8, poly: 0x107 } } } }", 8);
    const { message, where } = read.ok ? { message: "taken", where: undefined } : read.problem;
    expect([message, where?.path]).toEqual([
      expect.stringContaining("0x107 does not fit into the 8 bits"),
      "/recital/end/check/kind/poly",
    ]);
  });

  it("quotes in a language that has none, and lines around others that a statement would swallow", () => {
    const without = idiom.toSpliced(4, 1).join("\n");
    expect(readDocument(without).ok).toBe(true);
    const faults = (text: string) => {
      const read = readDocument(text);
      return read.ok ? [] : [read.problem.message, read.problem.where?.path];
    };
    expect(faults(`${without}\nquoted: all`)).toEqual([expect.stringContaining("has no quotes"), "/quoted"]);
    const silent = (line: string) =>
      [...idiom.with(7, `  - { means: set, pattern: "{key} = {value...}", before: ["", "${line}"] }`)].join("\n");
    const ends = 'text: { ends: ";", comments: [{ from: "#" }] }';
    expect(faults(silent("---"))).toEqual([]);
    expect(faults(`${silent("# ---")}\n${ends}`)).toEqual([]);
    expect(faults(`${silent("---")}\n${ends}`)).toEqual([
      expect.stringContaining("has to be a comment"),
      "/lines/0/before/1",
    ]);
  });

  it("what its schema refuses has a place as well", () => {
    const read = broken('spelling: { decimalMark: ";", "on": a, "off": b, listMark: "+", empty: c }', 3);
    expect(read.ok ? undefined : read.problem.where).toMatchObject({
      line: 4,
      column: 26,
      path: "/spelling/decimalMark",
    });
  });
});
