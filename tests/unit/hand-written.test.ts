import { readFileSync } from "node:fs";
import path from "node:path";
import { openItems, planUpdate, scriptOf, settlePlan, writerFor, type Plan } from "@/core/carryover";
import { readDocument, type Catalogue } from "@/core/catalog";
import type { Configuration, Value } from "@/core/config";
import { idiomOf } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { demoDocuments } from "../../demo/documents";
import { madeCatalogue, releaseIn, writtenValues } from "../support/made";

/** Documents as a maintainer would write them, and what a person works out of them with a pencil. */
const written = ["osier-1", "osier-2", "sallow-5"].map((id) =>
  valueOf(readDocument(readFileSync(path.join(__dirname, `../documents/${id}.release.yaml`), "utf8"))),
);
const statement = demoDocuments().flatMap(({ document }) => (document.id === "statement" ? [document] : []));
const processor = demoDocuments().flatMap(({ document }) => (document.id === "Nettle 20" ? [document] : []));
const catalogue: Catalogue = madeCatalogue(...statement, ...processor, ...written);

const flown = (family: string, release: string, values: Readonly<Record<string, Value>>): Configuration =>
  writtenValues(values, { identity: { family, release, target: "OSIER-A" }, active: { trim: 2 } });

function planned(from: string, to: string, source: Configuration): Plan {
  return valueOf(
    planUpdate(
      { configuration: source, release: releaseIn(catalogue, from) },
      releaseIn(catalogue, to),
      "OSIER-A",
      catalogue,
    ),
  );
}

/** Place → outcome, loss and what the board gets: what is compared with the pencil's table. */
const table = ({ items }: Plan) =>
  Object.fromEntries(
    items.flatMap((item) =>
      item.kind === "setting" ? [[item.id, [item.outcome, item.loss, item.to?.shown ?? "nothing"].join(", ")]] : [],
    ),
  );

const SOURCE = {
  "wing.span": 90,
  "glide.speed": 50,
  "stall.guard": "hard",
  "flare.height": 2.5,
  "old.habit": 4,
  "trim 2/trim.pitch": 1.7,
};

describe("documents that a maintainer wrote by hand", () => {
  it("one release to the next", () => {
    const plan = planned("osier-1", "osier-2", flown("Osier", "1", SOURCE));
    expect(table(plan)).toEqual({
      ...Object.fromEntries([1, 2, 3, 4, 5, 6].map((n) => [`system/rib.${n}`, `as-it-was, none, ${n}0 %`])),
      "system/frame.span": "renamed, none, 90 cm",
      // 50 km/h are 13.89 m/s, and the new step is half a metre
      "system/glide.speed": "converted, rounding, 14.0 m/s",
      "system/stall.guard": "your-call, lost, nothing",
      "system/flare.height": "your-call, look, 2.5 m",
      // nobody set it, and its default is another now
      "system/beacon.lit": "your-call, look, off",
      "system/tip.lights": "new-default, none, on",
      "system/old.habit": "retired, lost, nothing",
      "trim 1/trim.pitch": "as-it-was, none, 0.0 °",
      "trim 2/trim.pitch": "as-it-was, none, 1.7 °",
    });
    expect(plan.active).toEqual({ trim: 2 });
  });

  it("what is sent, line by line; the lamps are opened for their own sake only", () => {
    const to = releaseIn(catalogue, "osier-2");
    const plan = planned("osier-1", "osier-2", flown("Osier", "1", SOURCE));
    const decisions = { ...first(plan), "system/beacon.lit": "keep" };
    const [document] = statement;
    if (!document) throw new Error("no idiom");
    const lines = scriptOf(
      valueOf(settlePlan(plan, decisions, to)),
      to,
      writerFor(to, idiomOf(valueOf(catalogueIdiom()))),
    ).map(({ text }) => text);
    expect(lines).toEqual([
      "forget",
      "put frame.span 90",
      ...[1, 2, 3, 4, 5, 6].map((n) => `put rib.${n} ${n}0`),
      "put glide.speed 14.0",
      "put flare.height 2.5",
      "put stall.guard soon",
      "put beacon.lit no",
      "clear vanes",
      "use trim 1",
      "put trim.pitch 0.0",
      "use trim 2",
      "put trim.pitch 1.7",
      "use trim 2",
    ]);
  });

  it("to a family without a common ancestor, by what the settings mean", () => {
    const plan = planned(
      "osier-2",
      "sallow-5",
      flown("Osier", "2", {
        "frame.span": 135,
        "glide.speed": 14,
        "stall.guard": "never",
        "flare.height": 2.5,
        "trim 2/trim.pitch": 1.7,
      }),
    );
    expect(table(plan)).toMatchObject({
      // 135 cm are 1.35 m, and the step is a tenth
      "system/Breadth": expect.stringMatching(/rounding, 1\.4 m$/) as string,
      // 14 m/s are 27.2 kn
      "system/Sink": expect.stringMatching(/rounding, 27 kn$/) as string,
      "system/Droop": expect.stringMatching(/, idle$/) as string,
      // 30 % is a share of 0.3
      "system/Rib 3": expect.stringMatching(/, 0\.30$/) as string,
      "mood 2/Lean": expect.stringMatching(/rounding, 1\.5 °$/) as string,
    });
    // what is called a trim in the one is a mood in the other: by number, and the one in use is in use again
    expect(plan.active).toEqual({ mood: 2 });
    const ends = plan.items.filter(({ outcome }) => outcome === "retired" || outcome === "unknown");
    expect(ends.map(({ id }) => id).toSorted()).toEqual(expect.arrayContaining(["system/flare.height"]));
  });
});

const first = (plan: Plan) =>
  Object.fromEntries(openItems(plan, {}).map(({ id, choices }) => [id, choices[0]?.id ?? ""]));

function catalogueIdiom() {
  const found = catalogue.idioms.get("statement");
  return found
    ? ({ ok: true, value: found } as const)
    : ({ ok: false, problem: { code: "none", message: "none" } } as const);
}
