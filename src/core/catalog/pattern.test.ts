import fc from "fast-check";
import { compilePattern, fillPattern, matchFields, matchPattern } from "@/core/catalog";

/** Words of which no mark of a pattern is part. */
const word = fc.string({ unit: fc.constantFrom("a", "b", "7", ".", "-"), minLength: 1, maxLength: 6 });
/** A pattern with its fields in turn and a mark after each, and words to fill it with. */
const filled = fc
  .array(fc.tuple(word, fc.constantFrom(" ", ": ", "=", " | ")), { minLength: 1, maxLength: 5 })
  .map((parts) => ({
    source: `set ${parts.map(([, mark], i) => `{f${i}}${i < parts.length - 1 ? mark : ""}`).join("")}`,
    words: parts.map(([text]) => text),
  }));

describe("line patterns", () => {
  it("what was filled in is found again, in the fields' order and by their names", () => {
    fc.assert(
      fc.property(filled, ({ source, words }) => {
        const pattern = compilePattern(source);
        const line = fillPattern(pattern, Object.fromEntries(words.map((text, i) => [`f${i}`, text])));
        expect(matchFields(pattern, line)).toEqual(words);
        expect(matchPattern(pattern, line)).toEqual(Object.fromEntries(words.map((text, i) => [`f${i}`, text])));
      }),
    );
  });

  it("in any case of letters a field is found where it stands, also behind letters whose small ones are longer", () => {
    const pattern = compilePattern("Put {key} Be {value...}", true);
    expect(matchFields(pattern, "PUT İİ bE İx ß")).toEqual(["İİ", "İx ß"]);
  });

  it("a field that is filled up to a width is found without its blanks", () => {
    const pattern = compilePattern("{key:9}: {value...}");
    expect(fillPattern(pattern, { key: "gain", value: "7" })).toBe("gain     : 7");
    fc.assert(
      fc.property(
        word,
        word,
        fc.constantFrom(": ", " : ", " = ", " "),
        fc.integer({ min: 1, max: 99 }),
        (key, value, mark, width) => {
          const made = compilePattern(`{key:${width}}${mark}{value...}`);
          expect(matchFields(made, fillPattern(made, { key, value }))).toEqual([key, value]);
        },
      ),
    );
  });

  it("blanks may stand doubled, as tabs and at a line's ends", () => {
    fc.assert(
      fc.property(filled, fc.constantFrom("  ", "\t", " \t "), ({ source, words }, blank) => {
        const pattern = compilePattern(source);
        const line = fillPattern(pattern, Object.fromEntries(words.map((text, i) => [`f${i}`, text])));
        expect(matchFields(pattern, `  ${line.replaceAll(" ", blank)}\t`)).toEqual(words);
      }),
    );
  });

  it("in any case of letters where the idiom says so; what stands in the fields is left as it was", () => {
    const pattern = compilePattern("Put {key} {value...}", true);
    expect(matchFields(pattern, "PUT Roll.Push 4 5")).toEqual(["Roll.Push", "4 5"]);
    expect(matchFields(compilePattern("Put {key} {value...}"), "PUT Roll.Push 4 5")).toBeUndefined();
  });

  it("doubled braces mean themselves", () => {
    const pattern = compilePattern("{{{name}}}");
    expect(fillPattern(pattern, { name: "x" })).toBe("{x}");
    expect(matchFields(pattern, "{x}")).toEqual(["x"]);
  });

  it("a field whose name stands again says the same words again", () => {
    const pattern = compilePattern("<{key}>{value}</{key}>");
    expect(fillPattern(pattern, { key: "gain", value: 7 })).toBe("<gain>7</gain>");
    expect(matchFields(pattern, "<gain>7</gain>")).toEqual(["gain", "7", "gain"]);
    expect(matchFields(pattern, "<gain>7</pain>")).toBeUndefined();
  });

  it("what is passed over may be nothing; the rest behind a mark only where the language says so", () => {
    expect(matchFields(compilePattern("{key};{title};{unit};{value...}"), "gain;;;7")).toEqual(["gain", "", "", "7"]);
    expect(matchFields(compilePattern("{key};{area};{value...}"), "gain;;7")).toBeUndefined();
    expect(matchFields(compilePattern("{key} = {value...}", false, true), "label = ")).toEqual(["label", ""]);
    expect(matchFields(compilePattern("{key} = {value...}"), "label = ")).toBeUndefined();
    expect(matchFields(compilePattern("Put {key} = {value...}", true, true), "put Label =", "put label =")).toEqual([
      "Label",
      "",
    ]);
  });
});
