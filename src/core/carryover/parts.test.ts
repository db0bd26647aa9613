import { EVERYTHING, planUpdate, SCOPE_KINDS, withScope, type Scope, type SettingItem } from "@/core/carryover";
import { indexOf } from "@/core/catalog";
import { defaultConfiguration } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { catalogue, release } from "../../../tests/support/workshop";

function planned(
  fromId: string,
  toId: string,
  target: string,
  count: number,
  scope: Scope = EVERYTHING,
): SettingItem | undefined {
  const from = release(fromId);
  const base = defaultConfiguration(from, target, { target });
  const settings = base.settings.map((each) => (each.key === "notch.count" ? { ...each, value: count } : each));
  const recital = { configuration: { ...base, settings }, release: from };
  const plan = valueOf(planUpdate(recital, release(toId), target, catalogue()));
  return withScope(plan, scope, release(toId)).items.find(
    (item): item is SettingItem => item.id === "system/notch.count",
  );
}

describe("case C38: what the co-processor of a board does already is off on that board", () => {
  it.each([0, 1, 2, 3])(
    "with %i notches before: the plan turns them off and says why, where the board has the part",
    (count) => {
      const item = planned("weft-8", "weft-9", "PWEIR", count);
      expect(item?.to?.value).toBe(0);
      if (count > 0)
        expect(item).toMatchObject({
          outcome: "converted",
          loss: "limit",
          choices: [],
          reason: expect.stringContaining("The co-processor takes the motors' noise out") as string,
          from: { value: count },
        });
      else expect(item?.outcome).not.toBe("converted");
    },
  );

  it("whatever is to come along, and also where it was off before", () => {
    for (const kind of SCOPE_KINDS)
      for (const count of [0, 2])
        expect([kind, planned("weft-8", "weft-9", "PWEIR", count, { kind })?.to?.value]).toEqual([kind, 0]);
  });

  it("a board without the part keeps its own, and so does a release that does not speak of it", () => {
    const weft = release("weft-9");
    const bare = weft.targets.find(
      ({ id }) => ![...catalogue().models.values()].some((m) => m.target === id && m.parts),
    );
    expect(bare).toBeDefined();
    expect(planned("weft-8", "weft-9", bare?.id ?? "", 3)?.to?.value).toBe(3);
    expect(indexOf(release("heddle-23")).settings.get("notch.count")?.doneBy).toBeUndefined();
    expect(planned("heddle-22", "heddle-23", "PWEIR", 3)?.to?.value).toBe(3);
  });
});
