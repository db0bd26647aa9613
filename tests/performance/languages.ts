import fc from "fast-check";
import ini from "ini";
import { laterKey, readDocument } from "@/core/catalog";
import { defaultConfiguration, idiomOf, readRecital, readStatements, reciteBytes, reciteLines } from "@/core/idiom";
import { proposeIdiom, proposePassage } from "@/core/learn";
import { valueOf } from "@/core/problem";
import { configurations } from "../support/configurations";
import { definitions, smallCatalogue } from "../support/idioms";
import { language, languageFile, LANGUAGES, learntWhole } from "../support/languages";
import { catalogue, release } from "../support/workshop";
import { worn } from "../support/worn";
import { alternate } from "./alternate";
import { largeRelease } from "./large";

const DRAWN = 300;
const TIMES = 100;
const LINES = 600;
const SAMPLE_LINES = 2000;
const percent = (share: number) => `${(share * 100).toFixed(1)} %`;

/** Nothing but pairs of a key and its value. */
const INI = idiomOf(
  valueOf(
    readDocument(
      JSON.stringify({
        ...{ document: "idiom", id: "pairs-alone", title: "Pairs", facts: {}, recital: {} },
        spelling: { decimalMark: ".", on: "true", off: "false", listMark: "+", empty: "none" },
        lines: [{ means: "set", pattern: "{key} = {value...}" }],
      }),
    ),
  ),
);

/** Languages that are documents alone: how reading them grows with the text. */
function growth(say: (text?: string) => void): void {
  say("## Languages of the tests: a full backup of 1,600 settings read beside npm ini, and a hundred times the text");
  say();
  say(
    "| language | read, with types, places and judgement | statements alone | aim | a hundred times the text | aim |",
  );
  say("| --- | --- | --- | --- | --- | --- |");
  // a workshop has its firmware's documents before it reads anything
  catalogue();
  for (const { name, idiom, text } of LANGUAGES.map(language)) {
    const { catalogue: own, release: large } = largeRelease(
      valueOf(readDocument(languageFile(`${name}.idiom.yaml`).toString("utf8"))),
      "Reedling",
    );
    const told = defaultConfiguration(large, undefined, { family: large.family, release: large.version, target: "T1" });
    // with its last line ended: one that is not may be cut
    const whole = `${reciteLines(told, large, idiom, "all").join("\n")}\n`;
    const line = text.split(/\r?\n/)[4] ?? "";
    const read = (lines: number) => {
      const long = `${line}\n`.repeat(lines);
      return () => readStatements(long, idiom);
    };
    // read as one would by hand: the same settings as pairs, in as many bytes
    const pairs = reciteLines(told, large, INI, "all").join("\n").padEnd(whole.length, ";");
    const plain = () => ini.parse(pairs);
    const statements = alternate(() => readStatements(whole, idiom), plain, 500).ratio;
    const recital = () => valueOf(readRecital(whole, idiom, own));
    const { verdict } = recital().completeness;
    if (verdict === "incomplete") throw new Error(`${name} does not read what it wrote`);
    const beside = alternate(recital, plain, 1000).ratio;
    const grown = alternate(read(LINES * TIMES), read(LINES), 400).ratio;
    const [all, said] = [beside, statements].map((ratio) => `${ratio.toFixed(2)} ×`);
    say(`| ${name} | ${all} | ${said} | ≤ 1 × | ${grown.toFixed(0)} × | ≤ 150 × |`);
  }
  say();
}

