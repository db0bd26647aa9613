import { openItems } from "@/core/carryover";
import { currentStep, type BayLive, type JobState } from "@/core/job";
import { readBays } from "@/server/repositories/bench";
import { planOfJob, readJob } from "@/server/web/job-view";
import type { Role } from "./people";

/** Sends one change as somebody; false when it was refused or the web is not there. */
export type Say = (role: Role, path: string, body: object) => Promise<boolean>;

/** How often a technician looks at the card, and how long hands stay where they are. */
const POLL_MS = 80;
const HAND_MS = 400;
const sleep = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Tries again until the database is back. */
export async function sooner<T>(work: () => Promise<T>, limitMs = 90_000): Promise<T> {
  const end = Date.now() + limitMs;
  for (;;) {
    try {
      return await work();
    } catch (error) {
      if (Date.now() > end) throw error;
      await sleep(500);
    }
  }
}

const STICKS = ["Roll", "Pitch", "Climb", "Turn"];

/** Holds the airframe and moves the sticks as a check asks. */
async function sense(say: Say, bay: number, live: BayLive, handMs: number): Promise<void> {
  const asked = live.job?.ask?.say ?? "";
  const hands = (body: object) => say("technician", `/api/bench/${bay}`, body);
  if (asked.startsWith("Lift the nose")) await hands({ kind: "lean", roll: 0, pitch: 30, heading: 0 });
  else if (asked.startsWith("Lower the right")) await hands({ kind: "lean", roll: 30, pitch: 0, heading: 0 });
  else if (asked.startsWith("Set it level again")) await hands({ kind: "lean", roll: 0, pitch: 0, heading: 0 });
  else if (asked.includes("clockwise")) {
    const turned = ((live.senses?.heading ?? 0) + 30) % 360;
    await hands({ kind: "lean", roll: 0, pitch: 0, heading: turned });
  }
  // fitted for a receiver that USB does not feed, in a visit before
  else if (asked === "Take the battery out") await hands({ kind: "battery", fitted: false });
  if (live.job?.ask?.seen.includes("fit the battery") === true) await hands({ kind: "battery", fitted: true });
  const stick = STICKS.findIndex((name) => asked.startsWith(`${name} stick`));
  if (stick < 0) return;
  for (const pulse of [1000, 2000]) {
    await hands({ kind: "stick", index: stick, pulse });
    await sleep(handMs);
  }
}

/** What the card asks of hands: cable out, then in, with the button held or the pads bridged where that is wanted. */
async function replug(say: Say, bay: number, asks: readonly string[]): Promise<void> {
  await say("technician", `/api/bench/${bay}`, { kind: "unplug" });
  await sleep(300);
  const button = asks.some((text) => text.includes("boot button"));
  const pads = asks.some((text) => text.startsWith("Bridge its boot pads"));
  await say("technician", `/api/bench/${bay}`, { kind: "plug", button, pads });
  await sleep(300);
}

interface Doing {
  /** Called each time that the sign-off is pressed, before it. */
  readonly signing?: () => void;
  /** How far it is brought; the answer is "there" then. */
  readonly until?: (state: JobState) => boolean;
  /** How long hands stay where they are: on a board that lives fast, less will do. */
  readonly handMs?: number;
}

/** Brings a job to its end through the interface's own doors, whatever happens to the processes meanwhile; how it ended. */
export async function bringToEnd(
  say: Say,
  jobId: number,
  limitMs: number,
  { signing, until, handMs = HAND_MS }: Doing = {},
): Promise<string> {
  const end = Date.now() + limitMs;
  let last = "";
  while (Date.now() < end) {
    await sleep(POLL_MS);
    const view = await sooner(() => readJob(jobId));
    if (!view) return "the job is gone";
    const { state, begun } = view;
    if (state.phase !== "open") return state.phase;
    if (until?.(state)) return "there";
    const bay = view.job.bay_no;
    const word = (body: object, role: Role = "technician") => say(role, `/api/jobs/${jobId}`, body);
    if (!begun) {
      await word({ kind: "begin" });
      continue;
    }
    const step = currentStep(state);
    last = `${step?.id ?? "no step"}, ${step?.status ?? ""} ${JSON.stringify(step?.need ?? step?.problem ?? {})}`;
    const { need } = step ?? {};
    if (!step) continue;
    if (step.status === "failed") await word({ kind: "again", step: step.id });
    else if (need?.kind === "decisions") {
      const plan = await sooner(() => planOfJob(view));
      const choices = Object.fromEntries(
        (plan ? openItems(plan, state.decisions) : []).map((item) => [item.id, item.choices[0]?.id ?? ""]),
      );
      await word({ kind: "decide", choices }, "lead");
    } else if (need?.kind === "take") await word({ kind: "take" }, "lead");
    else if (need?.kind === "confirm") {
      // what nobody measured on this board is measured before somebody says so
      if (step.id === "calibrate") await say("technician", `/api/bench/${bay}`, { kind: "calibrate" });
      await word({ kind: "confirm", step: step.id });
    } else if (need?.kind === "sign") {
      signing?.();
      await word({ kind: "sign" });
    } else if (need?.kind === "sense" || need?.kind === "again") await word({ kind: "again", step: step.id });
    else if (need?.kind === "board") await replug(say, bay, need.asks);
    else {
      const live = (await sooner(() => readBays(view.job.bench_id))).find(({ no }) => no === bay)?.live;
      if (live) await sense(say, bay, live, handMs);
    }
  }
  return `not at its end in time: ${last}`;
}
