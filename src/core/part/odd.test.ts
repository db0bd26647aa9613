import fc from "fast-check";
import type { SettingDefinition } from "@/core/catalog";
import { fittedParts, oddOnes, partName, partsSentence, saidByName, type ReadPart } from "@/core/part";
import { defaultConfiguration } from "@/core/idiom";
import { catalogue } from "../../../tests/support/workshop";

const releases = ["spindle-41", "spindle-44", "spindle-45"].map((id) => {
  const release = catalogue().parts.get(id);
  if (!release) throw new Error(`the demo has no ${id}`);
  return release;
});
const TARGETS = ["RIDGE-20", "RIDGE-35"];

/** One of them as it could be read: a release, a code, and a number that somebody set. */
const read = fc.record({ release: fc.constantFrom(...releases), target: fc.constantFrom(...TARGETS), lead: fc.nat(3) });
const partsFrom = (all: readonly { release: (typeof releases)[number]; target: string; lead: number }[]): ReadPart[] =>
  all.map(({ release, target, lead }, i) => {
    const configuration = defaultConfiguration(release, target, { target });
    const settings = configuration.settings.map((each) =>
      each.key === "lead angle" ? { ...each, value: lead } : each,
    );
    const part = { name: partName("pump", i + 1), part: "pump", title: "pump", place: `place ${i + 1}` };
    return { part, release, target, configuration: { ...configuration, settings } };
  });

/** The plain account: whoever is not as more than half of them are, or everybody where none of it is. */
function plainly(values: readonly string[]): number[] {
  const most = values.find((value) => values.filter((each) => each === value).length * 2 > values.length);
  return values.flatMap((value, i) => (new Set(values).size > 1 && value !== most ? [i] : []));
}

describe("parts of a kind, held against each other", () => {
  it("whoever is not as the most of them are is told, by firmware, code and setting, and nobody else", () => {
    fc.assert(
      fc.property(fc.array(read, { minLength: 2, maxLength: 6 }), (all) => {
        const odd = oddOnes(partsFrom(all));
        const told = (what: string) =>
          odd.filter((each) => each.what === what).map(({ part }) => saidByName(part.name).no - 1);
        expect(told("firmware")).toEqual(plainly(all.map(({ release }) => release.id)));
        expect(told("built for")).toEqual(plainly(all.map(({ target }) => target)));
        const expected = releases.flatMap((release) => {
          const places = all.flatMap((each, i) => (each.release === release ? [i] : []));
          return plainly(places.map((i) => String(all[i]?.lead))).map((at) => places[at] ?? 0);
        });
        expect(told("Lead angle").toSorted()).toEqual(expected.toSorted());
      }),
      { numRuns: 200 },
    );
  });

  it("what belongs to the place of one part is never odd, and one alone has no like", () => {
    const [one, two] = partsFrom([
      { release: releases[1] ?? ({} as never), target: "RIDGE-35", lead: 1 },
      { release: releases[1] ?? ({} as never), target: "RIDGE-35", lead: 1 },
    ]);
    if (!one || !two) throw new Error("two were made");
    const own = (setting: SettingDefinition) => setting.belongsTo !== "type";
    const otherwise = one.release.settings.filter(own).map(({ key }) => key);
    expect(otherwise).toContain("turning way");
    const settings = two.configuration.settings.map((each) =>
      each.key === "turning way"
        ? { ...each, value: "against-clock" }
        : each.key === "serial"
          ? { ...each, value: 2 }
          : each,
    );
    expect(oddOnes([one, { ...two, configuration: { ...two.configuration, settings } }])).toEqual([]);
    expect(oddOnes([one])).toEqual([]);
  });

  it("an aircraft's own word about a kind counts before its board's", () => {
    const mount = { part: "pump", title: "pump", places: ["left", "right"], supply: "board" } as const;
    const model = { parts: [mount, "eye"] };
    expect(fittedParts(model, []).map(({ name }) => name)).toEqual(["pump 1", "pump 2", "eye 1"]);
    expect(fittedParts(model, [{ ...mount, places: ["tail"] }]).map(({ place }) => place)).toEqual([
      "on the board",
      "tail",
    ]);
    expect(partsSentence([], [])).toMatch(/^Nothing with firmware of its own/);
  });
});
