import { lineageOf } from "@/core/catalog";
import { addressId, type Configuration, type Value } from "@/core/config";
import { asOfNewest, sinceWhen, valueOverTime } from "@/core/compare/history";
import { alikePicture, drawPictures } from "@/core/compare/pictures";
import { resolve } from "@/core/compare/resolved";
import { defaultConfiguration } from "@/core/idiom";
import { catalogue, release } from "../../../tests/support/workshop";

const h22 = release("heddle-22");
function board(
  of: typeof h22,
  values: Readonly<Record<string, Value>> = {},
  more: Partial<Configuration> = {},
): Configuration {
  const base = defaultConfiguration(of, "CSLATE-B", { target: "CSLATE-B" });
  return {
    ...base,
    settings: base.settings.map((s) => ({ ...s, value: values[addressId(s)] ?? s.value, line: 3 })),
    ...more,
  };
}
const draw = (values: Readonly<Record<string, Value>>, more: Partial<Configuration> = {}, of = h22) =>
  drawPictures(resolve(board(of, values, more), of), resolve(board(of), of));
const picture = (drawn: ReturnType<typeof draw>, title: string) => {
  const found = drawn.find((each) => each.title === title);
  if (!found) throw new Error(title);
  return found;
};

describe("pictures", () => {
  it("stick feel: the curve ends at the full rate, is bent between, and is told in a sentence", () => {
    const feel = picture(draw({ "feel 1/roll.turn-rate": 7.85, "feel 1/roll.bend": 0.55 }), "Stick feel, roll");
    if (feel.kind !== "stick-feel") throw new Error(feel.kind);
    expect(feel.left?.at(-1)).toEqual({ x: 100, y: 7.85 });
    expect(feel.right?.at(-1)?.y).toBeCloseTo(6.98);
    expect(feel.left?.[0]?.y).toBe(0);
    expect(feel.says).toBe("Left is 24 % slower about the centre, 12 % faster at full stick.");
    const same = picture(draw({}), "Stick feel, roll");
    expect(alikePicture(same)).toBe(true);
    expect("says" in same && same.says).toBe("Both feel alike.");
  });

  it("stick feel of the profile that is in use", () => {
    const feel = picture(
      draw({ "feel 2/roll.turn-rate": 9 }, { active: { tune: 1, feel: 2, battery: 1 } }),
      "Stick feel, roll",
    );
    expect(feel.kind === "stick-feel" && feel.left?.at(-1)?.y).toBe(9);
  });

  it("the same setting under other names and units in a later release: by what it means", () => {
    const h23 = release("heddle-23");
    const feel = picture(draw({ "feel 1/feel.roll.rate": 450 }, {}, h23), "Stick feel, roll");
    expect(feel.kind === "stick-feel" && [feel.yLabel, feel.left?.at(-1)?.y]).toEqual(["°/s", 450]);
  });

  it("smoothing: half the power passes at its frequency, less above, by its order", () => {
    const smooth = (values: Readonly<Record<string, Value>>) => {
      const drawn = picture(draw(values), "Gyro smoothing");
      if (drawn.kind !== "smoothing") throw new Error(drawn.kind);
      return drawn;
    };
    const at = (drawn: ReturnType<typeof smooth>, hz: number) =>
      drawn.left?.reduce((best, p) => (Math.abs(p.x - hz) < Math.abs(best.x - hz) ? p : best)).y ?? NaN;
    expect(at(smooth({ "system/gyro.smoothing": 100 }), 100)).toBeCloseTo(70.7, 0);
    const [gentle, steepest] = [
      smooth({ "system/gyro.smoothing": 100 }),
      smooth({ "system/gyro.smoothing": 100, "system/gyro.smoothing.kind": "steepest" }),
    ];
    expect(at(steepest, 300)).toBeLessThan(at(gentle, 300) / 5);
    // words that a later release changed still mean the same order
    const later = picture(
      draw({ "system/gyro.smoothing": 100, "system/gyro.smoothing.kind": "fourth-order" }, {}, release("heddle-23")),
      "Gyro smoothing",
    );
    expect(later.kind === "smoothing" && later.left?.at(-1)?.y).toBeCloseTo(steepest.left?.at(-1)?.y ?? NaN);
  });

  it("levers and the display: places as shares of the travel, items where the pilot sees them", () => {
    const rows = [
      ...board(h22).rows,
      { table: "switches", key: "1", cells: { does: "arm", channel: 5, from: 1500, to: 2100 }, line: 1 },
      { table: "switches", key: "2", cells: { does: "level", channel: 6, from: 900, to: 1200 }, line: 2 },
    ];
    const drawn = draw({}, { rows });
    const levers = picture(drawn, "Levers");
    expect(levers.kind === "levers" && levers.left).toEqual([
      { does: "arm", channel: "5", from: 0.5, to: 1 },
      { does: "level", channel: "6", from: 0, to: 0.25 },
    ]);
    expect(levers.kind === "levers" && levers.right).toEqual([]);
    const display = picture(drawn, "As the pilot sees it");
    expect(display.kind === "display" && display.left.find((item) => item.item === "height")).toEqual({
      item: "height",
      line: 7,
      column: 24,
    });
  });
});

