import { readdirSync, readFileSync } from "node:fs";
import path from "node:path";
import fc from "fast-check";
import { buildCatalogue, checkDocument, type CatalogueDocument } from "@/core/catalog";
import { planUpdate } from "@/core/carryover";
import { changesBetween, compareTwo } from "@/core/compare";
import { defaultConfiguration, idiomOf, reciteLines } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { demoDocuments } from "../../demo/documents";
import { drawnFrom } from "../support/drawn-schema";

const FORMATS = path.resolve("docs/formats");
const schemas = new Map(
  readdirSync(FORMATS)
    .filter((name) => name.endsWith(".schema.json"))
    .map((name) => [name, JSON.parse(readFileSync(path.join(FORMATS, name), "utf8")) as object]),
);
const demo = demoDocuments().map(({ document }) => document);
const heddle = valueOf(buildCatalogue(demo)).releases.get("heddle-22");

const release = (more: object) => ({
  document: "release",
  id: "poison-1",
  family: "Poison",
  version: "1",
  standing: "stable",
  builtOn: "2026-01-01",
  idiom: "statement",
  loaderWord: false,
  region: { format: "poison", stale: "refuse" },
  console: { inputBufferBytes: 96, lineCostUs: 1, baud: 115200 },
  profiles: [],
  targets: [],
  settings: [],
  tables: [],
  ...more,
});
const setting = (more: object) => ({
  key: "a.b",
  title: "A",
  area: "tune",
  type: { number: { min: 0, max: 10, step: 1 } },
  default: 1,
  says: "One.",
  ...more,
});
const one = (more: object) => [release({ settings: [setting(more)] })];
const child = (more: object) => ({
  document: "release",
  id: "poison-2",
  family: "Heddle",
  version: "poison",
  standing: "stable",
  builtOn: "2026-02-01",
  inherits: "heddle-22",
  region: { format: "poison-2", stale: "refuse" },
  ...more,
});

/** Written by hand, as somebody would who means harm or has mistyped; each is refused, and nothing is thrown. */
const REFUSED: Readonly<Record<string, readonly object[]>> = {
  "a release that descends from itself": [child({ inherits: "poison-2" })],
  "two that descend from each other": [
    child({ inherits: "poison-3" }),
    child({ id: "poison-3", version: "poison-3", inherits: "poison-2" }),
  ],
  "a range that ends before it begins": one({ type: { number: { min: 10, max: 0, step: 1 } }, default: 5 }),
  "a step of nothing": one({ type: { number: { min: 0, max: 10, step: 0 } } }),
  "a step that goes back": one({ type: { number: { min: 0, max: 10, step: -1 } } }),
  "a step finer than numbers": one({ type: { number: { min: -1e308, max: 1e308, step: 1e-300 } } }),
  "a range without end": one({ type: { number: { min: -Infinity, max: Infinity, step: 1 } } }),
  "a default that is no number": one({ default: NaN }),
  "a default of another kind": one({ default: "many" }),
  "a default out of its range": one({ default: 99 }),
  "a title of 100 KB": one({ title: "x".repeat(100_000) }),
  "no choice at all": one({ type: { choice: [] }, default: "a" }),
  "a choice twice": one({ type: { choice: ["a", "a"] }, default: "a" }),
  "an area like a field of every object": one({ area: "__proto__" }),
  "a setting that waits for itself": one({ wants: { key: "a.b", is: 1 } }),
  "a million profiles": [release({ profiles: [{ kind: "tune", title: "Tune", count: 1_000_000 }] })],
  "a thousand placeholders": one({ key: "x.{}".repeat(300), for: { a: 1 } }),
  "a setting for 5,000 things": one({
    key: "x.{}",
    for: Object.fromEntries(Array.from({ length: 5000 }, (_, i) => [`k${i}`, 1])),
  }),
};

