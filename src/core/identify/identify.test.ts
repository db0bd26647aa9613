import fc from "fast-check";
import { buildCatalogue, padsOfRow, releaseById, type CatalogueDocument, type ReleaseTarget } from "@/core/catalog";
import {
  candidatesOf,
  CLUE_KINDS,
  compareTargets,
  isCertain,
  nearestTargets,
  questionsFor,
  rankBoards,
  shownBy,
  targetLine,
  targetsBehind,
  usbId,
  type Clue,
  type Ranking,
} from "@/core/identify";
import { valueOf } from "@/core/problem";
import { demoCatalogue, demoDocuments } from "../../../demo/documents";
import { converse, firstClues, look, numbersFrom, oneOf } from "../../../tests/support/boards";

const catalogue = demoCatalogue();
const candidates = candidatesOf(catalogue);
const rank = (...clues: Clue[]) => rankBoards(candidates, clues);
const top = ({ targets }: Ranking) => targets[0]?.target;
const certainty = (ranking: Ranking, target: string) =>
  ranking.targets.find((each) => each.target === target)?.certainty ?? 0;

describe("which target a board takes", () => {
  it("case C16: a board prints another name than its target, and two models share one: found, with the evidence", () => {
    // its own firmware uses an old name of the target
    const ranking = rank({ kind: "target-word", seen: "CSLATE2" }, { kind: "printed", seen: "Slate 2" });
    expect(top(ranking)).toBe("CSLATE-B");
    expect(isCertain(ranking)).toBe(true);
    expect(ranking.targets[0]?.candidates.map(({ id }) => id)).toEqual(["corsley-slate", "corsley-slate-lite"]);
    const slate = ranking.candidates.find(({ candidate }) => candidate.id === "corsley-slate");
    expect(slate?.weighed.map(({ clue, pull }) => [clue.kind, pull])).toEqual([
      ["target-word", "strongly for"],
      ["printed", "strongly for"],
    ]);
  });

  it("case C17: revision B has another gyro and so another target: the next question tells them apart", () => {
    const ranking = rank({ kind: "printed", seen: "Reed" });
    expect(isCertain(ranking)).toBe(false);
    const [question] = questionsFor(ranking);
    expect([question?.kind, question?.place]).toEqual(["revision", "revision"]);
    expect(question?.answers.map(({ seen }) => seen).toSorted()).toEqual(["A", "B"]);
    const b = rank({ kind: "printed", seen: "Reed" }, { kind: "revision", seen: "B" });
    expect([top(b), isCertain(b)]).toEqual(["TREED-B", true]);
    // who cannot read the letter is asked for the gyro
    expect(questionsFor(ranking, ["revision"]).map(({ kind }) => kind)).toContain("gyro");
    expect(questionsFor(ranking, ["revision"]).map(({ kind }) => kind)).not.toContain("revision");
  });

  it("two that look alike are told apart by the small print at their edge", () => {
    const [question] = questionsFor(rank({ kind: "printed", seen: "Harrow F20" }));
    expect(question?.kind).toBe("small-print");
    const seven = rank({ kind: "printed", seen: "Harrow F20" }, { kind: "small-print", seen: "fh 07" });
    expect([top(seven), isCertain(seven)]).toEqual(["FHARROW", true]);
  });

  it("what is typed counts by how near it comes", () => {
    const near = certainty(rank({ kind: "printed", seen: "sluise" }), "PSLUICE");
    expect(near).toBeGreaterThan(certainty(rank(), "PSLUICE") * 3);
    expect(near).toBeLessThan(certainty(rank({ kind: "printed", seen: "SLUICE" }), "PSLUICE"));
  });

  it("a loader's processor excludes, whatever else speaks for a board", () => {
    const ranking = rank(
      { kind: "processor", seen: "Nettle 41" },
      { kind: "printed", seen: "Mote" },
      { kind: "target-word", seen: "TMOTE" },
    );
    expect(certainty(ranking, "TMOTE")).toBe(0);
    const mote = ranking.candidates.find(({ candidate }) => candidate.id === "tamsin-mote");
    expect(mote?.weighed[0]).toMatchObject({ pull: "excludes", likelihood: 0, bits: -Infinity });
  });

  it("case C65: evidence that contradicts itself is told as such, and the question that helps most is asked", () => {
    const ranking = rank({ kind: "target-word", seen: "PWEIR" }, { kind: "printed", seen: "Slate 2" });
    expect(isCertain(ranking)).toBe(false);
    expect(ranking.contradictions).toHaveLength(1);
    const [contradiction] = ranking.contradictions;
    expect(contradiction?.speaksFor.map(({ target }) => target)).toEqual([
      top(ranking) === "PWEIR" ? "CSLATE-B" : "PWEIR",
    ]);
    expect(questionsFor(ranking)[0]?.bits).toBeGreaterThan(0.3);
    // agreeing signs contradict nothing
    expect(rank({ kind: "target-word", seen: "PWEIR" }, { kind: "printed", seen: "Weir 41" }).contradictions).toEqual(
      [],
    );
  });

  it("case C65: without any evidence nothing is picked", () => {
    const none = rank();
    expect(isCertain(none)).toBe(false);
    expect(none.contradictions).toEqual([]);
    expect(Math.max(...none.targets.map((each) => each.certainty))).toBeLessThan(0.3);
    // the name is quickly read, and tells most
    expect(questionsFor(none)[0]?.kind).toBe("printed");
    // a word that no document knows speaks for a stranger
    const strange = rank({ kind: "target-word", seen: "WHATEVER" }, { kind: "small-print", seen: "zzzzzz" });
    expect(strange.stranger).toBeGreaterThan(none.stranger);
    expect(strange.contradictions.every(({ speaksFor }) => speaksFor.length === 0)).toBe(true);
  });

  it("case C20: a target under a new name is followed through aliases over releases", () => {
    const documents: CatalogueDocument[] = demoDocuments().map(({ document }) => document);
    const later = {
      document: "release",
      id: "heddle-renamed",
      family: "Heddle",
      version: "99",
      standing: "stable",
      builtOn: "2027-01-01",
      inherits: "heddle-23",
      region: { format: "heddle-region-99", stale: "refuse" },
      targets: [
        {
          id: "CS-SLATE-TWO",
          aliases: ["CSLATE-B"],
          processor: "Nettle 20",
          gyro: "Orrin 4",
          ports: [1, 2, 3, 4],
          pads: {},
        },
      ],
    } as const;
    const grown = valueOf(buildCatalogue([...documents, later]));
    expect(targetLine(grown, "CSLATE2")).toMatchObject({ name: "CS-SLATE-TWO" });
    expect(targetLine(grown, "CS-SLATE-TWO")?.names.toSorted()).toEqual(["CS-SLATE-TWO", "CSLATE-B", "CSLATE2"]);
    const ranking = rankBoards(candidatesOf(grown), [{ kind: "target-word", seen: "CSLATE2" }]);
    expect(top(ranking)).toBe("CS-SLATE-TWO");
  });

  it("a processor that no document knows leaves only a stranger, whatever else is said", () => {
    const ranking = rank({ kind: "processor", seen: "Nettle 99" }, { kind: "printed", seen: "Mote" });
    expect([ranking.stranger, isCertain(ranking)]).toEqual([1, false]);
    expect(ranking.candidates.every((each) => each.certainty === 0)).toBe(true);
    expect(questionsFor(ranking)).toEqual([]);
  });

  it("a workshop's own boards are likelier", () => {
    const owned = new Map([["tamsin-reed-b", 9]]);
    const ranking = rankBoards(candidates, [{ kind: "printed", seen: "Reed" }], owned);
    expect(ranking.candidates[0]?.candidate.id).toBe("tamsin-reed-b");
  });

  it("kinds are known by one name each, and every model of the demo world shows something of most", () => {
    expect(new Set(CLUE_KINDS.map(({ kind }) => kind)).size).toBe(CLUE_KINDS.length);
    for (const candidate of candidates.filter(({ model }) => model))
      expect(CLUE_KINDS.filter((kind) => kind.shows(candidate).length > 0).length).toBeGreaterThan(9);
    expect(usbId({ vendorId: 0x1209, productId: 0x20 })).toBe("0x1209:0x0020");
  });

  it("holds for every set of clues: certainties add up, order does not matter, what excludes stays excluded", () => {
    const clue = fc.constantFrom(...CLUE_KINDS).chain((kind) =>
      fc.record({
        kind: fc.constant(kind.kind),
        seen: fc.oneof(fc.constantFrom(...shownBy(kind, candidates)), fc.string({ maxLength: 12 })),
      }),
    );
    fc.assert(
      fc.property(fc.uniqueArray(clue, { selector: (c) => c.kind, maxLength: 8 }), (clues) => {
        const ranking = rankBoards(candidates, clues);
        const all = ranking.targets.reduce((sum, each) => sum + each.certainty, ranking.stranger);
        expect(all).toBeCloseTo(1, 9);
        const turned = rankBoards(candidates, clues.toReversed());
        expect(top(turned)).toBe(top(ranking));
        expect(certainty(turned, top(ranking) ?? "")).toBeCloseTo(ranking.targets[0]?.certainty ?? 0, 9);
        for (const { certainty: share, weighed } of ranking.candidates)
          if (weighed.some(({ pull }) => pull === "excludes")) expect(share).toBe(0);
        for (const question of questionsFor(ranking)) {
          expect(clues.some(({ kind }) => kind === question.kind)).toBe(false);
          expect(question.answers.length).toBeGreaterThan(0);
        }
      }),
      { numRuns: 400 },
    );
  });

  it("drawn boards: hardly one is taken for another, certainty means what it says, asking well asks less", () => {
    const random = numbersFrom(42);
    let [right, sure, surelyRight, best, any] = [0, 0, 0, 0, 0];
    const boards = 400;
    for (let i = 0; i < boards; i++) {
      const board = oneOf(
        candidates.filter(({ model }) => model),
        random,
      );
      const first = firstClues(board, candidates, 0.3, random);
      const talk = converse(board, candidates, first, random, "best");
      const ranking = rankBoards(candidates, talk.clues);
      if (top(ranking) === board.target) right++;
      if (talk.certain) {
        sure++;
        if (top(ranking) === board.target) surelyRight++;
      }
      best += talk.seconds;
      any += converse(board, candidates, first, random, "any").seconds;
    }
    expect(right / boards).toBeGreaterThan(0.95);
    expect(surelyRight / sure).toBeGreaterThan(0.96);
    expect(best).toBeLessThan(any * 0.6);
  });

  it("looks of a drawn board come from what it shows", () => {
    const board = candidates[0];
    if (!board) throw new Error("there is no board");
    expect(look(board, "printed", candidates, () => 0.5)[0]?.seen).toBe(board.model?.printed);
  });
});

