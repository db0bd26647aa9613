import fc from "fast-check";
import { addressId, limitValue, type Configuration, type Value, type ValueType } from "@/core/config";
import { scopesOf, type Release } from "@/core/catalog";
import { readRecital } from "@/core/idiom/recital";
import { defaultConfiguration, reciteLines } from "@/core/idiom/write";
import { joinLines } from "@/core/idiom/text";
import { valueOf } from "@/core/problem";
import { definitions, smallCatalogue } from "../../../tests/support/idioms";

/** Any value of a type; texts hold quotes, escapes, marks and blanks on purpose. */
function valueOfType(type: ValueType): fc.Arbitrary<Value> {
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
      return fc
        .string({
          maxLength: type.maxLength,
          unit: fc.constantFrom("a", "Z", "7", " ", '"', "'", "\\", ";", "#", "=", "!", "/", "*", "é"),
        })
        .map((text) => text.trim())
        .filter((text) => text !== "nil");
  }
}

function configurations(release: Release): fc.Arbitrary<Configuration> {
  const entries = release.settings.flatMap((setting) =>
    scopesOf(release, setting).map((scope) =>
      valueOfType(setting.type).map((value) => ({ scope, key: setting.key, value, raw: "", line: 0 })),
    ),
  );
  const rows = fc
    .uniqueArray(fc.integer({ min: 1, max: 8 }), { maxLength: 4 })
    .chain((keys) =>
      fc.tuple(
        ...keys.map((key) =>
          fc
            .record({ use: fc.constantFrom("none", "ear", "eye"), rate: fc.integer({ min: 0, max: 5000 }) })
            .map((cells) => ({ table: "sockets", key: String(key), cells, line: 0 })),
        ),
      ),
    );
  const active = fc.record({ tune: fc.integer({ min: 1, max: 3 }), pack: fc.integer({ min: 1, max: 2 }) });
  return fc.tuple(fc.tuple(...entries), rows, active).map(([settings, drawn, chosen]) => ({
    ...defaultConfiguration(release, undefined, { family: "Small", release: "1" }),
    settings,
    rows: drawn,
    active: chosen,
  }));
}

const cases = definitions.chain((definition) => {
  const small = smallCatalogue(definition);
  return configurations(small.release).map((configuration) => ({ ...small, configuration, definition }));
});

const plainValues = (configuration: Configuration) =>
  Object.fromEntries(configuration.settings.map((entry) => [addressId(entry), entry.value]));

describe("any definition, any configuration", () => {
  it("configuration → text → the same configuration, complete, and the same text again", () => {
    fc.assert(
      fc.property(cases, ({ catalogue, idiom, release, configuration }) => {
        const lines = reciteLines(configuration, release, idiom, "all");
        const read = valueOf(readRecital(`${lines.join("\n")}\n`, idiom, catalogue));
        expect(read.configuration.unknown).toEqual([]);
        expect(read.completeness.findings.filter((f) => f.against)).toEqual([]);
        expect(plainValues(read.configuration)).toEqual(plainValues(configuration));
        expect(read.configuration.active).toEqual(configuration.active);
        expect(read.configuration.rows.map(({ key, cells }) => [key, cells])).toEqual(
          configuration.rows.map(({ key, cells }) => [key, cells]),
        );
        expect(reciteLines(read.configuration, release, idiom, "all")).toEqual(lines);
      }),
      { numRuns: 250 },
    );
  });

  it("case C02: CRLF, prompts, page breaks, noise around and a lost last line end change nothing of it", () => {
    fc.assert(
      fc.property(cases, fc.nat(), ({ catalogue, idiom, release, configuration }, seed) => {
        const lines = reciteLines(configuration, release, idiom, "all");
        const at = 1 + (seed % (lines.length - 1));
        const dirty = ["tell all", ...lines.slice(0, at), "-- 2 --", ...lines.slice(at)].map((line, i) =>
          i % 3 === 0 && !line.startsWith("-- ") ? `=> ${line}` : line,
        );
        const text = dirty.join("\r\n");
        const read = valueOf(readRecital(text, idiom, catalogue));
        expect(joinLines(read.lines)).toBe(text);
        expect(read.completeness.findings.filter((f) => f.against)).toEqual([]);
        expect(plainValues(read.configuration)).toEqual(plainValues(configuration));
      }),
      { numRuns: 120 },
    );
  });

  it("case C01, case C02: cut off anywhere it is never taken for whole", () => {
    fc.assert(
      fc.property(
        cases,
        fc.double({ min: 0, max: 1, noNaN: true }),
        ({ catalogue, idiom, release, configuration }, share) => {
          const lines = reciteLines(configuration, release, idiom, "all");
          // the last line may be cut as well, if only by its closing mark
          const text = lines.join("\n");
          const cut = text.slice(0, Math.floor(share * (text.length - 1)));
          const read = readRecital(cut, idiom, catalogue);
          if (read.ok) expect(read.value.completeness.verdict).toBe("incomplete");
        },
      ),
      { numRuns: 250 },
    );
  });

  it("every value tells a line that names it", () => {
    fc.assert(
      fc.property(cases, ({ catalogue, idiom, release, configuration }) => {
        const lines = reciteLines(configuration, release, idiom, "all");
        const read = valueOf(readRecital(lines.join("\n"), idiom, catalogue));
        for (const entry of read.configuration.settings) {
          const no = release.settings.find((s) => s.key === entry.key)?.no;
          expect(lines[entry.line - 1]).toContain(idiom.keys === "number" ? String(no) : entry.key);
        }
      }),
      { numRuns: 60 },
    );
  });
});
