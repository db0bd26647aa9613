import fc from "fast-check";
import { buildCatalogue, checkDocument, readDocument, resolveRelease } from "@/core/catalog";
import { idiomOf, readStatements, reciteBytes, reciteLines, recogniseText } from "@/core/idiom";
import { examine, formOfMarks, learnRelease, proposeIdiom, withForm, withGiven, type Mark } from "@/core/learn";
import { valueOf } from "@/core/problem";
import { configurations } from "../support/configurations";
import { definitions, smallCatalogue } from "../support/idioms";
import { language, LANGUAGES, learntWhole } from "../support/languages";
import { catalogue, release } from "../support/workshop";
import { worn } from "../support/worn";

const about = { id: "proposed", title: "Proposed language" };

/** What a text says in a language, line by line, without the names of tables and facts. */
const said = (text: string, definition: string) =>
  readStatements(text, idiomOf(valueOf(readDocument(definition)))).clauses.flatMap(({ line, statements }) =>
    statements.map((each) => ({ line, ...each })),
  );

const values = (all: ReturnType<typeof said>) =>
  all.flatMap((each) => (each.kind === "set" ? [[each.line, each.key, each.value]] : []));

describe("a language proposed from a sample alone", () => {
  it.each(LANGUAGES)("%s: nothing is left over, and each value is the one that its own document reads", (name) => {
    const { text, idiom } = language(name);
    const proposed = valueOf(proposeIdiom(text, about));
    // what tells its firmware in prose is asked
    expect(proposed.meaningful - proposed.understood).toBeLessThanOrEqual(1);
    const mine = said(text, proposed.definition);
    const theirs = readStatements(text, idiom).clauses.flatMap(({ line, statements }) =>
      statements.map((each) => ({ line, ...each })),
    );
    expect(values(mine)).toEqual(values(theirs));
    const rows = (all: readonly { readonly line: number; readonly kind: string }[]) =>
      all.flatMap((each) => (each.kind === "row" || each.kind === "member" ? [each.line] : []));
    expect(rows(mine)).toEqual(rows(theirs));
    expect(proposed.questions.length).toBeLessThanOrEqual(4);
    for (const { sure, for: lines } of proposed.found) {
      expect(sure).toBeGreaterThan(0);
      expect(sure).toBeLessThanOrEqual(1);
      for (const line of lines) expect(text.split(/\r?\n/)[line - 1]).toBeDefined();
    }
  });

  it.each([
    ["heddle-23", "CSLATE-B"],
    ["heddle-19", "CSLATE-B"],
    ["treadle-80", "FGULL"],
    ["bobbin-41", "CSLATE-B"],
  ])("the read-out of a board with %s", (id, target) => {
    const of = release(id);
    const document = catalogue().idioms.get(of.idiom);
    if (!document) throw new Error(id);
    const text = reciteLines(
      worn(of, { family: of.family, release: of.version, target }, 3),
      of,
      idiomOf(document),
      "all",
    ).join("\n");
    const proposed = valueOf(proposeIdiom(text, about));
    expect(proposed.understood / proposed.meaningful).toBeGreaterThan(0.97);
  });

  it("never fails on a text, whatever it holds, and what it proposes is a document", () => {
    const line = fc.oneof(
      fc.string({ maxLength: 40 }),
      fc.constantFrom("a = 1", "[x 1]", '{"a":{}}', ";; b: c", "row t 1 x=2", "=", ": :", "*** ***", "use tune 1"),
    );
    fc.assert(
      fc.property(fc.array(line, { minLength: 4, maxLength: 40 }), (lines) => {
        const proposed = proposeIdiom(lines.join("\n"), about);
        if (proposed.ok) expect(readDocument(proposed.value.definition).ok).toBe(true);
        else expect(proposed.problem.code).toBe("sample-lines");
      }),
      { numRuns: 400 },
    );
  });

  it("the text of what is proposed reads what its language writes, for most drawn languages", () => {
    let [whole, learnt, all] = [0, 0, 0];
    const any = definitions.chain((definition) => {
      const small = smallCatalogue(definition);
      return configurations(small.release, { family: "Small", release: "1" }).map((configuration) => ({
        ...small,
        configuration,
      }));
    });
    for (const { release: of, idiom, configuration } of fc.sample(any, { numRuns: 60, seed: 11 })) {
      const text = new TextDecoder().decode(reciteBytes(configuration, of, idiom, "all"));
      const proposed = proposeIdiom(text, about);
      all++;
      if (!proposed.ok || proposed.value.understood < proposed.value.meaningful * 0.95) continue;
      whole++;
      if (learntWhole(text, proposed.value.definition, { family: "Small", version: "1" }) === "complete") learnt++;
    }
    expect(whole / all).toBeGreaterThan(0.8);
    // and what it was learnt from is whole in the release that was learnt with it
    expect(learnt / whole).toBeGreaterThan(0.8);
  });
});

