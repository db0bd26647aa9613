import { currentStep } from "@/core/job";
import type { Page } from "@playwright/test";
import { beginUpdate, confirmSafe, leanAsAsked, pidOf, setPace, signIn, stopJob } from "./app";
import { bringUnwatched, finishUnwatched } from "./unwatched";
import { expect, test } from "./workshop";

const steps = (page: Page) => page.getByRole("region", { name: "Steps" });

async function waitForWriting(page: Page): Promise<void> {
  await expect(page.getByRole("progressbar", { name: "Write Heddle 23" })).toBeVisible({ timeout: 30_000 });
  await expect(
    page
      .getByRole("list", { name: "Flash of the board" })
      .getByText(/written and checked/)
      .first(),
  ).toBeAttached({ timeout: 30_000 });
}

/** An update of which everything is decided and nothing is written yet: it waits for hands; its card is open. */
async function aboutToWrite(page: Page, tag: string, bay: number): Promise<string> {
  await signIn(page, "technician");
  await setPace(page, 40);
  const card = await beginUpdate(page, tag, bay);
  await bringUnwatched(page, (state) => currentStep(state)?.kind === "make-safe");
  return card;
}

/** The supervisor starts the bench again; the strip says so as long as it is away. */
async function benchIsBack(page: Page, oldPid: number): Promise<void> {
  await expect.poll(() => pidOf("bench"), { timeout: 20_000 }).not.toBe(oldPid);
  await expect(page.getByText("The bench is not running")).toHaveCount(0, { timeout: 20_000 });
}

test("case C26: the cable is pulled in the middle of the flash, and the job goes on when it is back", async ({
  page,
}) => {
  await aboutToWrite(page, "QW-02", 2);
  await setPace(page, 1);
  await confirmSafe(page);
  await waitForWriting(page);
  await page.getByRole("button", { name: "Pull the cable" }).click();
  await expect(steps(page)).toContainText("The cable came out, or the board lost its power");
  await page.getByRole("button", { name: "Plug the cable in" }).click();
  await finishUnwatched(page);
});

test("the bench process is killed in the middle of the flash and in the middle of the restore; nothing is lost", async ({
  page,
}) => {
  const card = await aboutToWrite(page, "QW-04", 3);
  await setPace(page, 1);
  await confirmSafe(page);
  await waitForWriting(page);
  let pid = pidOf("bench");
  process.kill(pid, "SIGKILL");
  await benchIsBack(page, pid);
  await expect(steps(page)).toContainText("The bench process ended in the middle of this step", { timeout: 20_000 });
  // slow enough that the restore can be met in its middle
  await expect(page.locator("[aria-current=step]")).toContainText("First start", { timeout: 60_000 });
  await setPace(page, 0.1);
  await expect(page.getByText(/Line \d+ of \d+/).first()).toBeVisible({ timeout: 60_000 });
  pid = pidOf("bench");
  process.kill(pid, "SIGKILL");
  await benchIsBack(page, pid);
  // the board cannot be asked beside its job: the bay says where what is known of it stands
  await page.goto("/bench/3");
  const known = page.getByRole("region", { name: "What is known" });
  await expect(known).toContainText("stands on its card");
  await expect(known).not.toContainText("not known");
  await page.goto(card);
  await finishUnwatched(page);
  await page.goto(`${card}/proof`);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/All \d+ values took/);
  // the boards that this file left in other bays came back as they were
  const strip = page.getByRole("navigation", { name: "Bench" });
  for (const bay of [2, 3])
    await expect(strip.getByRole("link", { name: `Bay ${bay}:` })).toContainText("Answers, Heddle 23", {
      timeout: 20_000,
    });
});

test("the web process is killed: the running job does not notice", async ({ page }) => {
  const card = await aboutToWrite(page, "QW-05", 4);
  await setPace(page, 1);
  await confirmSafe(page);
  await waitForWriting(page);
  const pid = pidOf("web");
  process.kill(pid, "SIGKILL");
  await expect(page.getByText("No connection to the server; the bench works on")).toBeVisible({ timeout: 10_000 });
  await expect.poll(() => pidOf("web"), { timeout: 20_000 }).not.toBe(pid);
  await expect
    .poll(
      () =>
        page.request.get("/api/health").then(
          (r) => r.ok(),
          () => false,
        ),
      { timeout: 30_000 },
    )
    .toBe(true);
  await page.goto(card);
  await finishUnwatched(page);
  await expect(steps(page)).not.toContainText("The bench process ended");
});

test("case C21, case C22: the console swallows the word for the loader; the card says what the hands can do", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 8);
  const card = await beginUpdate(page, "QW-06", 5);
  await page.goto("/bench/5");
  await page.getByLabel("The console swallows the word for the loader").click();
  await expect(page.getByLabel("The console swallows the word for the loader")).toBeChecked();
  await page.goto(card);
  await bringUnwatched(page, (state) => currentStep(state)?.kind === "make-safe");
  await confirmSafe(page);
  await expect(steps(page)).toContainText("The console took the word and did nothing", { timeout: 20_000 });
  await expect(steps(page)).toContainText("Bridge its boot pads");
  await page.getByRole("button", { name: "Pull the cable" }).click();
  await page.getByRole("button", { name: "Plug in, boot pads bridged" }).click();
  await expect(steps(page)).toContainText("It is in its USB loader", { timeout: 20_000 });
  // case C56: this board's receiver has no power from USB
  await expect(steps(page)).toContainText("Lift the nose", { timeout: 60_000 });
  await leanAsAsked(page);
  await page.getByRole("button", { name: "Turn clockwise" }).click();
  await expect(steps(page)).toContainText("not provable now");
  await page.getByRole("button", { name: "Fit the battery" }).click();
  await expect(steps(page)).not.toContainText("not provable now");
  await stopJob(page);
  await page.goto("/aircraft/QW-06");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Out of service");
});
