import fc from "fast-check";
import { buildCatalogue, checkDocument, type Catalogue, type Release } from "@/core/catalog";
import { idiomOf, type Idiom } from "@/core/idiom";
import { valueOf } from "@/core/problem";

/** A firmware small enough to be read at once, of every kind of value, scope and table. It lives in tests only. */
export const SMALL_RELEASE = {
  document: "release",
  id: "small-1",
  family: "Small",
  version: "1",
  standing: "stable",
  builtOn: "2026-01-02",
  loaderWord: false,
  edition: "e7",
  region: { format: "small-1", stale: "refuse" },
  console: { inputBufferBytes: 64, lineCostUs: 100, baud: 115200 },
  profiles: [
    { kind: "tune", title: "Tune", count: 3 },
    { kind: "pack", title: "Pack", count: 2 },
  ],
  targets: [],
  settings: [
    ["alpha", "sensors", { number: { min: -500, max: 500, step: 0.01, unit: "Hz" } }, 12.5, undefined, 10],
    ["beta-two", "sensors", { number: { min: 0, max: 9999, step: 1 } }, 7, undefined, 11],
    ["gamma", "failsafe", { switch: true }, false, undefined, 200],
    ["delta", "failsafe", { choice: ["low", "mid-way", "High"] }, "low", undefined, 201],
    ["eps", "switches", { flags: ["one", "two", "three"] }, ["one"], undefined, 202],
    ["label", "identity", { text: 20 }, "", undefined, 203],
    ["push", "tune", { number: { min: 0, max: 200, step: 1, unit: "%" } }, 45, "tune", 300],
    ["tune-name", "tune", { text: 12 }, "", "tune", 301],
    ["cells", "power", { number: { min: 0, max: 14, step: 1 } }, 4, "pack", 302],
  ].map(([key, area, type, value, scope, no]) => ({
    key,
    title: key,
    area,
    type,
    default: value,
    says: "In tests only.",
    no,
    ...(scope === undefined ? {} : { scope }),
  })),
  tables: [
    {
      name: "sockets",
      title: "Socket",
      area: "ports",
      maxRows: 8,
      keys: [{ name: "socket", title: "Socket", type: { number: { min: 1, max: 8, step: 1 } }, default: 1 }],
      columns: [
        { name: "use", title: "Use", type: { choice: ["none", "ear", "eye"] }, default: "none" },
        { name: "rate", title: "Rate", type: { number: { min: 0, max: 5000, step: 1, unit: "Hz" } }, default: 100 },
      ],
      rows: [{ key: "1", cells: { use: "ear" } }],
    },
  ],
};

const CONSOLE = {
  commands: { recite: "tell all", declare: "who", sense: "feel", forget: "blank", keep: "save", restart: "again" },
  replies: {
    accepted: "fine",
    adjusted: "fine, {value...}",
    refused: "bad {cause}: {text...}",
    causes: { x: "garbled" },
  },
  senses: { roll: "r", pitch: "p", heading: "h", receiver: "e", battery: "b", sticks: ["s1", "s2", "s3", "s4"] },
};

const FACTS = { family: "kind", release: "edition", target: "for" };

interface Marks {
  readonly comment: string;
  readonly assign: string;
  readonly cell: string;
  readonly list: string;
}

/** Definitions of three kinds with marks, words and habits drawn at random: no code knows any of them. */
export const definitions: fc.Arbitrary<Record<string, unknown>> = fc
  .record({
    style: fc.constantFrom("statement", "section", "record"),
    marks: fc.constantFrom<Marks>(
      { comment: "#", assign: " = ", cell: "=", list: "+" },
      { comment: "//", assign: ": ", cell: "=>", list: "|" },
      { comment: "%%", assign: " := ", cell: "~", list: "&" },
    ),
    decimalMark: fc.constantFrom(".", ","),
    unit: fc.constantFrom(undefined, " ", ""),
    width: fc.constantFrom(undefined, 6),
    countFrom: fc.constantFrom(0, 1),
    keys: fc.constantFrom("name", "number"),
    quote: fc.constantFrom('"', "'"),
    escape: fc.constantFrom("\\", "same"),
    end: fc.constantFrom(undefined, "crc32", "crc16", "sum8", "xor8"),
    lineCheck: fc.constantFrom(undefined, "xor8", "crc16"),
    ends: fc.constantFrom(undefined, ";"),
    anyCase: fc.boolean(),
  })
  .map((d) => {
    const { marks } = d;
    // a record is one JSON text a line: the habits of plain lines mean nothing there
    const plain = d.style !== "record";
    const spelling = {
      decimalMark: d.decimalMark,
      on: "yes",
      off: "no",
      listMark: marks.list,
      empty: "nil",
      ...(plain && d.unit !== undefined ? { unit: d.unit } : {}),
      ...(plain && d.width !== undefined ? { width: d.width } : {}),
    };
    const text = {
      ...(plain && d.lineCheck !== undefined ? { lineCheck: { mark: " !", kind: d.lineCheck } } : {}),
      ...(plain && d.ends !== undefined ? { ends: d.ends } : {}),
      ...(plain ? { comments: [{ from: "/*", to: "*/" }] } : {}),
      ...(d.anyCase ? { anyCase: true } : {}),
      prompts: ["=> "],
      noise: ["-- {no} --"],
    };
    const lines = {
      statement: [
        { means: "end", pattern: "that is all of {lines} lines, {check}" },
        { means: "fact", pattern: `${marks.comment} {name}${marks.assign}{value...}` },
        { means: "comment", pattern: `${marks.comment}{text...}` },
        { means: "select", pattern: "take {profile} {number}" },
        { means: "clear", pattern: "no {table} yet" },
        { means: "row", pattern: "add {table}, {cells...}" },
        { means: "set", pattern: `let {key}${marks.assign}{value...}` },
      ],
      section: [
        { means: "section", pattern: "<{section} {number}>" },
        { means: "section", pattern: "<{section}>" },
        { means: "comment", pattern: `${marks.comment}{text...}` },
        { means: "set", pattern: `{key}${marks.assign}{value...}` },
      ],
      record: [{ means: "record", json: { section: "at", number: "nr", edition: "ed", values: "all" } }],
    }[d.style];
    const sections = {
      freshWord: "anew",
      systemSection: "whole",
      factsSection: "about",
      sensesSection: "felt",
      activeSection: "inuse",
      endSection: { name: "fin", lines: "count", check: "sum" },
    };
    return {
      document: "idiom",
      id: "drawn",
      title: "Drawn idiom",
      spelling,
      text,
      quote: d.quote,
      escape: d.escape === "same" ? d.quote : d.escape,
      countFrom: d.countFrom,
      keys: d.keys,
      facts: FACTS,
      lines,
      recital: {
        movedWord: "changed",
        cellMark: marks.cell,
        ...(d.style === "statement" ? (d.end === undefined ? {} : { end: { check: d.end } }) : sections),
      },
      console: CONSOLE,
    };
  });

/** A catalogue of the small release in a definition. */
export function smallCatalogue(definition: Record<string, unknown>): {
  catalogue: Catalogue;
  idiom: Idiom;
  release: Release;
} {
  const idiomDocument = valueOf(checkDocument(structuredClone(definition)));
  const releaseDocument = valueOf(checkDocument(structuredClone({ ...SMALL_RELEASE, idiom: definition.id })));
  const catalogue = valueOf(buildCatalogue([idiomDocument, releaseDocument]));
  const [release] = catalogue.releases.values();
  if (!release) throw new Error("no release");
  return { catalogue, idiom: idiomOf(idiomDocument), release };
}
