import { pacedClock } from "@/bench/paced-clock";
import { linkTo } from "@/core/sim";
import { makeBoard, MemoryStore, runUpdate } from "../support/workshop";

/** Whole updates of so many boards at once, on clocks that go on whether anybody waits or not; ms of the wall's clock. */
async function together(count: number, factor: number): Promise<number> {
  const made = await Promise.all(Array.from({ length: count }, () => makeBoard()));
  const start = performance.now();
  await Promise.all(
    made.map(async ({ board, link: { clock } }) => {
      const link = linkTo(board, pacedClock(clock.nowUs(), factor));
      board.plug(link.clock.nowUs());
      await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
      const end = await runUpdate(board, link, new MemoryStore());
      if (end !== "finished") throw new Error(`a job ended as ${end}`);
    }),
  );
  return performance.now() - start;
}

/** Whether a board waits for others that are worked on at the same time. */
export async function baysBench(say: (text?: string) => void): Promise<void> {
  say("## Six boards at once: whole updates, boards that live as fast as the wall does");
  say();
  // once quickly, so that nothing is compiled on the way
  await together(1, 20);
  const [one, six] = [await together(1, 1), await together(6, 1)];
  say("| boards | time | ratio | aim |");
  say("| --- | --- | --- | --- |");
  say(`| one | ${(one / 1000).toFixed(1)} s | 1 × | |`);
  say(`| six | ${(six / 1000).toFixed(1)} s | ${(six / one).toFixed(2)} × | ≤ 1.1 × |`);
  say();
}
