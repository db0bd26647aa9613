import fc from "fast-check";
import { doubtsOf, addressId, type Configuration } from "@/core/config";
import { readRecital } from "@/core/idiom/reading/recital";
import { reciteLines } from "@/core/idiom/writing/write";
import { joinLines } from "@/core/idiom/reading/text";
import { valueOf } from "@/core/problem";
import { configurations } from "../../../../tests/support/configurations";
import { definitions, smallCatalogue } from "../../../../tests/support/idioms";

const cases = definitions.chain((definition) => {
  const small = smallCatalogue(definition);
  return configurations(small.release, { family: "Small", release: "1" }).map((configuration) => ({
    ...small,
    configuration,
    definition,
  }));
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

  it("case C02, case C93: CRLF, prompts, page breaks and noise around change nothing of it; without its last line end the last line is in doubt", () => {
    fc.assert(
      fc.property(cases, fc.nat(), ({ catalogue, idiom, release, configuration }, seed) => {
        const lines = reciteLines(configuration, release, idiom, "all");
        const at = 1 + (seed % (lines.length - 1));
        const dirty = ["tell all", ...lines.slice(0, at), "-- 2 --", ...lines.slice(at)].map((line, i) =>
          i % 3 === 0 && !line.startsWith("-- ") ? `=> ${line}` : line,
        );
        const text = `${dirty.join("\r\n")}\r\n`;
        const read = valueOf(readRecital(text, idiom, catalogue));
        expect(joinLines(read.lines)).toBe(text);
        expect(read.completeness.findings.filter((f) => f.against)).toEqual([]);
        expect(plainValues(read.configuration)).toEqual(plainValues(configuration));
        const bare = valueOf(readRecital(text.slice(0, -2), idiom, catalogue)).configuration;
        const [whole, held] = [plainValues(configuration), plainValues(bare)];
        for (const [id, value] of Object.entries(held)) expect([id, value]).toEqual([id, whole[id]]);
        expect(Object.keys(held).length).toBeGreaterThanOrEqual(Object.keys(whole).length - 1);
        // a closing line stands for what is before it; without one the last value, row or choice is open
        const { values, rows, active } = doubtsOf(bare);
        const closes = idiom.recital.endSection !== undefined || (idiom.recital.end?.at ?? "head") !== "head";
        if (closes) expect(values.length + rows.length + active.length).toBe(0);
        for (const [kind, number] of Object.entries(bare.active)) expect(configuration.active[kind]).toBe(number);
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
        const read = valueOf(readRecital(`${lines.join("\n")}\n`, idiom, catalogue));
        for (const entry of read.configuration.settings) {
          const no = release.settings.find((s) => s.key === entry.key)?.no;
          expect(lines[entry.line - 1]).toContain(idiom.keys === "number" ? String(no) : entry.key);
        }
      }),
      { numRuns: 60 },
    );
  });
});
