import fc from "fast-check";
import { entriesByPlace, placesOf, slotsOf } from "@/core/catalog";
import { addressId, type SettingEntry } from "@/core/config";
import { madeCatalogue, number, releaseIn, setting, wholeRelease } from "../../../tests/support/made";

const release = releaseIn(
  madeCatalogue(
    wholeRelease("slots-1", [
      setting("a", number(0, 9), 1),
      setting("b", number(0, 9), 1, { scope: "tune" }),
      setting("c", number(0, 9), 1),
      setting("d", number(0, 9), 1, { scope: "tune" }),
    ]),
  ),
  "slots-1",
);
const slots = slotsOf(release);
const entry = (at: number, line: number): SettingEntry => {
  const slot = slots[at];
  return { scope: slot?.scope ?? "system", key: slot?.setting.key ?? "not here", value: line, raw: "", line };
};

describe("the places of a release", () => {
  it("every address has one, each profile its own", () => {
    expect(slots.map((slot) => slot.id)).toEqual([
      "system/a",
      "tune 1/b",
      "tune 2/b",
      "tune 3/b",
      "system/c",
      "tune 1/d",
      "tune 2/d",
      "tune 3/d",
    ]);
    expect([...placesOf(release)]).toEqual(slots.map((slot, i) => [slot.id, i]));
  });

  it("entries come to their places in whatever order, and of two for one address the last counts", () => {
    // places over the end stand for settings that the release does not have
    fc.assert(
      fc.property(fc.array(fc.nat(slots.length + 1), { maxLength: 30 }), (order) => {
        const settings = order.map((at, i) => entry(at, i + 1));
        const last = new Map(settings.map((each) => [addressId(each), each]));
        expect(entriesByPlace({ settings }, release)).toEqual(slots.map((slot) => last.get(slot.id)));
      }),
    );
  });

  it("what was read before does not change what is found", () => {
    const forwards = slots.map((_, i) => entry(i, i + 1));
    const found = entriesByPlace({ settings: forwards }, release);
    entriesByPlace({ settings: forwards.toReversed() }, release);
    expect(entriesByPlace({ settings: forwards }, release)).toEqual(found);
  });
});