/** How much of a language that nobody told is proposed rightly at first sight, and how long that takes. */
function proposals(say: (text?: string) => void): void {
  const any = definitions.chain((definition) => {
    const small = smallCatalogue(definition);
    return configurations(small.release, { family: "Small", release: "1" }).map((configuration) => ({
      ...small,
      configuration,
    }));
  });
  let [whole, learnt, told, understood, questions] = [0, 0, 0, 0, 0];
  for (const { release: of, idiom, configuration } of fc.sample(any, { numRuns: DRAWN, seed: 2026 })) {
    const text = new TextDecoder().decode(reciteBytes(configuration, of, idiom, "all"));
    const proposed = proposeIdiom(text, { id: "drawn", title: "Drawn" });
    if (!proposed.ok) continue;
    told += proposed.value.meaningful;
    understood += proposed.value.understood;
    questions += proposed.value.questions.length;
    if (proposed.value.understood < proposed.value.meaningful) continue;
    whole++;
    if (learntWhole(text, proposed.value.definition, { family: "Small", version: "1" }) === "complete") learnt++;
  }
  say(`## A language from a sample: ${DRAWN} drawn languages`);
  say();
  say(
    `Whole at first sight: ${percent(whole / DRAWN)} of the languages, ${percent(understood / told)} of all statements; of ${percent(learnt / DRAWN)} the sample is complete in the language and the release that come of it, without a word from anybody. ${(questions / DRAWN).toFixed(1)} questions on average, those for family, release and target included.`,
  );
  say();
}

const BINS = [0, 0.5, 0.7, 0.85, 0.95, 1.0001] as const;

/** Rules that two releases suggest, held against the rules that their documents have. */
function rules(say: (text?: string) => void): void {
  const bins = BINS.slice(1).map(() => ({ n: 0, stated: 0, true: 0 }));
  let [renamed, found] = [0, 0];
  for (const to of catalogue().releases.values()) {
    const passage = to.passages.find(({ from }) => from === to.ancestor);
    const from = passage && catalogue().releases.get(passage.from);
    if (!from) continue;
    const truth = new Map(from.settings.map(({ key }) => [key, laterKey(key, passage.rules)]));
    const proposed = new Map<string, string>();
    for (const { rule, confidence } of proposePassage(from, to).rules) {
      // a value that changed its unit or its words has a new name in the same rule
      if (!["rename", "rescale", "map"].includes(rule.rule) || !("to" in rule)) continue;
      if (!("key" in rule) || typeof rule.to !== "string") continue;
      proposed.set(rule.key, rule.to);
      const bin = bins[BINS.findIndex((least, i) => confidence >= least && confidence < (BINS[i + 1] ?? 2))];
      if (!bin) continue;
      bin.n++;
      bin.stated += confidence;
      if (truth.get(rule.key) === rule.to) bin.true++;
    }
    for (const [key, later] of truth)
      if (later !== key && to.settings.some((setting) => setting.key === later)) {
        renamed++;
        if (proposed.get(key) === later) found++;
      }
  }
  say("## Rules from two releases, held against what their documents say");
  say();
  say(
    `Of ${renamed} settings that were renamed on the demo's lineages the proposal names the right one first for ${percent(found / renamed)}.`,
  );
  say();
  say("| stated certainty | rules | stated on average | came true |");
  say("| --- | --- | --- | --- |");
  bins.forEach(({ n, stated, true: came }, i) => {
    if (n > 0)
      say(
        `| ${percent(BINS[i] ?? 0)} to ${percent(Math.min(1, BINS[i + 1] ?? 1))} | ${n} | ${percent(stated / n)} | ${percent(came / n)} |`,
      );
  });
  say();
}

/** What a long sample takes until its language is proposed. */
function longSample(say: (text?: string) => void): void {
  const of = release("heddle-23");
  const document = catalogue().idioms.get(of.idiom);
  if (!document) throw new Error("no idiom");
  const lines = reciteLines(
    worn(of, { family: of.family, release: of.version, target: "CSLATE-B" }),
    of,
    idiomOf(document),
    "all",
  );
  const body = lines.filter((line) => line.startsWith("put "));
  const more = Array.from({ length: SAMPLE_LINES - lines.length }, (_, i) =>
    (body[i % body.length] ?? "").replace(/^put (\S+)/, `put $1.x${i}`),
  );
  const sample = `${[...lines.slice(0, -1), ...more].join("\n")}\n`;
  const start = performance.now();
  proposeIdiom(sample, { id: "long", title: "Long" });
  const ms = performance.now() - start;
  say(`A language was proposed from a sample of ${SAMPLE_LINES} lines in ${ms.toFixed(0)} ms (aim: 2,000 ms).`);
  say();
}

export function languagesBench(say: (text?: string) => void): void {
  growth(say);
  longSample(say);
}

/** How good proposals are: counted, not timed. */
export function proposalsBench(say: (text?: string) => void): void {
  proposals(say);
  rules(say);
}
