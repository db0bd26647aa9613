import fc from "fast-check";
import { concludeAttitude, isLevel, type Pose } from "@/core/checks";

/** What a board feels that stands turned by so many quarters against its setting: written down here by hand, quarter by quarter. */
const FELT: readonly ((pose: Pose) => Pose)[] = [
  (pose) => pose,
  ({ roll, pitch }) => ({ roll: -pitch, pitch: roll }),
  ({ roll, pitch }) => ({ roll: -roll, pitch: -pitch }),
  ({ roll, pitch }) => ({ roll: pitch, pitch: -roll }),
];

const lean = fc.record({ size: fc.integer({ min: 16, max: 60 }), stray: fc.integer({ min: -5, max: 5 }) });

describe("case C88: what a failed check of the attitude means", () => {
  it("a turn in the airframe is told from both leans, whatever their size; it is never called a reversal", () => {
    fc.assert(
      fc.property(fc.constantFrom(1, 2, 3), lean, lean, (quarters, up, right) => {
        const feel = FELT[quarters] ?? FELT[0];
        const poses = {
          "nose-up": feel?.({ roll: up.stray, pitch: up.size }) ?? { roll: 0, pitch: 0 },
          "right-down": feel?.({ roll: right.size, pitch: right.stray }) ?? { roll: 0, pitch: 0 },
        };
        const { quarters: found, means } = concludeAttitude(poses, ["nose-up", "right-down"]);
        expect(found).toBe(quarters);
        expect(means).toContain("Signs are not reversed");
      }),
    );
  });

  it("a reversal of one axis, of the heading, or nonsense is no turn and has no correction", () => {
    const up = { roll: 0, pitch: 30 };
    const right = { roll: 30, pitch: 0 };
    const reversed = concludeAttitude({ "nose-up": { roll: 0, pitch: -30 }, "right-down": right }, ["nose-up"]);
    expect([reversed.quarters, reversed.means]).toEqual([undefined, expect.stringContaining("upside down") as string]);
    const heading = concludeAttitude({ "nose-up": up, "right-down": right }, ["turn-clockwise"]);
    expect([heading.quarters, heading.means]).toEqual([undefined, expect.stringContaining("heading") as string]);
    const odd = concludeAttitude({ "nose-up": { roll: 21, pitch: 21 }, "right-down": right }, ["nose-up"]);
    expect(odd.quarters).toBeUndefined();
  });

  it("level is within a few degrees in both axes; what reports no attitude keeps nobody waiting", () => {
    const at = (roll: number, pitch: number) => isLevel({ roll, pitch, sticks: [], parts: {} });
    expect([at(0, 0), at(7, -7), at(9, 0), at(0, -30)]).toEqual([true, true, false, false]);
    expect(isLevel({ sticks: [], parts: {} })).toBe(true);
  });
});
