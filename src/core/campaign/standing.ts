/** Where an aircraft of a campaign stands. */
export type Standing =
  /** Its job in this campaign was signed off. */
  | "done"
  /** It was there before its turn came: nothing is left to do. */
  | "there"
  | "under-way"
  /** Its job was stopped: it waits for another one. */
  | "stopped"
  | "left-out"
  | "waiting";

export interface Member {
  readonly tag: string;
  /** From 1. */
  readonly place: number;
  readonly leftOut: boolean;
  /** The newest job that was ordered for it in the campaign. */
  readonly job?: {
    readonly state: "open" | "finished" | "stopped";
    /** Its plan was taken: no decision reaches it any more. */
    readonly taken: boolean;
  };
  /** The register says that what is wanted is so. */
  readonly isThere: boolean;
}

export function standingOf({ leftOut, job, isThere }: Omit<Member, "tag" | "place">): Standing {
  if (job?.state === "open") return "under-way";
  if (job?.state === "finished") return "done";
  if (leftOut) return "left-out";
  if (isThere) return "there";
  return job ? "stopped" : "waiting";
}

/** Those whose turn is to come, in their order; what was stopped comes before what has not begun. */
export const nextOf = <M extends Member>(members: readonly M[]): M[] =>
  members
    .filter((member) => ["stopped", "waiting"].includes(standingOf(member)))
    .toSorted(
      (a, b) =>
        Number(standingOf(b) === "stopped") - Number(standingOf(a) === "stopped") ||
        a.place - b.place ||
        (a.tag < b.tag ? -1 : 1),
    );

/** Those whom a decision still reaches: on the bench with a plan that nobody has taken, then those whose turn is to come. */
export const undecidedOf = <M extends Member>(members: readonly M[]): M[] => [
  ...members.filter((member) => standingOf(member) === "under-way" && member.job?.taken !== true),
  ...nextOf(members),
];

/** “2 of 5 are there, 1 is on the bench, 1 was stopped, 1 left out; QW-04 is next.” */
export function progressSentence(members: readonly Member[]): string {
  const count = (...wanted: readonly Standing[]) => members.filter((m) => wanted.includes(standingOf(m))).length;
  const there = count("done", "there");
  const of = members.length - count("left-out");
  const parts = [
    `${there} of ${of} ${there === 1 ? "is" : "are"} there`,
    ...[
      [count("under-way"), "on the bench"] as const,
      [count("stopped"), "stopped"] as const,
      [count("left-out"), "left out"] as const,
    ].flatMap(([n, words]) => (n === 0 ? [] : [`${n} ${words}`])),
  ];
  const [next] = nextOf(members);
  return `${parts.join(", ")}${next ? `; ${next.tag} is next` : ""}.`;
}
