import { HOWS, type FleetImpact, type How, type ReleaseChanges } from "@/core/compare";
import { changesSentence, impactSentence } from "@/ui/firmware/sentences";

const changes = (counts: Partial<Record<How, number>>, more: Partial<ReleaseChanges> = {}): ReleaseChanges => ({
  route: "A → B",
  changes: [],
  requirements: [],
  counts: { ...(Object.fromEntries(HOWS.map((how) => [how, 0])) as Record<How, number>), ...counts },
  ...more,
});

describe("what a release changes, in a sentence", () => {
  it("names what needs a look, in the order of how much", () => {
    expect(changesSentence(changes({ silent: 5, behaviour: 2, restricts: 1 }), "One 1", "One 2")).toBe(
      "One 1 to One 2: 5 silent changes, 2 that behave otherwise, 1 that can limit flight.",
    );
    expect(changesSentence(changes({ silent: 1, behaviour: 1 }), "One 1", "One 2", "QW-01")).toBe(
      "QW-01 from One 1 to One 2: 1 silent change, 1 that behaves otherwise.",
    );
  });

  it("says when nothing changes, or nothing silently", () => {
    expect(changesSentence(changes({}), "One 1", "One 2")).toBe("One 1 to One 2: no setting changes.");
    const renamed = {
      id: "a",
      how: "renamed",
      title: "",
      place: "",
      area: "",
      flies: false,
      says: "",
      why: [],
    } as const;
    expect(changesSentence(changes({ renamed: 1 }, { changes: [renamed] }), "One 1", "One 2")).toBe(
      "One 1 to One 2: nothing changes silently.",
    );
  });
});

describe("what it would do to the fleet, in a sentence", () => {
  const aircraft = (n: number, problem = false): FleetImpact["aircraft"] =>
    Array.from({ length: n }, (_, i) => ({
      tag: `QW-${i}`,
      from: "One 1",
      counts: {},
      ...(problem ? { problem: { code: "x", message: "y" } } : {}),
    }));
  const silent = {
    id: "a",
    how: "silent",
    title: "",
    place: "",
    area: "",
    flies: true,
    says: "",
    why: [],
    aircraft: [],
  } as const;

  it("counts aircraft, silent settings, and those that cannot take it", () => {
    expect(impactSentence({ impacts: [silent], aircraft: [...aircraft(3), ...aircraft(2, true)] }, "One 2")).toBe(
      "One 2 would touch 3 aircraft: 1 setting silently. 2 aircraft cannot take it.",
    );
    expect(impactSentence({ impacts: [], aircraft: [] }, "One 2")).toBe("All run One 2 already.");
    expect(impactSentence({ impacts: [], aircraft: aircraft(1, true) }, "One 2")).toBe(
      "One 2 suits none of them. 1 aircraft cannot take it.",
    );
  });
});
