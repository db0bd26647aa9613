import fc from "fast-check";
import {
  adviceOn,
  isUntuned,
  leavesUntuned,
  openItems,
  planUpdate,
  SCOPE_KINDS,
  settlePlan,
  unknownNames,
  withScope,
  type Plan,
  type PlanItem,
  type Scope,
} from "@/core/carryover";
import { defaultOf, indexOf, LOSSES, slotsOf, type Release } from "@/core/catalog";
import { addressId, AREAS, equalValues, rowId, settingsByAddress } from "@/core/config";
import { valueOf } from "@/core/problem";
import { catalogue, release } from "../../../tests/support/workshop";
import { worn } from "../../../tests/support/worn";

const WAYS = [
  ["heddle-22", "heddle-24", "CSLATE-B"],
  ["heddle-24", "heddle-19", "CSLATE-B"],
  ["heddle-22", "weft-9", "PWEIR"],
  ["heddle-23", "heddle-23", "CSLATE-B"],
  ["treadle-71", "bobbin-41", "FGULL"],
] as const;

const way = fc.constantFrom(...WAYS);
const drawnScope = (to: Release): fc.Arbitrary<Scope> =>
  fc.record(
    {
      kind: fc.constantFrom(...SCOPE_KINDS),
      starter: fc.constantFrom(...to.starters.map(({ name }) => name), "no such set"),
      leave: fc.subarray([
        ...AREAS,
        ...to.profiles.map(({ kind }) => `${kind} 1`),
        ...slotsOf(to)
          .map(({ id }) => id)
          .slice(0, 9),
      ]),
    },
    { requiredKeys: ["kind"] },
  );

function planned([fromId, toId, target]: (typeof WAYS)[number], seed: number) {
  const [from, to] = [release(fromId), release(toId)];
  const on = to.targets.some(({ id }) => id === target) ? target : (to.targets[0]?.id ?? "");
  const identity = { family: from.family, release: from.version, target };
  const source = worn(from, identity, seed);
  return {
    from,
    to,
    on,
    source,
    plan: valueOf(planUpdate({ configuration: source, release: from }, to, on, catalogue())),
  };
}

const settingsOf = (plan: Plan) => plan.items.flatMap((item) => (item.kind === "setting" ? [item] : []));
const firstChoices = (plan: Plan) =>
  Object.fromEntries(openItems(plan, {}).map((item) => [item.id, item.choices[0]?.id ?? ""]));

