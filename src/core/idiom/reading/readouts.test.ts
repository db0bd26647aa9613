import fc from "fast-check";
import { idiomOf } from "@/core/idiom/definition/definition";
import { findReadouts, readRecital, readRecitals } from "@/core/idiom/reading/recital";
import { readStatements } from "@/core/idiom/reading/read";
import { defaultConfiguration, reciteLines } from "@/core/idiom/writing/write";
import { valueOf } from "@/core/problem";
import { catalogue, release, statementIdiom } from "../../../../tests/support/workshop";

const idiom = statementIdiom();
const heddle = release("heddle-22");
const whole = reciteLines(
  defaultConfiguration(heddle, "CSLATE-B", { family: "Heddle", release: "22", target: "CSLATE-B" }),
  heddle,
  idiom,
  "all",
);

/** What can stand in a capture: whole read-outs, cut ones, and text that means nothing in the idiom. */
const pieces = fc.array(
  fc.oneof(
    fc.constant({ kind: "whole" as const, lines: whole }),
    fc.integer({ min: 5, max: whole.length - 2 }).map((n) => ({ kind: "cut" as const, lines: whole.slice(0, n) })),
    fc.integer({ min: 1, max: 4 }).map((n) => ({
      kind: "foreign" as const,
      lines: Array.from({ length: n }, (_, i) => `somebody wrote ${i}`),
    })),
  ),
  { minLength: 1, maxLength: 5 },
);

describe("case C02: several read-outs in one text", () => {
  it("each is found with its first and last line; what lies after its end is not of it", () => {
    fc.assert(
      fc.property(pieces, (parts) => {
        const lines = parts.flatMap((part) => part.lines);
        let at = 0;
        const expected = parts.flatMap((part) => {
          const first = at;
          at += part.lines.length;
          return part.kind === "foreign" ? [] : [{ first, last: at - 1 }];
        });
        const found = findReadouts(readStatements(lines.join("\n"), idiom).clauses, idiom);
        expect(found.map(({ first, last }) => ({ first, last }))).toEqual(expected);
      }),
      { numRuns: 40 },
    );
  });

  it("each is judged for itself, and says how many there are", () => {
    const text = [...whole.slice(0, 40), "somebody wrote", ...whole].join("\n");
    const recitals = valueOf(readRecitals(text, idiom, catalogue()));
    expect(recitals.map((recital) => recital.completeness.verdict)).toEqual(["incomplete", "complete"]);
    for (const { completeness } of recitals)
      expect(completeness.findings.some((finding) => finding.text.includes("2 read-outs"))).toBe(true);
  });

  const closing = ["heddle-22", "treadle-71", "bobbin-41"].map((id) => {
    const of = release(id);
    const document = catalogue().idioms.get(of.idiom);
    const target = of.targets[0]?.id;
    if (!document || target === undefined) throw new Error(id);
    const language = idiomOf(document);
    const told = defaultConfiguration(of, target, { family: of.family, release: of.version, target });
    return { id, language, lines: reciteLines(told, of, language, "all") };
  });

  it.each(closing)(
    "$id: behind a whole one stands the end of another, from any line on: it is no part of it, and said",
    (each) => {
      const { language, lines } = each;
      const read = (all: readonly string[]) => valueOf(readRecital(all.join("\n"), language, catalogue()));
      const before = read(lines);
      for (const from of Array.from({ length: 24 }, (_, i) => 3 + Math.floor((i * (lines.length - 4)) / 24))) {
        const tail = lines.slice(from);
        const { configuration, completeness } = read([...lines, ...tail]);
        expect(configuration).toEqual(before.configuration);
        expect(completeness.verdict).toBe("complete");
        expect(completeness.findings.find(({ text }) => text.includes("after its closing line"))).toMatchObject({
          look: true,
          line: lines.length + 1 + tail.findIndex((line) => line.trim() !== ""),
        });
      }
    },
  );
});
