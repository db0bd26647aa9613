import { createHash } from "node:crypto";
import { findTarget } from "@/core/catalog";
import { doubtsOf } from "@/core/config";
import { idiomOf, readRecitals, recogniseText, reciteLines, type Extent } from "@/core/idiom";
import { damage, type Damage } from "../../../../tests/support/damage";
import { valueOf } from "@/core/problem";
import { expectGolden } from "../../../../tests/support/golden";
import { catalogue, release } from "../../../../tests/support/workshop";
import { worn } from "../../../../tests/support/worn";

/** One release for each console language of the demo world. */
const SPOKEN = [
  ["heddle-23", "CSLATE-B"],
  ["heddle-19", "CSLATE-B"],
  ["treadle-80", "FGULL"],
  ["bobbin-41", "CSLATE-B"],
] as const;

/** Damages at fixed places, of every kind; how each is read was read through once. */
const DAMAGES: readonly Damage[] = [
  { kind: "lost", at: 3 },
  { kind: "lost", at: 40 },
  { kind: "lost", at: 200 },
  { kind: "doubled", at: 61 },
  { kind: "joined", at: 77 },
  { kind: "swapped", at: 90, with: 1 },
  { kind: "swapped", at: 30, with: 170 },
  { kind: "cut", at: 55, keep: 7 },
  { kind: "cut", at: 120, keep: 12 },
  { kind: "flipped", at: 101, byte: 5, bit: 1 },
  { kind: "flipped", at: 12, byte: 2, bit: 5 },
  { kind: "flipped", at: 150, byte: 9, bit: 0 },
  { kind: "gap", at: 140, byte: 3, lines: 20, rest: 4 },
  { kind: "noise", at: 66, text: "%%\0" },
  { kind: "block", at: 80, from: 160, lines: 12 },
  { kind: "interleaved", at: 100, from: 20, lines: 9 },
];

const hash = (value: unknown) => createHash("sha256").update(JSON.stringify(value)).digest("hex").slice(0, 24);

/** What a text is read as, in a few lines: verdict and findings in words, doubts and unknown lines whole, values by their hash. */
function told(text: string, idiomId: string): string[] {
  const document = catalogue().idioms.get(idiomId);
  if (!document) throw new Error(idiomId);
  const read = readRecitals(text, idiomOf(document), catalogue());
  if (!read.ok) return [JSON.stringify(read.problem)];
  return read.value.flatMap(({ configuration, completeness, release: of }) => {
    const { settings, rows, active, unknown } = configuration;
    const doubts = doubtsOf(configuration);
    return [
      `${of.id}: ${completeness.verdict}; ${settings.length} values ${hash(settings)}, ${rows.length} rows ${hash(rows)}, active ${JSON.stringify(active)}`,
      ...completeness.findings.map(({ text: say, against }) => `  ${against ? "against" : "told"}: ${say}`),
      ...unknown.slice(0, 6).map((line) => `  not understood: ${JSON.stringify(line)}`),
      `  in doubt: ${doubts.values.length} values ${hash(doubts.values)}, ${doubts.rows.length} rows ${hash(doubts.rows)}, active ${JSON.stringify(doubts.active)}`,
      ...doubts.values.slice(0, 3).map((doubt) => `  doubt: ${JSON.stringify(doubt)}`),
    ];
  });
}

describe("reading and writing, held against what was read through", () => {
  it.each(SPOKEN)("%s", (id, name) => {
    const of = release(id);
    const target = findTarget(of, name)?.id ?? of.targets[0]?.id ?? "";
    const identity = {
      family: of.family,
      release: of.version,
      builtOn: of.builtOn,
      target,
      board: "Corsley Slate",
      chipId: "AA01-BB02-CC03",
    };
    const document = catalogue().idioms.get(of.idiom);
    if (!document) throw new Error(of.idiom);
    const idiom = idiomOf(document);
    const { doubts, ...sure } = worn(of, identity, 1);
    expect(doubts).toBeDefined();
    const lines = (extent: Extent) => reciteLines(sure, of, idiom, extent);
    const other = reciteLines(worn(of, identity, 4), of, idiom, "all");
    const whole = lines("all");
    const parts: Record<string, string[]> = { head: whole.slice(0, 12), foot: whole.slice(-6), written: [hash(whole)] };
    for (const extent of ["all", "moved", "active"] as const)
      parts[`read ${extent}`] = told(`${lines(extent).join("\n")}\n`, of.idiom);
    parts["with carriage returns, between foreign text"] = told(`hello\r\n${whole.join("\r\n")}\r\nbye\r\n`, of.idiom);
    for (const [i, each] of DAMAGES.entries())
      parts[`${i + 1}: ${JSON.stringify(each)}`] = told(
        damage(whole, other, each)
          .map(({ text }) => `${text}\n`)
          .join(""),
        of.idiom,
      );
    // the same on what is not whole by itself, without each line of the head, with two damages at once, and twice in one text
    const brief = (text: string) => {
      const [first = "", ...more] = told(text, of.idiom);
      return `${first} | ${hash(more)}`;
    };
    const asText = (hurt: readonly string[]) => hurt.map((line) => `${line}\n`).join("");
    const under = (texts: readonly string[], each: Damage) => damage(texts, other, each).map(({ text }) => text);
    for (const extent of ["moved", "active"] as const)
      parts[`${extent}, damaged`] = DAMAGES.map((each) => brief(asText(under(lines(extent), each))));
    parts["without a line of its head"] = whole.slice(0, 14).map((_, i) => brief(asText(whole.toSpliced(i, 1))));
    parts["without a line of its foot"] = [1, 2, 3, 4, 5].map((i) => brief(asText(whole.toSpliced(-i, 1))));
    parts["two damages"] = DAMAGES.map((each, i) =>
      brief(asText(under(under(whole, each), DAMAGES[(i + 5) % DAMAGES.length] ?? each))),
    );
    parts.twice = told(asText([...whole, ...other]), of.idiom);
    parts.begun = [0, 1, 5, 60, whole.length - 1].map((length) => brief(asText(whole.slice(0, length))));
    const recognised = recogniseText(whole.join("\n"), catalogue());
    const { recital, recitals, recognition } = valueOf(recognised);
    parts.recognised = [`${recital.release.id} of ${recitals.length}: ${JSON.stringify(recognition)}`];
    expectGolden(`reading/${id}`, parts);
  });
});
