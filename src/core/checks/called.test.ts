import fc from "fast-check";
import { slotsOf, type Release, type Slot } from "@/core/catalog";
import { calledBy, touchedBy } from "@/core/checks";
import { CHECK_KINDS } from "@/core/checks/kinds";
import { compareTwo } from "@/core/compare";
import type { Configuration, Value } from "@/core/config";
import { defaultConfiguration } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { catalogue } from "../../../tests/support/workshop";

const RELEASES = [...catalogue().releases.values()];
const targetOf = ({ targets }: Release) => targets[0]?.id ?? "";

const boardOf = (release: Release, change: (configuration: Configuration) => Configuration = (same) => same) => ({
  configuration: change(
    defaultConfiguration(release, targetOf(release), {
      family: release.family,
      release: release.version,
      target: targetOf(release),
      builtOn: release.builtOn,
    }),
  ),
  release,
});

function calls(left: ReturnType<typeof boardOf>, right: ReturnType<typeof boardOf>, sameAircraft = true): string[] {
  const comparison = valueOf(compareTwo(left, right, catalogue()));
  return calledBy(touchedBy(comparison, sameAircraft)).map(({ kind }) => kind.id);
}

const otherThan = ({ setting }: Slot, value: Value): Value | undefined => {
  const { type } = setting;
  switch (type.kind) {
    case "switch":
      return value !== true;
    case "choice":
      return type.options.find((each) => each !== value);
    case "number":
      return value === type.min ? type.min + type.step : type.min;
    default:
      return undefined;
  }
};

const withValue =
  ({ scope, setting }: Slot, value: Value) =>
  (configuration: Configuration): Configuration => ({
    ...configuration,
    settings: configuration.settings.map((entry) =>
      entry.key === setting.key && entry.scope === scope ? { ...entry, value, line: 7 } : entry,
    ),
  });

/** The same said once more, by area alone and from the page that the checks are for: not by the files that call for them. */
const BY_AREA: Readonly<Record<string, readonly string[]>> = {
  receiver: ["receiver", "failsafe"],
  switches: ["levers"],
  outputs: ["arms"],
  mixer: ["arms", "answer"],
  power: ["battery"],
  failsafe: ["failsafe"],
  calibration: ["level"],
};
const BY_FLYING_AREA: Readonly<Record<string, readonly string[]>> = {
  outputs: ["answer"],
  sensors: ["attitude", "answer"],
  navigation: ["limits"],
};

function plainAccount({ setting }: Slot, release: Release): string[] {
  const mounted = setting.concept !== undefined && setting.concept.id === release.pins?.mounted;
  const asked = new Set([
    ...(BY_AREA[setting.area] ?? []),
    ...(setting.flies ? [...(BY_FLYING_AREA[setting.area] ?? []), "hover"] : []),
    ...(mounted ? ["attitude", "level", "answer"] : []),
    ...(setting.maxByProcessor ? ["load"] : []),
    ...(setting.restricts === undefined ? [] : ["limits"]),
  ]);
  return CHECK_KINDS.map(({ id }) => id).filter((id) => asked.has(id));
}

