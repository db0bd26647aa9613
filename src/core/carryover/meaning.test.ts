import { passByMeaning } from "@/core/carryover/meaning";
import type { Traveller } from "@/core/carryover/pass";
import type { Hop } from "@/core/carryover/hop";
import type { Release, SettingDefinition } from "@/core/catalog";
import type { Value } from "@/core/config";

const setting = (more: Partial<SettingDefinition> & Pick<SettingDefinition, "key" | "type">): SettingDefinition => ({
  title: more.key,
  area: "tune",
  scope: "system",
  default: 0,
  says: "In tests only.",
  flies: false,
  belongsTo: "type",
  housekeeping: false,
  ...more,
});
const other = (settings: readonly SettingDefinition[], count = 3): Release =>
  ({
    id: "other-1",
    family: "Other",
    version: "1",
    settings,
    tables: [],
    profiles: [{ kind: "tune", title: "Tune", count }],
  }) as unknown as Release;
const hopTo = (to: Release): Hop => ({ from: to, to, by: "shared meanings", rules: [] });
const start = (key: string, value: Value, scope = "system"): Traveller =>
  ({ key, scope, value, trail: [], loss: "none" }) as Traveller;
const number = (step: number, unit: string) => ({ kind: "number", min: -1000, max: 1000, step, unit }) as const;

describe("a value that goes over to a family without a common ancestor", () => {
  it("goes through the concept's unit, offsets and factors both ways", () => {
    const fahrenheit = setting({
      key: "heat",
      type: number(0.1, "F"),
      concept: { id: "heat", factor: 5 / 9, offset: -160 / 9 },
    });
    const kelvin = setting({
      key: "temp",
      type: number(0.01, "K"),
      concept: { id: "heat", factor: 1, offset: -273.15 },
    });
    const [there] = passByMeaning(fahrenheit, start("heat", 212), hopTo(other([kelvin])), {});
    expect(there).toMatchObject({ key: "temp", scope: "system", value: 373.15 });
    expect(there?.trail).toEqual([
      expect.objectContaining({ rule: "meaning", before: "heat 212.0 F", after: "temp 373.15 K" }) as unknown,
    ]);
    const [back] = passByMeaning(kelvin, start("temp", 273.15), hopTo(other([fahrenheit])), {});
    expect(back).toMatchObject({ key: "heat", value: 32 });
    // without factor and offset it is the concept's own unit
    const celsius = setting({ key: "c", type: number(0.01, "C"), concept: { id: "heat" } });
    expect(passByMeaning(fahrenheit, start("heat", 50), hopTo(other([celsius])), {})[0]?.value).toBe(10);
  });

  it("words and flags go by what they mean; a word without a counterpart is lost, and said to be", () => {
    const from = setting({
      key: "mode",
      type: { kind: "choice", options: ["soft", "hard", "odd"] },
      concept: { id: "mode", words: { soft: "gentle", hard: "firm" } },
    });
    const to = setting({
      key: "feel",
      type: { kind: "choice", options: ["mild", "stiff"] },
      concept: { id: "mode", words: { mild: "gentle", stiff: "firm" } },
    });
    const pass = (value: string) => passByMeaning(from, start("mode", value), hopTo(other([to])), {})[0];
    expect(pass("hard")).toMatchObject({ key: "feel", value: "stiff" });
    expect(pass("hard")?.lost).toBeUndefined();
    expect(pass("odd")).toMatchObject({ lost: true });
    expect(pass("odd")?.trail.at(-1)).toMatchObject({ after: "feel no counterpart" });
    const flags = (key: string, options: readonly string[], words: Record<string, string>) =>
      setting({ key, type: { kind: "flags", options }, concept: { id: "parts", words } });
    const [parts] = passByMeaning(
      flags("parts", ["a", "b", "c"], { a: "left", b: "right" }),
      start("parts", ["b", "a", "c"]),
      hopTo(other([flags("bits", ["l", "r"], { l: "left", r: "right" })])),
      {},
    );
    expect(parts?.value).toEqual(["r", "l"]);
  });

  it("ends where the other family has no such setting, another kind of one, or fewer profiles", () => {
    const from = setting({ key: "gain", scope: "tune", type: number(1, ""), concept: { id: "gain" } });
    const gain = (more: Partial<SettingDefinition> = {}) =>
      setting({ key: "g", scope: "tune", type: number(1, ""), concept: { id: "gain" }, ...more });
    const at = (to: Release, scope: string) => passByMeaning(from, start("gain", 7, scope), hopTo(to), { tune: 2 })[0];
    expect(at(other([]), "tune 1")?.retired).toBe("Other 1 has no setting of this meaning");
    expect(at(other([gain({ type: { kind: "switch" } })]), "tune 1")?.retired).toBe(
      "Other 1 has no setting of this meaning",
    );
    expect(at(other([gain()], 2), "tune 2")).toMatchObject({ key: "g", scope: "tune 2", value: 7 });
    expect(at(other([gain()], 1), "tune 2")?.retired).toBe("Other 1 has fewer profiles of this kind");
    // kept once there: only the active profile's value goes
    expect(at(other([gain({ scope: "system" })]), "tune 2")).toMatchObject({ key: "g", scope: "system", value: 7 });
    expect(at(other([gain({ scope: "system" })]), "tune 1")).toMatchObject({ scope: "system", beside: true });
  });
});