describe("history", () => {
  const h23 = release("heddle-23");
  const reading = (
    id: number,
    of: typeof h22,
    values: Readonly<Record<string, Value>>,
    more: Partial<Configuration> = {},
  ) => ({ id, at: id * 1000, configuration: board(of, values, more), release: of });
  const history = asOfNewest(
    [
      reading(1, h22, { "system/gyro.smoothing": 90, "feel 1/yaw.turn-rate": 2.79 }),
      reading(2, h22, { "system/gyro.smoothing": 95, "feel 1/yaw.turn-rate": 2.79 }),
      reading(
        3,
        h23,
        { "system/gyro.smoothing": 95, "feel 1/feel.yaw.rate": 160 },
        { active: { tune: 2, feel: 1, battery: 1 } },
      ),
    ],
    catalogue(),
  );

  it("case C48: since when each value is as it is, through renames and other units", () => {
    const since = sinceWhen(history);
    expect(since.get("system/gyro.smoothing")?.id).toBe(2);
    expect(since.get("feel 1/feel.yaw.rate")?.id).toBe(1);
    expect(since.get("active tune")?.id).toBe(3);
    expect(since.get("row ports/2")?.id).toBe(1);
  });

  it("one value over time, as of the newest release", () => {
    expect(valueOverTime(history, "feel 1/feel.yaw.rate").map((p) => [p.id, p.shown])).toEqual([
      [1, "160 °/s"],
      [2, "160 °/s"],
      [3, "160 °/s"],
    ]);
    expect(valueOverTime(history, "system/gyro.smoothing").map((p) => p.value)).toEqual([90, 95, 95]);
    expect(valueOverTime(history, "system/no.such")).toEqual([]);
    expect(asOfNewest([], catalogue())).toEqual([]);
    expect(sinceWhen([]).size).toBe(0);
  });
});

describe("the lineage as a drawing", () => {
  const lineage = lineageOf(catalogue());
  const at = (id: string) => lineage.nodes.find((node) => node.release.id === id);

  it("every release stands right of all that lead to it, and no two in one place", () => {
    for (const { from, to } of lineage.edges)
      expect([from, to, (at(from)?.column ?? 0) < (at(to)?.column ?? 0)]).toEqual([from, to, true]);
    const places = lineage.nodes.map((node) => `${node.column} ${node.lane}`);
    expect(new Set(places).size).toBe(places.length);
    expect(lineage.nodes).toHaveLength(catalogue().releases.size + catalogue().parts.size);
  });

  it("the longest line of a family keeps one lane; ways between families are told apart", () => {
    expect(
      new Set(["heddle-18", "heddle-19", "heddle-22", "heddle-23", "heddle-24", "heddle-30"].map((id) => at(id)?.lane)),
    ).toEqual(new Set([0]));
    expect(at("heddle-22-pellow")?.lane).not.toBe(0);
    expect(
      lineage.edges
        .filter((edge) => !edge.main)
        .map((edge) => `${edge.from} ${edge.to}`)
        .toSorted(),
    ).toEqual(["heddle-18 treadle-71", "heddle-23 weft-9"]);
  });
});

describe("pads by function", () => {
  const pads = (drawn: ReturnType<typeof draw>) => {
    const found = picture(drawn, "Pads by function");
    if (found.kind !== "pads") throw new Error(found.kind);
    return found;
  };
  const row = (table: string, key: string, cells: Readonly<Record<string, Value>>) => ({ table, key, cells, line: 9 });

  it("outputs by the pad they name, ports by their number, the rest free", () => {
    const { left, right } = pads(
      draw(
        {},
        {
          begun: ["outputs", "ports"],
          rows: [row("outputs", "M1", { drives: "servo" }), row("ports", "3", { use: "receiver" })],
        },
      ),
    );
    expect(left.find((pad) => pad.pad === "M1")).toEqual({ pad: "M1", wired: "timer 2 channel 1", does: "servo" });
    // both pads of a port serve what the port is used for
    expect(left.filter((pad) => pad.does === "receiver").map((pad) => pad.pad)).toEqual(["R3", "T3"]);
    expect(left.find((pad) => pad.pad === "M2")?.does).toBe("");
    expect(right.find((pad) => pad.pad === "M1")?.does).toBe("back right");
    expect(right.find((pad) => pad.pad === "port 2")).toEqual({ pad: "port 2", wired: "in and out", does: "receiver" });
  });

  it("an output on a pad that the target lacks is shown as that; an unknown board still shows its outputs", () => {
    const stray = { begun: ["outputs"], rows: [row("outputs", "M9", { drives: "servo" })] };
    expect(pads(draw({}, stray)).left.at(-1)).toEqual({ pad: "M9", wired: "not on this target", does: "servo" });
    expect(pads(draw({}, { ...stray, identity: { target: "NOWHERE" } })).left).toEqual([
      { pad: "M9", wired: "", does: "servo" },
    ]);
  });

  it("every release of the demo world draws its pads", () => {
    for (const each of catalogue().releases.values())
      for (const target of each.targets) {
        const side = resolve(defaultConfiguration(each, target.id, { target: target.id }), each);
        const found = drawPictures(side, side).find((p) => p.kind === "pads");
        expect([each.id, target.id, found?.kind === "pads" && found.left.some((pad) => pad.does !== "")]).toEqual([
          each.id,
          target.id,
          true,
        ]);
      }
  });
});
