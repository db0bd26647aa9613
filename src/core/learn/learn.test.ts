import { defaultOf, buildCatalogue, checkDocument, laterKey, resolveRelease } from "@/core/catalog";
import { defaultConfiguration, idiomOf, likeliestIdiom, readRecital, reciteLines } from "@/core/idiom";
import { typeOfTexts, valueIn } from "@/core/learn/guess";
import { learnRelease } from "@/core/learn/release";
import { proposePassage } from "@/core/learn/passage";
import { namesAlike } from "@/core/learn/likeness";
import { valueOf } from "@/core/problem";
import { catalogue, release, statementIdiom } from "../../../tests/support/workshop";

/** The full read-out of a freshly erased board, and the idiom that it is in. */
function erased(id: string) {
  const of = release(id);
  const document = catalogue().idioms.get(of.idiom);
  if (!document) throw new Error("no idiom");
  const idiom = idiomOf(document);
  const identity = { family: of.family, release: of.version, target: of.targets[0]?.id ?? "", builtOn: of.builtOn };
  return {
    of,
    idiom,
    text: `${reciteLines(defaultConfiguration(of, identity.target, identity), of, idiom, "all").join("\n")}\n`,
  };
}
function learn(id: string) {
  const { text, idiom, of } = erased(id);
  const learnt = valueOf(learnRelease(text, idiom, catalogue()));
  const resolved = valueOf(resolveRelease(valueOf(checkDocument(structuredClone(learnt.document)))));
  return { of, learnt, resolved, text, idiom };
}

describe("learning a release from a read-out", () => {
  it.each(["heddle-22", "treadle-80", "bobbin-41"])("%s: every setting, profile and table, with its default", (id) => {
    const { of, learnt, resolved } = learn(id);
    expect(learnt.left).toEqual([]);
    expect(new Set(resolved.settings.map((s) => `${s.scope} ${s.key}`))).toEqual(
      new Set(of.settings.map((s) => `${s.scope} ${s.key}`)),
    );
    expect(resolved.profiles.map((p) => [p.kind, p.count])).toEqual(of.profiles.map((p) => [p.kind, p.count]));
    expect(new Set(resolved.tables.map((t) => t.name))).toEqual(new Set(of.tables.map((t) => t.name)));
    for (const setting of of.settings)
      if (setting.type.kind === "number")
        expect([setting.key, resolved.settings.find((s) => s.key === setting.key)?.default]).toEqual([
          setting.key,
          defaultOf(setting, of.targets[0]?.id),
        ]);
    expect(resolved.settings.every((s) => s.guessed)).toBe(true);
  });

  it("reads the text that it was learnt from as complete", () => {
    const { learnt, text, idiom } = learn("heddle-22");
    const documents = [valueOf(checkDocument(structuredClone({ ...learnt.document, family: "Learnt" })))];
    const learntCatalogue = valueOf(buildCatalogue(documents));
    const read = valueOf(
      readRecital(text.replace(";; firmware: Heddle", ";; firmware: Learnt"), idiom, learntCatalogue),
    );
    expect(read.configuration.unknown).toEqual([]);
    expect(read.completeness.missingSettings).toEqual([]);
  });

  it("guesses types by how values are written", () => {
    const idiom = statementIdiom();
    const guess = (...texts: string[]) => {
      const type = typeOfTexts(texts, idiom);
      return { type, value: valueIn(texts[0] ?? "", type, idiom) };
    };
    expect(guess("12.50")).toEqual({ type: { number: { min: 0, max: 50, step: 0.01 } }, value: 12.5 });
    expect(guess("-3")).toEqual({ type: { number: { min: -10, max: 10, step: 1 } }, value: -3 });
    expect(guess("yes")).toEqual({ type: { switch: true }, value: true });
    expect(guess("a+b")).toEqual({ type: { flags: ["a", "b"] }, value: ["a", "b"] });
    expect(guess("come-back")).toEqual({ type: { choice: ["come-back"] }, value: "come-back" });
    expect(guess("12,5").type).toEqual({ text: 32 });
    // everything that stood for a setting counts, not what came first
    expect(guess("soft", "nothing")).toEqual({ type: { text: 32 }, value: "soft" });
    expect(guess("a", "a+b", "nothing")).toEqual({ type: { flags: ["a", "b"] }, value: ["a"] });
    expect(guess("3", "-200").type).toEqual({ number: { min: -500, max: 500, step: 1 } });
    expect(guess("3", "soft").type).toEqual({ text: 32 });
  });

  it("finds the idiom of a release that nobody knows, whatever it is called", () => {
    const idioms = [...catalogue().idioms.values()].map(idiomOf);
    for (const id of catalogue().releases.keys()) {
      const { text, idiom, of } = erased(id);
      const foreign = text.replaceAll(of.family, "Nobody");
      expect([id, likeliestIdiom(foreign, idioms)?.id]).toEqual([id, idiom.id]);
      // also with what stood around it on the screen
      expect([id, likeliestIdiom(`hello\n\n${foreign}\nbye\n`, idioms)?.id]).toEqual([id, idiom.id]);
    }
    expect(likeliestIdiom("dear diary, it rained", idioms)).toBeUndefined();
    expect(likeliestIdiom("", idioms)).toBeUndefined();
  });

  it("refuses a text without values", () => {
    const result = learnRelease("dear diary", statementIdiom(), catalogue());
    expect(!result.ok && result.problem.code).toBe("learn-nothing");
  });
});

