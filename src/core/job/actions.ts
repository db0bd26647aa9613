/** What can be true of a job's board. Actions need and bring about such facts; the planner joins them. */
export type Fact =
  | "board-known"
  | "backed-up"
  | "target-known"
  | "plan-taken"
  | "hands-clear"
  | "in-loader"
  | "settings-rescued"
  | "image-written"
  | "release-runs"
  | "restored"
  | "proved"
  | "attitude-proved"
  | "receiver-proved"
  | "signed-off";

export type StepId =
  | "know-board"
  | "back-up"
  | "know-target"
  | "plan"
  | "make-safe"
  | "enter-loader"
  | "rescue"
  | "flash"
  | "first-start"
  | "restore"
  | "prove"
  | "check-attitude"
  | "check-receiver"
  | "sign-off";

export interface Action {
  readonly id: StepId;
  /** {release} and {tag} are filled in. */
  readonly title: string;
  readonly why: string;
  readonly needs: readonly Fact[];
  readonly gives: Fact;
  /** It writes to the board: whoever stops it leaves something unfinished there. */
  readonly writes?: boolean;
  /** A check: what it shows, as a sign-off names it. */
  readonly shows?: string;
}

/** In the order in which a person would do them where the needs leave a choice. */
export const ACTIONS: readonly Action[] = [
  {
    id: "know-board",
    title: "Know the board",
    why: "Its own word and its chip must say the same.",
    needs: [],
    gives: "board-known",
  },
  {
    id: "back-up",
    title: "Read out everything on {tag}",
    why: "Nothing is erased before the whole of it is on disk.",
    needs: ["board-known"],
    gives: "backed-up",
  },
  {
    id: "know-target",
    title: "Know the target",
    why: "After the erase the board can no longer say which one it is.",
    needs: ["board-known"],
    gives: "target-known",
  },
  {
    id: "plan",
    title: "Plan the carry-over",
    why: "What changes is known, and decided, before it changes.",
    needs: ["backed-up", "target-known"],
    gives: "plan-taken",
  },
  {
    id: "make-safe",
    title: "Propellers off, battery out",
    why: "The board restarts several times.",
    needs: ["plan-taken"],
    gives: "hands-clear",
  },
  {
    id: "enter-loader",
    title: "Into the USB loader",
    why: "Only the loader can write firmware.",
    needs: ["hands-clear", "backed-up"],
    gives: "in-loader",
  },
  {
    id: "rescue",
    title: "Read the settings region as it is",
    why: "A second, raw copy, taken through the loader.",
    needs: ["in-loader"],
    gives: "settings-rescued",
  },
  {
    id: "flash",
    title: "Write {release}",
    why: "The segment that makes it start is written last: half an image can never start.",
    needs: ["in-loader", "settings-rescued", "plan-taken"],
    gives: "image-written",
    writes: true,
  },
  {
    id: "first-start",
    title: "First start, on its defaults",
    why: "The new release must speak before it is given anything.",
    needs: ["image-written"],
    gives: "release-runs",
  },
  {
    id: "restore",
    title: "Restore the settings in order",
    why: "Each line waits for its answer; nothing is lost on the way.",
    needs: ["release-runs", "plan-taken", "hands-clear"],
    gives: "restored",
    writes: true,
  },
  {
    id: "prove",
    title: "Read back and prove",
    why: "What was sent is held against what the board holds now.",
    needs: ["restored"],
    gives: "proved",
  },
  {
    id: "check-attitude",
    title: "Check: attitude signs",
    why: "Shows that the board knows how it stands in the airframe. Does not show that the motors answer rightly.",
    needs: ["proved"],
    gives: "attitude-proved",
    shows: "attitude signs",
  },
  {
    id: "check-receiver",
    title: "Check: receiver ends",
    why: "Shows that all four sticks arrive and reach their ends. Does not show what the failsafe does.",
    needs: ["proved"],
    gives: "receiver-proved",
    shows: "receiver ends",
  },
  {
    id: "sign-off",
    title: "Sign off",
    why: "A person answers for the aircraft's return to service.",
    needs: ["proved", "attitude-proved", "receiver-proved"],
    gives: "signed-off",
  },
];

/**
 * The actions that lead to a goal, in an order in which each one's needs are met before it. Works backwards from the
 * goal; of several possible orders it takes the one in which the actions stand in the list.
 */
export function planActions(
  goal: Fact,
  given: ReadonlySet<Fact> = new Set(),
  actions: readonly Action[] = ACTIONS,
): Action[] {
  const wanted = new Set<Action>();
  const want = (fact: Fact, path: readonly Fact[]): void => {
    if (given.has(fact)) return;
    if (path.includes(fact)) throw new Error(`the actions for ${fact} need each other`);
    const action = actions.find((a) => a.gives === fact);
    if (!action) throw new Error(`no action brings about ${fact}`);
    wanted.add(action);
    for (const need of action.needs) want(need, [...path, fact]);
  };
  want(goal, []);
  const have = new Set(given);
  const ordered: Action[] = [];
  while (ordered.length < wanted.size) {
    const next = actions.find((a) => wanted.has(a) && !ordered.includes(a) && a.needs.every((need) => have.has(need)));
    if (!next) throw new Error("the actions cannot be put in order");
    ordered.push(next);
    have.add(next.gives);
  }
  return ordered;
}
