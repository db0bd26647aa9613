import { pacedClock } from "@/bench/paced-clock";

const wall = async (work: () => Promise<void>): Promise<number> => {
  const start = performance.now();
  await work();
  return performance.now() - start;
};

describe("a board's clock against the wall", () => {
  it("runs as many times as fast as it is told, and goes on when nobody waits", async () => {
    const clock = pacedClock(0, 100);
    const ms = await wall(() => clock.waitUntil(5_000_000));
    expect(ms).toBeGreaterThan(40);
    expect(clock.nowUs()).toBeGreaterThanOrEqual(5_000_000);
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect(clock.nowUs()).toBeGreaterThan(6_000_000);
  });

  it("short waits add up instead of each taking a timer's least time", async () => {
    const clock = pacedClock(0, 10);
    const ms = await wall(async () => {
      for (let us = 100; us <= 200_000; us += 100) await clock.waitUntil(us);
    });
    // 2,000 waits of 10 µs of the wall each: with a timer's least time for each it would be over 2,000 ms
    expect(ms).toBeLessThan(1_000);
    expect(clock.nowUs()).toBeGreaterThanOrEqual(200_000);
  });

  it("never goes back, also when its pace is changed", async () => {
    const clock = pacedClock(1_000_000, 1000);
    await clock.waitUntil(3_000_000);
    const before = clock.nowUs();
    clock.setFactor(0.5);
    const after = clock.nowUs();
    expect(after).toBeGreaterThanOrEqual(before);
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect(clock.nowUs() - after).toBeLessThan(200_000);
  });
});