describe("a release from the same sample", () => {
  it.each(LANGUAGES)("%s: its own source is read back without a rest, every value as it stands there", (name) => {
    const { text, idiom } = language(name);
    const learnt = valueOf(learnRelease(text, idiom, catalogue(), { family: "Reedling", version: "9" }));
    expect(learnt.left).toEqual([]);
    expect(new Set(learnt.settings.map(({ guessed }) => guessed))).toEqual(new Set([true]));
    const document = valueOf(checkDocument(structuredClone(learnt.document)));
    const of = valueOf(resolveRelease(document));
    // lists, flags and numbers are settings of their own: as many as its hand-written release has
    expect(of.settings.length).toBe(language(name).release.settings.length);
    expect(of.profiles.map(({ kind, count }) => [kind, count])).toEqual([
      ["tune", 2],
      ["pack", 2],
    ]);
    expect(of.tables.map(({ name: table, rows }) => [table, rows.length])).toEqual([["sockets", 2]]);
  });
});

describe("from a sample to a family: worked out, marked where it is asked, learnt", () => {
  /** What whoever wrote the sample knows, marked on the line that says it; the family is said where no line does. */
  function answered(definition: string, text: string, wanted: ReadonlySet<string>): string {
    const known = [
      ["family", "Reedling"],
      ["release", "4"],
      ["target", "T1"],
    ] as const;
    // a check that stands before the line is no part of what it says
    const lines = text.split(/\r?\n/).map((line) => line.replace(/^[0-9a-f]{2}> /, ""));
    const line = lines.find((each) => each.includes("T1")) ?? "";
    const marks = known.flatMap(([field, word]): Mark[] => {
      const from = line.search(new RegExp(`(?<![\\p{L}\\d])${word}(?![\\p{L}\\d])`, "u"));
      return from < 0 ? [] : [{ field, from, to: from + word.length }];
    });
    const asked = wanted.has("release") || wanted.has("target");
    const form = asked ? valueOf(formOfMarks(line, marks)) : undefined;
    const formed = form ? valueOf(withForm(definition, form, text.split(/\r?\n/)[lines.indexOf(line)])) : definition;
    return wanted.has("family") && !line.includes("Reedling")
      ? valueOf(withGiven(formed, "family", "Reedling"))
      : formed;
  }

  it.each(LANGUAGES)("%s: the sample itself is whole in it, closing line and all", (name) => {
    const { text } = language(name);
    const proposed = valueOf(proposeIdiom(text, about));
    const definition = answered(proposed.definition, text, new Set(proposed.questions.map(({ id }) => id)));
    const idiom = valueOf(readDocument(definition));
    const learnt = valueOf(learnRelease(text, idiomOf(idiom), catalogue(), {}));
    expect(learnt.left).toEqual([]);
    const own = valueOf(buildCatalogue([idiom, valueOf(checkDocument(structuredClone(learnt.document)))]));
    const { completeness, configuration } = valueOf(recogniseText(text, own)).recital;
    expect(completeness.findings.filter(({ against }) => against)).toEqual([]);
    expect([completeness.verdict, configuration.active]).toEqual(["complete", { tune: 2, pack: 1 }]);
  });
});

describe("stretches that are marked on the sample", () => {
  const marked = (line: string, ...words: readonly (readonly [string, Mark["field"]])[]) =>
    words.map(([word, field]): Mark => ({ from: line.indexOf(word), to: line.indexOf(word) + word.length, field }));

  it.each([
    ["lists", "made by Reedling 4, pads T1"],
    ["ledger", "! Reedling 4 for T1"],
    ["sheet", "# version 4 / T1"],
  ] as const)("%s: what says the firmware in prose becomes a form, and is read from then on", (name, line) => {
    const { text } = language(name);
    const proposed = valueOf(proposeIdiom(text, about));
    const words = [
      ["Reedling", "family"],
      ["4", "release"],
      ["T1", "target"],
    ] as const;
    const form = valueOf(formOfMarks(line, marked(line, ...words.filter(([word]) => line.includes(word)))));
    const definition = valueOf(withForm(proposed.definition, form, line));
    const told = valueOf(examine(definition, text));
    expect(told.meaningful - told.understood).toBe(0);
    expect(told.questions.map(({ id }) => id)).toEqual(line.includes("Reedling") ? [] : ["family"]);
    const given = valueOf(withGiven(definition, "family", "Reedling"));
    expect(valueOf(examine(given, text)).questions).toEqual([]);
  });

  it("whatever is marked, the form reads its own line, or it is refused in words", () => {
    const fields = fc.constantFrom<Mark["field"]>(
      "key",
      "value",
      "profile",
      "number",
      "table",
      "cells",
      "family",
      "release",
      "member",
    );
    const marks = fc.array(fc.record({ from: fc.nat(30), to: fc.nat(30), field: fields }), { maxLength: 4 });
    fc.assert(
      fc.property(fc.string({ minLength: 1, maxLength: 30 }), marks, (line, drawn) => {
        const form = formOfMarks(line, drawn);
        if (!form.ok) return;
        const made = withForm(
          'document: idiom\nid: x\ntitle: X\nspelling: { decimalMark: ".", "on": a, "off": b, listMark: "+", empty: c }\nquote: "\'"\nfacts: {}\nlines: []\nrecital: {}\n',
          form.value,
          line,
        );
        if (!made.ok) expect(made.problem.message.length).toBeGreaterThan(10);
      }),
      { numRuns: 500 },
    );
  });
});
