import { awaitDeparture, awaitPresence } from "@/bench/link";
import type { StepContext } from "@/bench/steps/context";

export const FIRST_START_WAIT_MS = 8_000;

/** Restarts the board by console and waits until it speaks again; undefined when it does not. */
export async function restartBoard({ link }: StepContext, restart: () => Promise<void>): Promise<boolean> {
  await restart();
  await awaitDeparture(link, 1_000);
  return (await awaitPresence(link, ["console"], FIRST_START_WAIT_MS)) !== undefined;
}
