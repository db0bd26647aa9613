import { needsOfSettings, planUpdate, settlePlan, withAbility } from "@/core/carryover";
import { defaultConfiguration } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { abilityFault } from "@/core/catalog/abilities";
import type { Ability } from "@/core/catalog";
import { catalogue, release } from "../../../tests/support/workshop";

const abilityOf = (id: string): Ability => {
  const found = release(id).abilities.find((each) => each.id === "turn-over");
  if (!found) throw new Error(`${id} knows no such ability`);
  return found;
};

describe("abilities of a release", () => {
  it("an aircraft that can do it can still do it after whichever way to a later release, by the rules of the way", () => {
    const from = release("heddle-23");
    const target = "CSLATE-B";
    const base = { configuration: defaultConfiguration(from, target, { target }), release: from };
    const plan = valueOf(withAbility(valueOf(planUpdate(base, from, target, catalogue())), abilityOf(from.id), from));
    const decisions = Object.fromEntries(
      plan.items.flatMap(({ id, choices: [first] }) => (first ? [[id, first.id]] : [])),
    );
    const able = { configuration: valueOf(settlePlan(plan, decisions, from)).configuration, release: from };
    for (const id of ["heddle-23", "heddle-24", "heddle-30"]) {
      const to = release(id);
      const there = valueOf(planUpdate(able, to, target, catalogue()));
      expect([id, needsOfSettings(there, abilityOf(id), to).map(({ state }) => state)]).toEqual([
        id,
        ["there", "there"],
      ]);
    }
  });

  it("a release before it was known knows nothing of it, and neither do other branches", () => {
    for (const id of ["heddle-18", "heddle-22", "weft-9", "sley-3", "treadle-81"])
      expect(release(id).abilities).toEqual([]);
  });

  it("one that names what the release does not have, or cannot hold, is refused with its place", () => {
    const to = release("heddle-23");
    const own = abilityOf("heddle-23");
    const { lever } = own;
    if (!lever) throw new Error("it has no lever");
    const fault = (more: Partial<Ability>) => abilityFault({ ...own, ...more }, to)?.detail;
    expect(abilityFault(own, to)).toBeUndefined();
    expect(fault({ settings: [{ key: "motor.nothing", values: [1], why: "" }] })).toBe("motor.nothing");
    expect(fault({ settings: [{ key: "motor.protocol", values: ["digital-6", "digital-9"], why: "" }] })).toBe(
      "motor.protocol: digital-9",
    );
    expect(fault({ lever: { ...lever, table: "levers" } })).toBe("levers");
    expect(fault({ lever: { ...lever, cells: { action: "somersault" } } })).toBe("switches/action: somersault");
    expect(fault({ lever: { ...lever, channel: "action" } })).toBe("switches/action");
    expect(abilityFault({ ...own, lever: { ...lever, table: "levers" } }, to)?.where?.path).toBe("abilities/turn-over");
  });
});