describe("what a change calls for", () => {
  it("nothing changed: nothing is asked, of whichever release", () => {
    for (const release of RELEASES)
      expect([release.id, calls(boardOf(release), boardOf(release))]).toEqual([release.id, []]);
  });

  it("any one value, of every release: what the plain account says, and no other; what flies is never left unchecked", () => {
    let tried = 0;
    fc.assert(
      fc.property(fc.constantFrom(...RELEASES), fc.nat(), (release, n) => {
        const slots = slotsOf(release);
        const slot = slots[n % slots.length];
        const start = boardOf(release);
        const entry = start.configuration.settings.find(
          ({ key, scope }) => key === slot?.setting.key && scope === slot.scope,
        );
        const value = slot && entry && otherThan(slot, entry.value);
        fc.pre(slot !== undefined && value !== undefined && !slot.setting.housekeeping);
        tried++;
        const called = calls(start, boardOf(release, withValue(slot, value)));
        expect([slot.id, called]).toEqual([slot.id, plainAccount(slot, release)]);
        if (slot.setting.flies) expect(called.length).toBeGreaterThan(0);
      }),
      { numRuns: process.env.SOAK === undefined ? 300 : Number(process.env.SOAK) },
    );
    expect(tried).toBeGreaterThan(100);
  });

  it("the receiver on another port calls for itself and the failsafe; another port's use for neither", () => {
    const release = RELEASES.find(({ id }) => id === "heddle-22");
    const ports = release?.pins?.ports;
    if (!release || !ports?.receiver) throw new Error("the demo's release has no ports");
    const used = (uses: Readonly<Record<string, Value>>) =>
      boardOf(release, (configuration) => ({
        ...configuration,
        rows: Object.entries(uses).map(([key, use], i) => ({
          ...{ table: ports.table, key, cells: { [ports.use]: use }, line: i + 1 },
        })),
      }));
    const column = release.tables
      .find(({ name }) => name === ports.table)
      ?.columns.find(({ name }) => name === ports.use);
    const others = column?.type.kind === "choice" ? column.type.options.filter((use) => use !== ports.receiver) : [];
    const [one = "", other = ""] = others.filter((use) => !release.pins?.nothing.includes(use));
    const moved = calls(used({ 2: ports.receiver }), used({ 4: ports.receiver }));
    expect(moved).toEqual(expect.arrayContaining(["receiver", "failsafe"]));
    const elsewhere = calls(used({ 2: ports.receiver, 4: one }), used({ 2: ports.receiver, 4: other }));
    expect(elsewhere.filter((id) => id === "receiver" || id === "failsafe")).toEqual([]);
  });

  it("another release of the firmware calls for what a flash does, even where every value is alike", () => {
    const [left, right] = ["heddle-22", "heddle-23"].map((id) => RELEASES.find((release) => release.id === id));
    if (!left || !right) throw new Error("the demo lacks a release");
    expect(calls(boardOf(left), boardOf(right))).toEqual(
      expect.arrayContaining(["attitude", "receiver", "arms", "failsafe", "hover"]),
    );
  });

  it("another firmware of a part calls for what the part's settings are about, and not for what a board's does", () => {
    const parts = ["spindle-44", "spindle-45"].map((id) => catalogue().parts.get(id));
    const [left, right] = parts;
    if (!left || !right) throw new Error("the demo lacks a release");
    const on = (release: typeof left) => ({
      configuration: defaultConfiguration(release, "RIDGE-35", {
        ...{ family: release.family, release: release.version, target: "RIDGE-35", builtOn: release.builtOn },
      }),
      release,
    });
    const called = calledBy(touchedBy(valueOf(compareTwo(on(left), on(right), catalogue())), true));
    const ids = called.map(({ kind }) => kind.id);
    expect(ids).toEqual(expect.arrayContaining(["arms", "hover"]));
    expect(ids.filter((id) => ["attitude", "receiver", "levers", "level"].includes(id))).toEqual([]);
  });

  it("what belongs to one board alone counts on one aircraft, and not between two", () => {
    const release = RELEASES.find(({ id }) => id === "heddle-22");
    const slot =
      release &&
      slotsOf(release).find(({ setting }) => setting.area === "calibration" && setting.type.kind === "number");
    if (!release || !slot) throw new Error("the demo's release has no calibration");
    const other = boardOf(release, withValue(slot, 1));
    expect(calls(boardOf(release), other, true)).toContain("level");
    expect(calls(boardOf(release), other, false)).toEqual([]);
  });

  it("each check says what has to be done, what it shows and what it leaves open, and its name is its own", () => {
    expect(new Set(CHECK_KINDS.map(({ id }) => id)).size).toBe(CHECK_KINDS.length);
    for (const { does, shows, showsNot } of CHECK_KINDS)
      for (const says of [does, shows, showsNot]) expect(says).toMatch(/^[A-Z].*\.$/);
  });
});
