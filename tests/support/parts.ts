import { DEMO_FLEET, type DemoAircraft } from "../../demo/fleet";
import { makeBoard as makeDemoBoard, typeLines } from "../../demo/make-board";
import type { JobOrder } from "@/bench/store";
import type { BoardLink } from "@/bench/link";
import { BATTERIES } from "@/core/catalog";
import { planJob, specOf, wishFor, type Goal, type Progress } from "@/core/job";
import { fittedParts, type FittedPart } from "@/core/part";
import { linkTo, putChunk, resumeBoard, SimBoard, snapshotOf, takeDirtyChunks, type SimLink } from "@/core/sim";
import { catalogue, release } from "./workshop";

export const demoAircraft = (tag: string): DemoAircraft => {
  const found = DEMO_FLEET.find((each) => each.tag === tag);
  if (!found) throw new Error(`the demo has no ${tag}`);
  return found;
};

/** The board of an aircraft of the demo with all that is behind it, on a clock that goes on when somebody waits. */
export async function boardOf(
  tag: string,
  change: Partial<DemoAircraft> = {},
): Promise<{ board: SimBoard; link: SimLink; aircraft: DemoAircraft; fitted: FittedPart[] }> {
  const aircraft = { ...demoAircraft(tag), ...change };
  const { board, link } = await makeDemoBoard(aircraft, catalogue(), 0);
  await typeLines(link, catalogue(), aircraft, aircraft.lines);
  return { board, link, aircraft, fitted: fittedParts(board.spec.model, aircraft.fitted ?? []) };
}

/** A job for the parts behind a board: all are read out, those named go to a release. */
export function partsJob(
  aircraft: DemoAircraft,
  fitted: readonly FittedPart[],
  runs: Readonly<Record<string, string>> = {},
): JobOrder {
  return jobOf(aircraft, { kind: "parts", runs: { main: aircraft.release, ...runs }, fitted });
}

/** A job for an aircraft whose board speaks. */
export function jobOf(aircraft: DemoAircraft, goal: Goal): JobOrder {
  const { tag, chipId } = aircraft;
  const processor = catalogue().models.get(aircraft.model)?.processor;
  const wish = wishFor({ tag, goal }, release(goal.runs.main), processor, catalogue());
  const planned = planJob(goal, wish, { "main: shows": "console" });
  if (planned.kind === "none") throw new Error(`no way: ${[...planned.missing, ...planned.because].join("; ")}`);
  return { id: 1, tag, aircraftId: 1, chipId, goal, steps: planned.moves.map(specOf) };
}

/** Hands that do with each battery what a step asks for. */
export function batteryHands(ask: NonNullable<Progress["ask"]>, board: SimBoard, link: BoardLink): void {
  for (const which of BATTERIES) {
    if (ask.say.startsWith(`Put the ${which} in`)) board.setBattery(link.clock.nowUs(), true, which);
    if (ask.say.startsWith(`Take the ${which} out`) || ask.say.startsWith("Take both batteries out"))
      board.setBattery(link.clock.nowUs(), false, which);
  }
}

/** The board as it comes out of storage when the machine that plays it begins again. */
export function stored(board: SimBoard, link: SimLink): { board: SimBoard; link: SimLink } {
  const snapshot = JSON.parse(JSON.stringify(snapshotOf(board))) as ReturnType<typeof snapshotOf>;
  const again = new SimBoard({ ...board.spec, parts: snapshot.parts ?? [] }, catalogue());
  for (const memory of [board.flash, ...board.parts.all.map(({ flash }) => flash)])
    for (let chunk = 0; chunk * 4096 < memory.bytes.length; chunk++) memory.dirty.add(chunk);
  for (const { chunk, bytes } of takeDirtyChunks(board)) putChunk(again, chunk, bytes);
  resumeBoard(again, snapshot, link.clock.nowUs());
  return { board: again, link: linkTo(again, link.clock) };
}