describe("what comes along", () => {
  it("whatever is chosen: each place of the release has one item, each value of the source has one", () => {
    fc.assert(
      fc.property(
        way.chain((each) => fc.tuple(fc.constant(each), drawnScope(release(each[1])), fc.nat(6))),
        ([each, scope, seed]) => {
          const { from, to, plan } = planned(each, seed);
          const made = withScope(plan, scope, to);
          const ids = made.items.map(({ id }) => id);
          expect(new Set(ids).size).toBe(ids.length);
          const items = new Set(ids);
          expect(slotsOf(to).filter(({ id }) => !items.has(id))).toEqual([]);
          const came = new Map<string, number>();
          for (const item of settingsOf(made))
            for (const side of [...(item.from ? [item.from] : []), ...(item.others ?? [])]) {
              const id = addressId(side);
              came.set(id, (came.get(id) ?? 0) + 1);
            }
          // one that is split, or goes into several profiles, has one in each place that it comes to
          expect(slotsOf(from).filter(({ id }) => !came.has(id))).toEqual([]);
          // rows and lines are never fewer than they were
          const others = (p: Plan, kind: PlanItem["kind"]) => p.items.filter((item) => item.kind === kind && item.from);
          expect(others(made, "row").length).toBe(others(plan, "row").length);
          expect(others(made, "line").length).toBe(others(plan, "line").length);
          expect(made.items.filter(({ loss }) => !LOSSES.includes(loss))).toEqual([]);
          expect(made.items.filter(({ outcome, reason }) => outcome !== "as-it-was" && reason === "")).toEqual([]);
        },
      ),
      { numRuns: 60 },
    );
  });

  it("case C29: what stays behind gets the starter set's value, else the default; all else is as without a scope", () => {
    fc.assert(
      fc.property(
        way.chain((each) => fc.tuple(fc.constant(each), drawnScope(release(each[1])), fc.nat(6))),
        ([each, scope, seed]) => {
          const { to, on, plan } = planned(each, seed);
          const made = withScope(plan, scope, to);
          const decisions = { ...firstChoices(plan), ...firstChoices(made) };
          const whole = settingsByAddress(valueOf(settlePlan(plan, decisions, to)).configuration);
          const settled = settingsByAddress(valueOf(settlePlan(made, decisions, to)).configuration);
          const starter = new Map(
            to.starters.find(({ name }) => name === scope.starter)?.values.map((v) => [addressId(v), v.value]),
          );
          const odd = settingsOf(made).filter((item) => {
            const setting = item.to && indexOf(to).settings.get(item.to.key);
            if (!setting || setting.housekeeping) return false;
            const filled = item.scoped ?? (!item.from && starter.has(item.id));
            const meant = filled ? (starter.get(item.id) ?? defaultOf(setting, on)) : whole.get(item.id)?.value;
            return JSON.stringify(settled.get(item.id)?.value) !== JSON.stringify(meant);
          });
          expect(odd).toEqual([]);
        },
      ),
      { numRuns: 40 },
    );
  });

  it("a setting by its name stays behind in each of its profiles; what the release does not have is named", () => {
    const { to, plan } = planned(WAYS[0], 2);
    const made = withScope(plan, { kind: "chosen", leave: ["roll.push"] }, to);
    const left = made.items.filter((item) => item.kind === "setting" && item.scoped).map(({ id }) => id);
    expect(left.length).toBeGreaterThan(1);
    expect(left.every((id) => id.endsWith("/roll.push"))).toBe(true);
    const names = ["tune", "tune 3", "tune 3/roll.push", "roll.push", "row ports/3", "lights"];
    expect(unknownNames({ kind: "chosen", leave: [...names, "rol.push", "tune 9", "row nothing/1"] }, to)).toEqual([
      "rol.push",
      "tune 9",
      "row nothing/1",
    ]);
  });

  it("tables that stay behind hold what a freshly erased board holds", () => {
    const { to, plan } = planned(WAYS[0], 2);
    const made = withScope(plan, { kind: "chosen", leave: ["lights"] }, to);
    const { rows } = valueOf(settlePlan(made, firstChoices(made), to)).configuration;
    const lights = to.tables.find(({ area }) => area === "lights");
    expect(rows.filter(({ table }) => table === lights?.name).map(rowId)).toEqual(
      lights?.rows.map(({ key }) => `${lights.name}/${key}`),
    );
  });

  it("only what was set by hand: nothing that nobody set is carried, and nothing silent is asked", () => {
    const { to, on, plan } = planned(WAYS[0], 1);
    const made = withScope(plan, { kind: "own" }, to);
    expect(settingsOf(plan).some(({ call }) => call === "silent")).toBe(true);
    expect(settingsOf(made).filter(({ call }) => call === "silent")).toEqual([]);
    for (const item of settingsOf(made))
      if (item.from?.moved === false && item.to) {
        const setting = to.settings.find(({ key }) => key === item.to?.key);
        if (setting) expect(equalValues(item.to.value, defaultOf(setting, on), setting.type)).toBe(true);
      }
  });

  it("case C30: nobody tuned it where tune stays behind and no starter set is laid", () => {
    expect(
      [
        { kind: "everything" },
        { kind: "own" },
        { kind: "without-feel" },
        { kind: "without-feel", starter: "sedge-7" },
        { kind: "wiring" },
        { kind: "chosen", leave: ["lights"] },
        { kind: "chosen", leave: ["tune"] },
      ].map((scope) => leavesUntuned(scope as Scope)),
    ).toEqual([false, false, true, false, true, false, true]);
  });

  it("case C30: by the plan: what of tune flies afterwards decides, not what it was called", () => {
    const { to, plan } = planned(WAYS[0], 1);
    const flies = plan.active.tune ?? 1;
    const other = flies === 1 ? 2 : 1;
    const feel = plan.active.feel ?? 1;
    const untuned = (scope: Scope) => isUntuned(withScope(plan, scope, to), scope);
    expect(untuned({ kind: "everything" })).toBe(false);
    expect(untuned({ kind: "without-feel" })).toBe(true);
    expect(untuned({ kind: "without-feel", starter: "sedge-7" })).toBe(false);
    expect(untuned({ kind: "wiring" })).toBe(true);
    expect(untuned({ kind: "chosen", leave: [`tune ${flies}`, `feel ${feel}`] })).toBe(true);
    expect(untuned({ kind: "chosen", leave: [`tune ${other}`] })).toBe(false);
    expect(untuned({ kind: "chosen", leave: ["lights"] })).toBe(false);
  });

  it("advice rests on what became of what was tuned", () => {
    const near = planned(["heddle-23", "heddle-23", "CSLATE-B"], 3).plan;
    expect(adviceOn(near, false).scope).toBe("everything");
    const tuned = settingsOf(near).filter(({ area, from }) => area === "tune" && from?.moved);
    expect(tuned.length).toBeGreaterThan(1);
    const changed = {
      ...near,
      items: near.items.map((item) =>
        item.kind === "setting" && item.from?.moved ? { ...item, loss: "look" as const } : item,
      ),
    };
    const advice = adviceOn(changed, false);
    expect(advice).toMatchObject({
      scope: "without-feel",
      because: expect.stringMatching(/^Tune anew: (\d+) of \1 /) as string,
    });
    expect(adviceOn(near, true)).toMatchObject({ scope: "without-feel" });
    expect(adviceOn({ ...near, items: [] }, true)).toMatchObject({ scope: "everything" });
  });
});
