import { setCluster } from "../support/database";
import { pidOf, setPace, signIn } from "./app";
import { expect, test } from "./workshop";

// the others' database stays
test.use({ cluster: "away" });

test("the database is away for a while, then web and bench hang: all comes back by itself", async ({ page }) => {
  test.setTimeout(300_000);
  await signIn(page, "technician");
  // a process that is just being started again refuses connections
  const health = () =>
    page.request.get("/api/health").then(
      (answer) => answer.status(),
      () => 0,
    );
  setCluster("stop", "away");
  try {
    await expect.poll(health, { timeout: 20_000 }).toBe(503);
    // longer than a bench needs to die several times
    await page.waitForTimeout(12_000);
  } finally {
    setCluster("start", "away");
  }
  await expect.poll(health, { timeout: 30_000 }).toBe(200);
  await page.goto("/bench/1");
  await expect(page.getByText("The bench is not running")).toHaveCount(0, { timeout: 60_000 });
  // a bench takes orders when it is through its beginning
  await setPace(page, 8);
  const before = { web: pidOf("web"), bench: pidOf("bench") };
  process.kill(before.web, "SIGSTOP");
  process.kill(before.bench, "SIGSTOP");
  // a process that was just started is given a minute
  await expect
    .poll(() => pidOf("web") !== before.web && pidOf("bench") !== before.bench, { timeout: 120_000 })
    .toBe(true);
  await expect.poll(health, { timeout: 30_000 }).toBe(200);
  await page.goto("/bench/1");
  await expect(page.getByText("The bench is not running")).toHaveCount(0, { timeout: 60_000 });
});
