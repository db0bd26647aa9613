import fc from "fast-check";
import { openItems, planUpdate, settlePlan, writtenDown } from "@/core/carryover";
import { firmwareById, type Catalogue, type Firmware } from "@/core/catalog";
import type { Value, ValueType } from "@/core/config";
import { defaultConfiguration, idiomOf, lineWriter } from "@/core/idiom";
import { rehearseRegion } from "@/core/job/twin";
import { valueOf } from "@/core/problem";
import { catalogue } from "../../../tests/support/workshop";

const TARGET = "RIDGE-35";
const part = (id: string): Firmware => {
  const found = firmwareById(catalogue(), id);
  if (!found) throw new Error(`there is no ${id}`);
  return found;
};

const within = (type: ValueType): fc.Arbitrary<Value> | undefined => {
  if (type.kind === "number") {
    const { min, max, step } = type;
    return fc.integer({ min: 0, max: Math.floor((max - min) / step) }).map((n) => Number((min + n * step).toFixed(6)));
  }
  if (type.kind === "choice") return fc.constantFrom(...type.options);
  return type.kind === "switch" ? fc.boolean() : undefined;
};

/** Whatever somebody may have set on a part that runs a release. */
const anySettings = (release: Firmware) =>
  fc.record(
    Object.fromEntries(
      release.settings.flatMap(({ key, type }) => {
        const values = within(type);
        return values ? [[key, fc.option(values, { nil: undefined })] as const] : [];
      }),
    ),
  );

/** What is said of a plan; `real`: what the firmware really is that starts on it. */
function rehearsed(
  from: Firmware,
  to: Firmware,
  set: Readonly<Record<string, Value | undefined>>,
  by: Catalogue,
  real = to,
) {
  const bare = defaultConfiguration(from, TARGET, { family: from.family, release: from.version, target: TARGET });
  const settings = bare.settings.map((each) => ({ ...each, value: set[each.key] ?? each.value }));
  const plan = valueOf(planUpdate({ configuration: { ...bare, settings, begun: [] }, release: from }, to, TARGET, by));
  const decisions = Object.fromEntries(openItems(plan, {}).map((item) => [item.id, item.choices[0]?.id ?? ""]));
  const document = by.idioms.get(to.idiom);
  if (!document) throw new Error("it has no language");
  const script = writtenDown(valueOf(settlePlan(plan, decisions, to)), to, lineWriter(to, idiomOf(document)));
  return rehearseRegion({ plan, decisions, script }, real, by);
}

describe("what goes over to a part as a settings region", () => {
  it.each([
    ["spindle-41", "spindle-45"],
    ["spindle-44", "spindle-45"],
    ["spindle-45", "spindle-44"],
    ["spindle-45", "spindle-41"],
  ])("comes out as planned whatever was set, from %s to %s", (before, after) => {
    const [from, to] = [part(before), part(after)];
    fc.assert(
      fc.property(anySettings(from), (set) => {
        expect(valueOf(rehearsed(from, to, set, catalogue()))).toEqual([]);
      }),
      { numRuns: Number(process.env.SOAK ?? 60) },
    );
  });

  it("a value that the firmware does not keep is said before anything is erased", () => {
    const [from, to] = [part("spindle-44"), part("spindle-45")];
    const narrower = (each: Firmware["settings"][number]) =>
      each.key === "lead angle" && each.type.kind === "number" ? { ...each, type: { ...each.type, max: 20 } } : each;
    const real = { ...to, settings: to.settings.map(narrower) };
    expect(valueOf(rehearsed(from, to, { "lead angle": 20 }, catalogue(), real))).toEqual([]);
    const said = valueOf(rehearsed(from, to, { "lead angle": 24 }, catalogue(), real));
    expect(said.slice(1)).toEqual([expect.stringMatching(/^Lead angle: planned 24 °, adjusted 20 °/)]);
  });

  it("a region that two releases would have written is refused before anything is erased", () => {
    const [from, to] = [part("spindle-44"), part("spindle-45")];
    const double: Firmware & { part: string } = { ...to, part: "speed controllers", id: "spindle-45-b", version: "46" };
    const settings = double.settings.map((each, i) => (i === 0 ? { ...each, key: "another" } : each));
    const parts = new Map([...catalogue().parts, [double.id, { ...double, settings }] as const]);
    const result = rehearsed(from, to, {}, { ...catalogue(), parts });
    expect(result.ok).toBe(false);
  });
});
