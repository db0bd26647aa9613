import { readFileSync } from "node:fs";
import path from "node:path";
import { buildCatalogue, checkDocument, PLAIN_LAYOUT, readDocument, type Release } from "@/core/catalog";
import { addressId, rowId, type Configuration, type Value } from "@/core/config";
import { defaultConfiguration, idiomOf, readRecital, reciteLines } from "@/core/idiom";
import { decodeRegion } from "@/core/image";
import { valueOf } from "@/core/problem";
import { regionOf, startOnRegion } from "@/core/sim/region-store";
import { SMALL_RELEASE } from "../support/idioms";

const ROOT = path.resolve(__dirname, "../..");
const golden = (name: string) => readFileSync(path.join(ROOT, "tests/golden", name), "utf8");
const expected = JSON.parse(golden("expected.json")) as {
  readonly values: Readonly<Record<string, Value>>;
  readonly rows: Readonly<Record<string, Readonly<Record<string, Value>>>>;
  readonly active: Readonly<Record<string, number>>;
};
const TARGET = { id: "T1", aliases: [], processor: "P", gyro: "G", ports: [1, 2], pads: {} };

/** The small firmware, speaking one of the demo world's languages. */
function speaking(idiomId: string) {
  const text = readFileSync(path.join(ROOT, "demo/catalog", `${idiomId}.idiom.yaml`), "utf8");
  const document = valueOf(readDocument(text));
  const release = { ...SMALL_RELEASE, idiom: idiomId };
  const catalogue = valueOf(buildCatalogue([document, valueOf(checkDocument(structuredClone(release)))]));
  const [small] = catalogue.releases.values();
  if (!small) throw new Error("no release");
  return { idiom: idiomOf(document), catalogue, release: small };
}

const told = ({ settings, rows, active }: Pick<Configuration, "settings" | "rows" | "active">) => ({
  values: Object.fromEntries(settings.map((entry) => [addressId(entry), entry.value])),
  rows: Object.fromEntries(rows.map((row) => [rowId(row), row.cells])),
  active,
});

/** The expected configuration in the order in which the firmware prints it. */
function configurationOf(release: Release): Configuration {
  const identity = { family: "Small", release: "1", target: "T1", chipId: "AA01-BB02" };
  const base = defaultConfiguration(release, undefined, identity);
  return {
    ...base,
    settings: base.settings.map((entry) => ({ ...entry, value: expected.values[addressId(entry)] ?? entry.value })),
    rows: Object.entries(expected.rows).map(([id, cells]) => {
      const [table = "", key = ""] = id.split("/");
      return { table, key, cells, line: 0 };
    }),
    active: expected.active,
  };
}

describe("golden files: written by hand, held against what the product reads and writes", () => {
  it.each(["statement", "statement-early", "section", "record"])("a read-out in the %s language", (id) => {
    const { idiom, catalogue, release } = speaking(id);
    const text = golden(`${id}.txt`);
    const { configuration, completeness } = valueOf(readRecital(text, idiom, catalogue));
    expect(told(configuration)).toEqual(expected);
    expect([completeness.verdict, configuration.doubts, configuration.unknown]).toEqual(["complete", undefined, []]);
    expect(`${reciteLines(configurationOf(release), release, idiom, "all").join("\n")}\n`).toBe(text);
  });

  it("their closing check is over every line with its line feed: another program's sum is the judge", () => {
    for (const id of ["statement", "section", "record"]) {
      const { idiom, catalogue } = speaking(id);
      const lines = golden(`${id}.txt`).trimEnd().split("\n");
      const swapped = lines.with(7, lines[8] ?? "").with(8, lines[7] ?? "");
      const { completeness } = valueOf(readRecital(swapped.join("\n"), idiom, catalogue));
      expect([id, completeness.findings.some(({ text }) => text.startsWith("The check does not fit"))]).toEqual([
        id,
        true,
      ]);
    }
  });

  it("a value that strayed into the part which names the active profiles is no profile: it is of one of those that lack it", () => {
    const { idiom, catalogue } = speaking("section");
    const lines = golden("section.txt").split("\n");
    const at = lines.indexOf("[pack 2]");
    const strayed = lines.toSpliced(at, 2).toSpliced(at + 1, 0, "cells: 6");
    const { configuration, completeness } = valueOf(readRecital(strayed.join("\n"), idiom, catalogue));
    // with its heading gone as well, what stands under the heading before it may be of either
    const cells = configuration.doubts?.values.filter(({ key }) => key === "cells") ?? [];
    expect(cells.map(({ scope, cause }) => [scope, cause])).toEqual([
      ["pack 1", "misplaced"],
      ["pack 2", "misplaced"],
    ]);
    expect(cells.map(({ raw }) => raw)).toContain("cells: 6");
    expect(completeness.verdict).toBe("incomplete");
  });

  it("a settings region: a board that starts on it holds these values, and keeps them as the same bytes", () => {
    const { idiom, release } = speaking("statement");
    const bytes = Uint8Array.from(golden("region.hex").replace(/\s/g, "").match(/../g) ?? [], (hex) =>
      parseInt(hex, 16),
    );
    expect(decodeRegion(bytes, [PLAIN_LAYOUT]).state).toBe("kept");
    const app = startOnRegion({ release, idiom, target: TARGET, layout: PLAIN_LAYOUT }, bytes);
    expect([app.kept, Object.fromEntries(app.values), app.active]).toEqual(["kept", expected.values, expected.active]);
    expect(Object.fromEntries([...app.rows.values()].map((row) => [rowId(row), row.cells]))).toEqual(expected.rows);
    expect(Buffer.from(regionOf(app)).toString("hex")).toBe(Buffer.from(bytes).toString("hex"));
    // one bit of it flipped anywhere, and it is damaged: no value of it is taken
    for (let at = 0; at < bytes.length; at += 3) {
      const hurt = bytes.slice();
      hurt[at] = (hurt[at] ?? 0) ^ 0x10;
      expect([at, decodeRegion(hurt, [PLAIN_LAYOUT]).state]).toEqual([at, "damaged"]);
    }
  });
});
