import { planCarryover, routeBetween, routeTitle } from "@/core/carryover";
import { findTarget, meeting, releaseById, releaseTitle, type PassageRule } from "@/core/catalog";
import { changesBetween } from "@/core/compare";
import { defaultConfiguration, idiomOf, readRecital, reciteLines } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { demoCatalogue, demoDocuments } from "./documents";

const catalogue = demoCatalogue();
const releases = [...catalogue.releases.values()];
const release = (id: string) => valueOf(releaseById(catalogue, id));

describe("the demo world", () => {
  it("each release is large: settings, areas, tables, profiles", () => {
    for (const each of releases) {
      const areas = new Set(each.settings.map((s) => s.area)).size;
      expect({
        id: each.id,
        settings: each.settings.length >= 220,
        areas: areas >= 14,
        tables: each.tables.length,
      }).toEqual({ id: each.id, settings: true, areas: true, tables: 8 });
      expect(each.profiles.map((p) => [p.kind, p.count])).toEqual([
        ["tune", 5],
        ["feel", 2],
        ["battery", 4],
      ]);
    }
  });

  it("other parts have lineages of their own, and what releases require of them is there", () => {
    const parts = [...catalogue.parts.values()];
    const titles = (part: string) => parts.filter((each) => each.part === part).map(releaseTitle);
    expect(titles("co-processor")).toEqual(["Pirn 4", "Pirn 5", "Pirn 6"]);
    expect(titles("speed controllers")).toEqual(["Spindle 41", "Spindle 44", "Spindle 45"]);
    expect(titles("loader")).toEqual(["Batten 2", "Batten 3"]);
    for (const each of releases)
      for (const requirement of each.requires)
        expect([each.id, requirement.family, meeting(catalogue, requirement).length > 0]).toEqual([
          each.id,
          requirement.family,
          true,
        ]);
    for (const from of parts)
      for (const to of parts.filter(({ part }) => part === from.part)) {
        const found = valueOf(changesBetween(from, to, catalogue));
        const unexplained = found.changes.filter(({ how, why }) => how === "lost" && why.length === 0);
        const differs = from !== to && from.settings.length > 0;
        expect([from.id, to.id, unexplained, found.changes.length > 0]).toEqual([from.id, to.id, [], differs]);
      }
  });

  it("neighbouring releases differ as real ones do", () => {
    // the great renaming of the wings counts for itself
    const rules = releases
      .flatMap((each) => each.passages)
      .filter((passage) => passage.from !== "heddle-18" || passage.rules.length < 50)
      .flatMap((passage) => passage.rules);
    const count = (kind: PassageRule["rule"]) => rules.filter((rule) => rule.rule === kind).length;
    const moved = demoDocuments().flatMap(({ document }) =>
      ((document.change ?? []) as { default?: unknown; type?: unknown }[]).filter(
        (change) => change.default !== undefined && change.type === undefined,
      ),
    ).length;
    const added = demoDocuments().flatMap(({ document }) => (document.add ?? []) as unknown[]).length;
    const least = {
      rename: 25,
      rescale: 15,
      map: 10,
      retire: 20,
      behaviour: 6,
      move: 5,
      split: 2,
      merge: 2,
      renumber: 1,
      restrict: 1,
      ranges: 1,
    } as const;
    for (const [kind, n] of Object.entries(least))
      expect([kind, count(kind as PassageRule["rule"]) >= n]).toEqual([kind, true]);
    expect(moved).toBeGreaterThanOrEqual(35);
    expect(added).toBeGreaterThanOrEqual(40);
  });

  it("every release reads back what it writes, in its own idiom", () => {
    for (const each of releases) {
      const document = catalogue.idioms.get(each.idiom);
      const [target] = each.targets;
      if (!document || !target) throw new Error(each.id);
      const idiom = idiomOf(document);
      const identity = { family: each.family, release: each.version, target: target.id };
      const lines = reciteLines(defaultConfiguration(each, target.id, identity), each, idiom, "all");
      const read = valueOf(readRecital(`${lines.join("\n")}\n`, idiom, catalogue));
      expect([each.id, read.completeness.verdict, read.configuration.unknown]).toEqual([each.id, "complete", []]);
      expect(reciteLines(read.configuration, each, idiom, "all")).toEqual(lines);
    }
  });

  it("a way leads from every release to every other, and every value has an outcome", () => {
    for (const from of releases)
      for (const to of releases) {
        const route = valueOf(routeBetween(catalogue, from, to));
        const [target] = to.targets;
        if (!target) throw new Error(to.id);
        const source = defaultConfiguration(from, from.targets[0]?.id, { target: from.targets[0]?.id ?? "" });
        const plan = planCarryover({ source, from, to, target, route, whose: "this-board" });
        // nothing gets lost without a reason
        const unexplained = plan.items.filter((item) => item.outcome === "unknown").map((item) => item.id);
        expect([releaseTitle(from), releaseTitle(to), unexplained]).toEqual([releaseTitle(from), releaseTitle(to), []]);
      }
  });

  it("ways go along the lineage, backwards where they must, and by meaning between families", () => {
    const title = (from: string, to: string) =>
      routeTitle(release(from), valueOf(routeBetween(catalogue, release(from), release(to))));
    expect(title("heddle-19", "heddle-24")).toBe("Heddle 19 → 22 → 23 → 24");
    expect(title("heddle-24", "heddle-22")).toBe("Heddle 24 → 23 → 22");
    expect(title("heddle-22", "weft-9")).toBe("Heddle 22 → 23 → Weft 9");
    expect(title("heddle-18", "treadle-80")).toBe("Heddle 18 → Treadle 71 → 80");
    expect(title("heddle-23", "bobbin-41")).toBe("Heddle 23 → Bobbin 41");
  });

  it("case C14, case C13: motors are renumbered by a three-cycle and back by its inverse; the receiver's port is judged", () => {
    const [from, to] = [release("heddle-23"), release("weft-9")];
    const [there, back] = [findTarget(to, "PWEIR"), findTarget(from, "PWEIR")];
    if (!there || !back) throw new Error("no target");
    const source = defaultConfiguration(from, "PWEIR", { target: "PWEIR" });
    const plan = planCarryover({
      source,
      from,
      to,
      target: there,
      route: valueOf(routeBetween(catalogue, from, to)),
      whose: "this-board",
    });
    const rows = plan.items.flatMap((item) => (item.kind === "row" ? [item] : []));
    const outputs = rows.filter((row) => row.table === "outputs");
    expect(Object.fromEntries(outputs.map((row) => [row.from?.key, row.to?.key]))).toEqual({
      M1: "M2",
      M2: "M3",
      M3: "M1",
      M4: "M4",
    });
    expect(rows.find((row) => row.table === "ports" && row.from?.key === "2")).toMatchObject({
      outcome: "cannot-be-here",
    });
    const again = {
      ...source,
      rows: outputs.flatMap((row) => (row.to ? [{ table: "outputs", line: 0, ...row.to }] : [])),
    };
    const home = planCarryover({
      source: again,
      from: to,
      to: from,
      target: back,
      route: valueOf(routeBetween(catalogue, to, from)),
      whose: "this-board",
    });
    const returned = home.items.flatMap((item) => (item.kind === "row" && item.table === "outputs" ? [item.to] : []));
    expect(returned).toEqual(
      source.rows.filter((r) => r.table === "outputs").map(({ key, cells }) => ({ key, cells })),
    );
  });
});
