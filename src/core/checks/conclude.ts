import type { Reading } from "@/core/checks/senses";

/** How the board stood when something was asked: degrees, right side down and nose up positive. */
export interface Pose {
  readonly roll: number;
  readonly pitch: number;
}

export const poseOf = ({ roll, pitch }: Reading): Pose | undefined =>
  roll === undefined || pitch === undefined ? undefined : { roll, pitch };

/** Within so many degrees it counts as level. */
const LEVEL_DEGREES = 8;
export const isLevel = (reading: Reading): boolean => {
  const pose = poseOf(reading);
  return pose === undefined || Math.max(Math.abs(pose.roll), Math.abs(pose.pitch)) <= LEVEL_DEGREES;
};

/** What was asked for, as a pose of one: nose up, right side down. */
const ASKED: Readonly<Record<string, Pose>> = { "nose-up": { roll: 0, pitch: 1 }, "right-down": { roll: 1, pitch: 0 } };

/** By how many quarter turns what the board felt stands off what was done; undefined where it is no such turn. */
function quartersBetween(asked: Pose, felt: Pose): number | undefined {
  const size = Math.hypot(felt.roll, felt.pitch);
  if (size < LEVEL_DEGREES) return undefined;
  const angle = Math.atan2(felt.pitch, felt.roll) - Math.atan2(asked.pitch, asked.roll);
  const quarters = angle / (Math.PI / 2);
  const whole = Math.round(quarters);
  return Math.abs(quarters - whole) > 0.35 ? undefined : ((whole % 4) + 4) % 4;
}

/** What follows from asks that did not hold, though somebody moved as asked. */
export interface Conclusion {
  readonly means: string;
  /** The board’s turn in the airframe is off by so many quarter turns, counted like its own setting: clockwise from above. */
  readonly quarters?: 1 | 2 | 3;
}

const TURN = ["", "a quarter turn", "half a turn", "three quarters of a turn"] as const;

/**
 * What the poses mean together: `poses` by ask, of all that were done, those that held with them. A turn in the airframe
 * shows the same in both directions; what shows otherwise in each is no turn.
 */
export function concludeAttitude(poses: Readonly<Record<string, Pose>>, wrong: readonly string[]): Conclusion {
  const found = Object.entries(ASKED).flatMap(([id, asked]) => {
    const felt = poses[id];
    return felt ? [quartersBetween(asked, felt)] : [];
  });
  const [first] = found;
  const same = found.length === 2 && found.every((each) => each === first);
  if (same && (first === 1 || first === 2 || first === 3))
    return {
      means: `The board feels every lean ${TURN[first]} off: it is turned in the airframe otherwise than its setting says. Signs are not reversed.`,
      quarters: first,
    };
  if (wrong.includes("turn-clockwise") && !wrong.includes("nose-up") && !wrong.includes("right-down"))
    return { means: "Leans are right, and turning is felt the other way round: the heading’s sign is reversed." };
  if (found.includes(2))
    return {
      means:
        "One lean is felt the other way round and the other is right: the board lies upside down, or one of its signs is reversed. That is no turn in the airframe.",
    };
  return { means: "What the board feels fits no turn of it in the airframe: it may be loose, or its sensor damaged." };
}
