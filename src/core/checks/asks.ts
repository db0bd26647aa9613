import type { Reading } from "@/core/checks/senses";

export type Verdict =
  | { readonly kind: "holds"; readonly seen: string }
  | { readonly kind: "not-yet"; readonly seen: string }
  | { readonly kind: "wrong"; readonly seen: string }
  | { readonly kind: "not-provable"; readonly seen: string };

/** One thing that a check asks for, and how it is told from what the board feels. */
export interface Ask {
  readonly id: string;
  readonly say: string;
  readonly expected: string;
  judge(reading: Reading, before: Readonly<Record<string, string>>): Verdict;
}

/** Leaning at least so far counts as meant; another axis may stray less than this. */
const MEANT_DEGREES = 15;

const direction = (value: number, positive: string, negative: string) =>
  Math.abs(value) < 5 ? "level" : `${Math.abs(value).toFixed(0)}° ${value > 0 ? positive : negative}`;

function judgeLean(reading: Reading, axis: "roll" | "pitch", sign: 1 | -1): Verdict {
  const { roll, pitch } = reading;
  if (roll === undefined || pitch === undefined)
    return { kind: "not-provable", seen: "the board reports no attitude: its gyro is silent" };
  const seen = `${direction(pitch, "nose up", "nose down").replace("level", "nose level")}, ${direction(roll, "right side down", "left side down").replace("level", "sides level")}`;
  const [meant, other] = axis === "pitch" ? [pitch, roll] : [roll, pitch];
  if (Math.max(Math.abs(roll), Math.abs(pitch)) < MEANT_DEGREES) return { kind: "not-yet", seen };
  return { kind: meant * sign >= MEANT_DEGREES && Math.abs(other) < MEANT_DEGREES ? "holds" : "wrong", seen };
}

/** Turning is judged from where the heading stood when the asking began. */
function judgeTurn(reading: Reading, before: Readonly<Record<string, string>>): Verdict {
  if (reading.heading === undefined) return { kind: "not-provable", seen: "the board reports no heading" };
  const start = Number(before["heading-at-start"] ?? reading.heading);
  const turned = ((reading.heading - start + 540) % 360) - 180;
  const seen = `${direction(turned, "clockwise", "anticlockwise").replace("level", "no turn")} since the start`;
  if (Math.abs(turned) < MEANT_DEGREES) return { kind: "not-yet", seen };
  return { kind: turned > 0 ? "holds" : "wrong", seen };
}

export const ATTITUDE_ASKS: readonly Ask[] = [
  {
    id: "nose-up",
    say: "Lift the nose by a hand's breadth and hold it",
    expected: "nose up, sides level",
    judge: (reading) => judgeLean(reading, "pitch", 1),
  },
  {
    id: "right-down",
    say: "Lower the right side and hold it",
    expected: "right side down, nose level",
    judge: (reading) => judgeLean(reading, "roll", 1),
  },
  {
    id: "turn-clockwise",
    say: "Set it level and turn it clockwise, seen from above",
    expected: "a turn clockwise",
    judge: judgeTurn,
  },
];

const LOW_END_US = 1050;
const HIGH_END_US = 1950;
const STICKS = [
  ["roll", "Roll stick: fully left, then fully right"],
  ["pitch", "Pitch stick: fully back, then fully forward"],
  ["climb", "Climb stick: fully down, then fully up"],
  ["turn", "Turn stick: fully left, then fully right"],
] as const;

/** Each end is remembered once it was reached, so that one stick movement is enough. */
function judgeStick(index: number, reading: Reading, before: Readonly<Record<string, string>>): Verdict {
  const name = STICKS[index]?.[0] ?? "";
  const pulse = reading.sticks[index];
  if (pulse === undefined) {
    const seen =
      reading.receiver === "unpowered"
        ? "the receiver has no power from USB on this board: fit the battery"
        : "the receiver is not heard on its port";
    return { kind: "not-provable", seen };
  }
  const low = before[`${name}-low`] ?? (pulse <= LOW_END_US ? String(pulse) : undefined);
  const high = before[`${name}-high`] ?? (pulse >= HIGH_END_US ? String(pulse) : undefined);
  const seen = `now ${pulse} µs; low end ${low ?? "not yet"}, high end ${high ?? "not yet"}`;
  return low !== undefined && high !== undefined
    ? { kind: "holds", seen: `${low} to ${high} µs` }
    : { kind: "not-yet", seen };
}

export const RECEIVER_ASKS: readonly Ask[] = STICKS.map(([id, say], index) => ({
  id: `${id}-ends`,
  say,
  expected: `at most ${LOW_END_US} µs, then at least ${HIGH_END_US} µs`,
  judge: (reading, before) => judgeStick(index, reading, before),
}));

/** What must be remembered from a reading for the asks that look back. */
export function rememberReading(reading: Reading, before: Readonly<Record<string, string>>): Record<string, string> {
  const memory: Record<string, string> = {};
  if (reading.heading !== undefined && before["heading-at-start"] === undefined)
    memory["heading-at-start"] = String(reading.heading);
  STICKS.forEach(([name], i) => {
    const pulse = reading.sticks[i];
    if (pulse === undefined) return;
    if (pulse <= LOW_END_US && before[`${name}-low`] === undefined) memory[`${name}-low`] = String(pulse);
    if (pulse >= HIGH_END_US && before[`${name}-high`] === undefined) memory[`${name}-high`] = String(pulse);
  });
  return memory;
}

export const nextAsk = (asks: readonly Ask[], passed: Readonly<Record<string, string>>): Ask | undefined =>
  asks.find((ask) => passed[ask.id] === undefined);
