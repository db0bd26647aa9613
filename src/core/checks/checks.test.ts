import { ATTITUDE_ASKS, nextAsk, RECEIVER_ASKS, rememberReading } from "@/core/checks/asks";
import { readSenses } from "@/core/checks/senses";
import { statementIdiom } from "../../../tests/support/workshop";

const [noseUp, rightDown, turn] = ATTITUDE_ASKS;
const at = (roll: number, pitch: number, heading = 0) => ({ roll, pitch, heading, sticks: [], parts: {} });

describe("attitude signs", () => {
  it("hold only in the direction that was asked for", () => {
    expect(noseUp?.judge(at(0, 30), {}).kind).toBe("holds");
    expect(noseUp?.judge(at(0, -30), {})).toMatchObject({ kind: "wrong", seen: "30° nose down, sides level" });
    expect(noseUp?.judge(at(30, 0), {}).kind).toBe("wrong");
    expect(noseUp?.judge(at(2, 3), {}).kind).toBe("not-yet");
    expect(rightDown?.judge(at(30, 0), {}).kind).toBe("holds");
    expect(turn?.judge(at(0, 0, 20), { "heading-at-start": "350" }).kind).toBe("holds");
    expect(turn?.judge(at(0, 0, 320), { "heading-at-start": "350" }).kind).toBe("wrong");
  });

  it("case C57: a silent gyro is not provable, and no failure of the airframe", () => {
    expect(noseUp?.judge({ sticks: [], parts: {} }, {})).toMatchObject({ kind: "not-provable" });
  });
});

describe("receiver ends", () => {
  it("are remembered one after the other", () => {
    const [roll] = RECEIVER_ASKS;
    const reading = (pulse: number) => ({ receiver: "heard", sticks: [pulse, 1500, 1500, 1500], parts: {} });
    const memory = rememberReading(reading(1002), {});
    expect(roll?.judge(reading(1500), memory).kind).toBe("not-yet");
    expect(roll?.judge(reading(1990), memory)).toEqual({ kind: "holds", seen: "1002 to 1990 µs" });
  });

  it("an end is an end: 1,050 and 1,950 µs and beyond, nothing short of them", () => {
    const [roll] = RECEIVER_ASKS;
    const reading = (pulse: number) => ({ receiver: "heard", sticks: [pulse, 1500, 1500, 1500], parts: {} });
    const heldBy = (low: number, high: number) => roll?.judge(reading(high), rememberReading(reading(low), {})).kind;
    expect([heldBy(1050, 1950), heldBy(1051, 1950), heldBy(1050, 1949), heldBy(1000, 1600)]).toEqual([
      "holds",
      "not-yet",
      "not-yet",
      "not-yet",
    ]);
    expect(rememberReading(reading(1600), {})).toEqual({});
    expect(RECEIVER_ASKS.every(({ expected }) => expected.includes("1050 µs") && expected.includes("1950 µs"))).toBe(
      true,
    );
  });

  it("case C56: without power the receiver is not provable now", () => {
    expect(
      RECEIVER_ASKS[0]?.judge(
        { receiver: "unpowered", sticks: [undefined, undefined, undefined, undefined], parts: {} },
        {},
      ),
    ).toMatchObject({ kind: "not-provable" });
  });
});

it("measurements are read by the idiom's own words, and the next ask is the first that is open", () => {
  const reading = readSenses(
    ";; roll: 3.5\n;; battery: 16.2\n;; receiver: heard\n;; stick.roll: 1498\n= so\n",
    statementIdiom(),
  );
  expect(reading).toEqual({
    roll: 3.5,
    battery: 16.2,
    receiver: "heard",
    parts: {},
    sticks: [1498, undefined, undefined, undefined],
  });
  expect(nextAsk(ATTITUDE_ASKS, { "nose-up": "seen" })?.id).toBe("right-down");
});