/** What comes of documents: a problem in words, or a catalogue that everything else can be asked of. */
function worked(documents: readonly unknown[]): "refused" | "taken" {
  const checked = documents.map((document) => checkDocument(document));
  if (checked.some((each) => !each.ok)) {
    for (const each of checked) if (!each.ok) expect(each.problem.message).not.toBe("");
    return "refused";
  }
  const read = checked.flatMap((each): CatalogueDocument[] => (each.ok ? [each.value] : []));
  const ids = new Set(read.map(({ id }) => id));
  const built = buildCatalogue([...demo.filter(({ id }) => !ids.has(id)), ...read]);
  if (!built.ok) {
    expect(built.problem.message).not.toBe("");
    return "refused";
  }
  const catalogue = built.value;
  for (const { id } of read) {
    const made = catalogue.releases.get(id);
    const idiom = made && catalogue.idioms.get(made.idiom);
    if (!made || !idiom || !heddle) continue;
    const target = made.targets[0]?.id ?? "";
    const configuration = defaultConfiguration(made, target, { family: made.family, release: made.version, target });
    expect(reciteLines(configuration, made, idiomOf(idiom), "all").length).toBeGreaterThanOrEqual(0);
    // what it cannot plan or compare it says; it never throws
    planUpdate({ configuration, release: made }, heddle, heddle.targets[0]?.id ?? "", catalogue);
    planUpdate({ configuration, release: made }, made, target, catalogue);
    compareTwo({ configuration, release: made }, { configuration, release: made }, catalogue, { profiles: "number" });
    changesBetween(heddle, made, catalogue);
  }
  return "taken";
}

describe("a document that means harm, and fits its format", () => {
  it.each(Object.entries(REFUSED))("%s is refused in words", (_what, documents) => {
    expect(worked(documents)).toBe("refused");
  });

  /** A setting's definition as it was drawn, with what it takes to be looked at further: a place, and a default of its type. */
  const settled = (drawn: unknown, i: number) => {
    const of = drawn as { type?: Record<string, unknown> };
    const { number, choice, flags } = (of.type ?? {}) as {
      number?: { min: number };
      choice?: unknown[];
      flags?: unknown[];
    };
    const value = number ? number.min : choice ? choice[0] : flags ? [] : of.type && "switch" in of.type ? false : "";
    return { ...setting({}), ...of, area: "tune", scope: undefined, for: undefined, key: `drawn.${i}`, default: value };
  };
  const clean = (of: object) => Object.fromEntries(Object.entries(of).filter(([, each]) => each !== undefined));

  it("settings, tables and rules as their schemas draw them, in releases that are whole but for these", () => {
    const schema = schemas.get("release.schema.json") ?? {};
    const part = (name: string) => drawnFrom(schema, schemas, { part: name });
    const ends = { refused: 0, taken: 0 };
    fc.assert(
      fc.property(
        part("settings"),
        part("tables"),
        part("rules"),
        part("change"),
        (settings, tables, rules, change) => {
          const drawn = (Array.isArray(settings) ? settings : []).map((each, i) => clean(settled(each, i)));
          for (const documents of [
            [release({ settings: drawn })],
            [release({ settings: drawn, tables })],
            [child({ rules })],
            [child({ rules, change })],
          ])
            ends[worked(documents)]++;
        },
      ),
      { numRuns: Number(process.env.SOAK ?? 25) },
    );
    // some go through, so that more than their shape is tried
    expect([ends.refused > 10, ends.taken > 5]).toEqual([true, true]);
  });

  it.each(["release", "part-release", "board-model", "processor", "layout", "idiom"])(
    "%s: whatever its schema draws is refused in words, or everything can be asked of it",
    (kind) => {
      const schema = schemas.get(`${kind}.schema.json`);
      if (!schema) throw new Error(kind);
      const ends = { refused: 0, taken: 0 };
      fc.assert(
        fc.property(drawnFrom(schema, schemas), (document) => {
          ends[worked([document])]++;
        }),
        { numRuns: Number(process.env.SOAK ?? 21) },
      );
      expect(ends.refused + ends.taken).toBeGreaterThan(20);
    },
  );
});