describe("proposing the passage between two releases", () => {
  const [from, to] = [release("heddle-22"), release("heddle-23")];
  const { rules, fresh } = proposePassage(from, to);
  const proposed = new Map(
    rules.flatMap(({ rule }) => ("key" in rule ? [[`${rule.rule} ${rule.key}`, rule] as const] : [])),
  );

  it("finds again most of what people wrote down, from the definitions alone", () => {
    const written = to.passages[0]?.rules ?? [];
    const renames = written.filter((rule) => rule.rule === "rename");
    const found = renames.filter((rule) => {
      const guess = proposed.get(`rename ${rule.key}`);
      return guess?.rule === "rename" && guess.to === rule.to;
    });
    expect(found.length / renames.length).toBeGreaterThanOrEqual(0.8);
    const retired = written.filter((rule) => rule.rule === "retire");
    expect(retired.filter((rule) => proposed.has(`retire ${rule.key}`)).length / retired.length).toBeGreaterThanOrEqual(
      0.6,
    );
    expect(proposed.get("rescale battery.low")).toMatchObject({ to: "battery.cell.low", factor: 0.1 });
    expect(proposed.get("map gyro.smoothing.kind")).toMatchObject({ words: { gentle: "first-order" } });
    expect(fresh).toContain("ceiling.hard");
  });

  it("every proposal says how sure it is and what speaks for it, the surest first", () => {
    for (const { confidence, because } of rules) {
      expect(confidence).toBeGreaterThanOrEqual(0);
      expect(confidence).toBeLessThanOrEqual(1);
      expect(because.length).toBeGreaterThan(0);
    }
    expect(rules.map((r) => r.confidence)).toEqual(rules.map((r) => r.confidence).toSorted((a, b) => b - a));
  });

  it("what is said to be nearly certain is nearly always so, on every lineage of the demo", () => {
    let [said, came] = [0, 0];
    for (const later of catalogue().releases.values()) {
      const passage = later.passages.find((each) => each.from === later.ancestor);
      const earlier = passage && catalogue().releases.get(passage.from);
      for (const { rule, confidence } of earlier ? proposePassage(earlier, later).rules : []) {
        if (!passage || confidence < 0.85 || confidence === 1) continue;
        if (!("key" in rule) || !("to" in rule) || rule.rule === "move") continue;
        said++;
        if (laterKey(rule.key, passage.rules) === rule.to) came++;
      }
    }
    expect(said).toBeGreaterThan(40);
    expect(came / said).toBeGreaterThan(0.95);
  });

  it("nothing is proposed between a release and itself", () => {
    expect(proposePassage(from, from)).toEqual({ rules: [], fresh: [] });
  });

  it("names are alike by their parts, whatever the family writes between them", () => {
    expect(namesAlike("roll.hold-strength", "Hold strength, roll")).toBeGreaterThan(0.7);
    expect(namesAlike("roll.hold-strength", "lights.count")).toBeLessThan(0.2);
  });
});