describe("targets held against one another", () => {
  const target = (releaseId: string, id: string): ReleaseTarget => {
    const found = valueOf(releaseById(catalogue, releaseId)).targets.find((each) => each.id === id);
    if (!found) throw new Error(id);
    return found;
  };
  const special = target("heddle-22-pellow", "PSLUICE-X");
  const heddle = valueOf(releaseById(catalogue, "heddle-22"));

  it("case C11: the nearest official target of a maker's special, with the pads that differ and what each would break", () => {
    const uses = new Map([
      ["LED", "lights"],
      ["R4", "telemetry"],
      ["M1", "front left"],
    ]);
    const [first, ...others] = nearestTargets(special, heddle, uses);
    expect(first).toEqual({
      target: target("heddle-22", "PSLUICE"),
      pads: [
        { pad: "LED", here: "timer 5 channel 3", there: "timer 5 channel 2", uses: "lights" },
        { pad: "R4", here: "port 4 in and out, soft", there: "port 4 in, soft", uses: "telemetry" },
      ],
      breaks: 2,
    });
    expect(others.every((other) => other.pads.length > 2)).toBe(true);
    // another processor is no neighbour
    expect(nearestTargets(special, heddle).every((near) => near.target.processor === "Nettle 20")).toBe(true);
    // nothing breaks where nothing is used
    expect(compareTargets(special, target("heddle-22", "PSLUICE")).breaks).toBe(0);
  });

  it("another gyro breaks everything, so it is never the nearest", () => {
    const reed = target("heddle-22", "TREED");
    const near = nearestTargets(reed, heddle);
    expect(near[0]?.target.id).toBe("TREED");
    expect(near.find((each) => each.target.id === "TREED-B")).toMatchObject({
      gyro: { here: "Orrin 3", there: "Orrin 4" },
      breaks: 1,
      pads: [],
    });
    expect(near.at(-1)?.gyro).toBeDefined();
  });

  it("case C12: refusals of lights and of the second soft port together point at the target", () => {
    const { pins } = heddle;
    if (!pins) throw new Error("no pins");
    const running = target("heddle-22", "PSLUICE");
    const refused = [
      ...padsOfRow(pins, running, "lights", "1"),
      ...padsOfRow(pins, running, "lights", "2"),
      ...padsOfRow(pins, running, "ports", "4"),
    ];
    expect(refused).toEqual(["LED", "LED", "R4"]);
    const all = { targets: [...heddle.targets, special] };
    expect(targetsBehind(running, all, refused)[0]).toEqual({ target: special, explains: ["LED", "R4"] });
    // one alone is no sign, nor are pads that no other target serves otherwise
    expect(targetsBehind(running, all, ["LED", "LED"])).toEqual([]);
    expect(targetsBehind(running, all, ["LED", "M9"])).toEqual([]);
    // another board of the same processor explains them only where it serves them all
    expect(targetsBehind(running, heddle, refused)).toEqual([]);
  });

  it("targets are alike to themselves, and differ both ways in the same pads", () => {
    const every = [...catalogue.releases.values()].flatMap(({ targets }) => targets);
    fc.assert(
      fc.property(fc.constantFrom(...every), fc.constantFrom(...every), (a, b) => {
        expect(compareTargets(a, a)).toEqual({ target: a, pads: [], breaks: 0 });
        const [there, back] = [compareTargets(a, b).pads, compareTargets(b, a).pads];
        expect(there.map(({ pad }) => pad).toSorted()).toEqual(back.map(({ pad }) => pad).toSorted());
      }),
      { numRuns: 200 },
    );
  });
});
