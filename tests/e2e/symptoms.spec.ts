import type { Page } from "@playwright/test";
import { bring, button, choose, confirmSafe, expectAccessible, optionsOf, picture, setPace, signIn } from "./app";
import { finishUnwatched } from "./unwatched";
import { expect, test } from "./workshop";

async function addAircraft(page: Page, tag: string, type: string): Promise<void> {
  await page.goto("/");
  await button(page, "Add aircraft").click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Tag").fill(tag);
  await dialog.getByLabel("Type").fill(type);
  await dialog.getByRole("button", { name: "Add it" }).click();
  await expect(dialog).toHaveCount(0);
}

test("three boards that do not fly lie on the bench at the start, each with what is wrong with it", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 20);
  for (const [bay, label, said] of [
    [4, "which does not start", "Plugged in, not answering yet"],
    [5, "nobody knows whose", "Shows only its loader"],
    [6, "which restarts for ever", "Comes and goes: it restarts again and again"],
  ] as const) {
    await page.goto(`/bench/${bay}`);
    await expect(page.getByText(`Bay ${bay}`, { exact: true })).toBeVisible();
    await expect(page.getByText(new RegExp(`${label}$`))).toBeVisible();
    await button(page, "Plug the cable in").click();
    await expect(page.getByRole("heading", { level: 1 })).toHaveText(said, { timeout: 20_000 });
    await expectAccessible(page);
    await button(page, "Pull the cable").click();
    await expect(button(page, "Plug the cable in")).toBeVisible();
  }
});

test("case C44: a board that restarts for ever is seen as such, read out through its loader, cleared, and set up again", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 8);
  await bring(page, 4, "restarts for ever");
  await button(page, "Plug the cable in").click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Comes and goes: it restarts again and again", {
    timeout: 20_000,
  });
  const todo = page.getByRole("region", { name: "What to do" });
  await expect(todo.getByRole("heading", { level: 3 })).toHaveText(
    "Settings that the firmware trips over: it restarts for ever.",
  );
  await expect(page.getByText("its lamp blinks")).toBeVisible();
  await expectAccessible(page);
  await button(page, "Pull the cable").click();
  await button(page, "Plug in, holding the boot button").click();
  await expect(page.getByRole("region", { name: "What is known" })).toContainText("QW-11, by loader id", {
    timeout: 20_000,
  });
  await button(page, "Order revival").click();
  await page.waitForURL(/\/jobs\/\d+$/);
  const card = page.url();
  const steps = page.getByRole("region", { name: "Steps" });
  await expect(steps).not.toContainText("Clear the settings region");
  await setPace(page, 40);
  await button(page, "Begin with step 1").click();
  await confirmSafe(page);
  // what was read out made the plan another one, and the card says so
  await expect(steps).toContainText("it is damaged: its length is larger than the region", { timeout: 30_000 });
  await expect(steps).toContainText("Clear the settings region of QW-11");
  await finishUnwatched(page);
  await page.goto(`${card}/proof`);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^All \d+ values took, read back from the board\./);
});

test("case C45: a board that shows nothing at all is told from dead hardware, and answers over its serial loader", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 8);
  await bring(page, 2, "all erased by mistake");
  await button(page, "Plug the cable in").click();
  const todo = page.getByRole("region", { name: "What to do" });
  await expect(todo).toContainText("Best next check, about", { timeout: 20_000 });
  await expect(page.getByText("no lamp is lit")).toBeVisible();
  await expectAccessible(page);
  await picture(page, "trouble");
  // each answer makes the next try another one, until one cause is left
  const answers: Record<string, string> = {
    "Is a lamp lit on the board?": "All is dark",
    "Does it show itself on another cable, one that carried data before?": "No change",
    "Does another board show itself in this socket, on this cable?": "The other board does",
    "Pull it out, plug it in with its boot button held or its pads bridged. Does a loader show itself?": "No change",
    "Wire the serial adapter to its first port, bridge its boot pads, plug it in. Does a serial loader answer?":
      "A loader answers",
  };
  const heading = todo.getByRole("heading", { level: 3 });
  for (let tries = 0; tries < 6; tries++) {
    const asked = await heading.innerText();
    const answer = answers[asked];
    if (answer === undefined) break;
    await todo.getByRole("button", { name: answer }).click();
    await expect(heading).not.toHaveText(asked);
  }
  await expect(heading).toHaveText("Its USB loader is erased, and its firmware with it.");
  await button(page, "Pull the cable").click();
  await button(page, "Wire the serial adapter").click();
  await button(page, "Plug in, boot pads bridged").click();
  const known = page.getByRole("region", { name: "What is known" });
  await expect(known).toContainText("a serial loader", { timeout: 20_000 });
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Shows only its loader");
  // which target it takes is asked of the person, the processor is known
  await known.getByRole("link", { name: "Which target does it take?" }).click();
  await expect(page.getByRole("list", { name: /^Evidence/ })).toContainText("Processor, by its loader: Nettle 20");
  await page.getByRole("region", { name: "Next question" }).getByRole("link", { name: "Slate 2", exact: true }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^It takes CSLATE-B: /);
});

test("a board that shows only its loader, and that nobody knows, is told what it is, given to a new aircraft, and commissioned", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 40);
  await addAircraft(page, "QW-18", "Sedge");
  await bring(page, 4, "nobody knows whose");
  await button(page, "Plug the cable in").click();
  await expect(page.getByRole("heading", { name: "Shows only its loader" })).toBeVisible({ timeout: 20_000 });
  const todo = page.getByRole("region", { name: "What to do" });
  await expect(todo).toContainText("if it was never set up, say whose it becomes");
  await todo.getByLabel("Tag of its aircraft").fill("QW-18");
  // only models with the processor that its loader shows are offered
  const model = todo.getByLabel(/^Model: look at its print/);
  const models = await optionsOf(model);
  await expect(models.filter({ hasText: "Tamsin" })).toHaveCount(0);
  await models.filter({ hasText: /^Corsley Slate: printed “Slate 2”, revision / }).click();
  await todo.getByRole("button", { name: /^Give the board to/ }).click();
  await expect(todo).toContainText("Nothing was ever read out of this board", { timeout: 20_000 });
  await expect(todo).toContainText("The counts above go by the standard of Sedge");
  // what its type flies is offered first: the release of the standard, whichever that is by now
  const flies = todo.locator("label").filter({ hasText: "as its type flies" });
  await expect(todo.getByRole("radio", { name: /as its type flies/ })).toBeChecked();
  const release = await flies.locator("b").innerText();
  await expectAccessible(page);
  await button(page, "Order commissioning").click();
  await page.waitForURL(/\/jobs\/\d+$/);
  const card = page.url();
  await expect(page.getByRole("heading", { name: `Commission on ${release}` })).toBeVisible();
  await button(page, "Begin with step 1").click();
  await finishUnwatched(page);
  await page.goto(`${card}/proof`);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("took");
  await page.goto("/aircraft/QW-18");
  await expect(page.getByRole("region", { name: "Board", exact: true })).toContainText("5B20-0A11-7C33");
  await expect(page.getByRole("region", { name: "Board", exact: true })).toContainText(release);
});

test("a co-processor that does not answer is told from a broken gyro, and the board feels again when its plug sits", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 8);
  await bring(page, 3, "since the rain");
  await button(page, "Plug the cable in").click();
  const heading = page.getByRole("heading", { level: 1 });
  await expect(heading).toHaveText("Answers, Weft 9, and does not hear its co-processor", { timeout: 20_000 });
  const todo = page.getByRole("region", { name: "What to do" });
  await expect(todo.getByRole("heading", { level: 3 })).toHaveText(
    "Its co-processor does not answer: it feels nothing without it.",
  );
  await expect(todo).toContainText("press the plug between the two boards home");
  await expectAccessible(page);
  await button(page, "Pull the cable").click();
  const loose = page.getByLabel("The plug to its co-processor is loose");
  await loose.click();
  await expect(loose).not.toBeChecked();
  await button(page, "Plug the cable in").click();
  await expect(heading).toHaveText("Answers, Weft 9. Whose is it?", { timeout: 20_000 });
});

test("case C46: a board that does not start is reached by its loader, known by it, and brought back with its settings", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 40);
  await bring(page, 2, "does not start");
  await page.getByRole("button", { name: "Plug the cable in" }).click();
  // it starts half an image and says nothing: what to try is told, the likeliest first
  await expect(page.getByRole("heading", { name: "Plugged in, not answering yet" })).toBeVisible({ timeout: 20_000 });
  const todo = page.getByRole("region", { name: "What to do" });
  await todo.getByRole("button", { name: "It is lit" }).click();
  await expect(todo.getByRole("list", { name: "Likely causes" })).toContainText(
    "Half an image: it starts, and what it needs is not there",
  );
  await expectAccessible(page);
  await page.getByRole("button", { name: "Pull the cable" }).click();
  await page.getByRole("button", { name: "Plug in, holding the boot button" }).click();
  await expect(page.getByRole("heading", { name: "Shows only its loader" })).toBeVisible({ timeout: 20_000 });
  await expect(page.getByRole("region", { name: "What is known" })).toContainText("QW-10, by loader id");
  await expect(page.getByRole("radio", { name: /^Treadle 80 as it was backed up last/ })).toBeChecked({
    timeout: 20_000,
  });
  await expectAccessible(page);

  await page.getByRole("button", { name: "Order revival" }).click();
  await page.waitForURL(/\/jobs\/\d+$/);
  const card = page.url();
  await expect(page.getByRole("heading", { name: "Revive on Treadle 80" })).toBeVisible();
  await expect(page.getByRole("region", { name: "Steps" }).getByRole("listitem").first()).toContainText(
    "Know the board by its loader",
  );
  await page.getByRole("button", { name: "Begin with step 1" }).click();
  await confirmSafe(page);
  const steps = page.getByRole("region", { name: "Steps" });
  await expect(steps).toContainText("as chip 71D0-6A01-11F3 gives it", { timeout: 20_000 });
  await expect(steps).toContainText("stored as they are; it holds kept settings", { timeout: 30_000 });
  await finishUnwatched(page);
  await page.goto(`${card}/proof`);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^All \d+ values took, read back from the board\./);
  await page.goto("/aircraft/QW-10");
  await expect(page.getByRole("main")).toContainText("Treadle 80");
});

test("case C57: a board that finds no gyro runs another target's firmware; its model says which one is its own", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 40);
  await addAircraft(page, "QW-19", "Warbler");
  await bring(page, 2, "twitches, no attitude");
  await button(page, "Plug the cable in").click();
  const heading = page.getByRole("heading", { level: 1 });
  await expect(heading).toHaveText("Answers, Heddle 22, and finds no gyro", { timeout: 20_000 });
  const todo = page.getByRole("region", { name: "What to do" });
  await expect(todo).toContainText("The firmware on it looks for an Orrin");
  await expectAccessible(page);
  await todo.getByRole("button", { name: "Another one" }).click();
  await expect(todo.getByRole("heading", { level: 3 })).toHaveText(
    "Firmware of another board: right processor, wrong pads.",
  );
  await todo.getByLabel("Tag of its aircraft").fill("QW-19");
  const model = todo.getByLabel(/^Model: look at its print/);
  if (await model.isVisible()) await choose(model, /Tamsin Reed A/);
  await todo.getByRole("button", { name: /^Give the board to/ }).click();
  await expect(todo.getByRole("note")).toContainText("its model takes TREED", { timeout: 20_000 });
  await expectAccessible(page);
  await button(page, "Order this job").click();
  await page.waitForURL(/\/jobs\/\d+$/);
  await expect(page.getByRole("heading", { name: "Correct the target: Heddle 22 for TREED" })).toBeVisible();
  await button(page, "Begin with step 1").click();
  const steps = page.getByRole("region", { name: "Steps" });
  await expect(steps).toContainText("by its model; the firmware on it is that of TREED-B", { timeout: 30_000 });
  await finishUnwatched(page);
  await page.goto("/bench/2");
  await expect(heading).toHaveText("Answers, Heddle 22", { timeout: 20_000 });
  await expect(page.getByRole("region", { name: "What is known" })).toContainText("TREED");
});

test("a board out of its bag is read out, given to a new aircraft, and gets its job", async ({ page }) => {
  await signIn(page, "technician");
  await bring(page, 6, "A new Corsley Slate");
  await setPace(page, 40);
  await page.getByRole("button", { name: "Plug the cable in" }).click();
  await expect(page.getByRole("heading", { name: "Answers, Heddle 22. Whose is it?" })).toBeVisible({
    timeout: 20_000,
  });
  await page.getByRole("button", { name: "Back it up now" }).click();
  await expect(page.getByRole("link", { name: /^Corsley Slate Heddle 22/ })).toBeVisible({ timeout: 20_000 });
  await expectAccessible(page);

  // an aircraft that has another board keeps it, unless somebody says otherwise
  await page.getByLabel("Tag of its aircraft").fill("QW-02");
  await page.getByRole("button", { name: /^Give the board to/ }).click();
  await expect(page.getByRole("alert").filter({ hasText: "QW-02 has another board" })).toBeVisible();
  await expect(page.getByRole("button", { name: "Give it to QW-02 all the same" })).toBeVisible();
  await page.getByLabel("Tag of its aircraft").fill("QW-17");
  await page.getByRole("button", { name: /^Give the board to/ }).click();
  await expect(page.getByRole("alert").filter({ hasText: "There is no aircraft QW-17" })).toBeVisible();

  // what is missing is made where it is missed, and the board goes to it at once
  await page.getByRole("button", { name: "Add QW-17 to the register" }).click();
  const dialog = page.getByRole("dialog");
  await expect(dialog.getByLabel("Tag")).toHaveValue("QW-17");
  await expectAccessible(page);
  await dialog.getByLabel("Type").fill("Sedge");
  await dialog.getByRole("button", { name: "Add it" }).click();
  await expect(dialog).toHaveCount(0);
  await expect(page.getByRole("heading", { name: "Answers, Heddle 22", exact: true })).toBeVisible({ timeout: 20_000 });
  await expect(page.getByRole("region", { name: "What is known" })).toContainText("QW-17, by chip id");
  await page.getByRole("button", { name: "Order this job" }).click();
  await page.waitForURL(/\/jobs\/\d+$/);
  await page.getByRole("button", { name: "Begin with step 1" }).click();
  await expect(page.getByRole("region", { name: "Steps" })).toContainText("Complete:", { timeout: 30_000 });
  await page.goto("/aircraft/QW-17/history");
  await expect(page.getByRole("main")).toContainText(
    "Its board is Corsley Slate, chip 4A17-0C31-5E90. Said by technician.",
  );
  await expect(page.getByRole("link", { name: /^QW-17 Heddle 22/ })).toHaveCount(2);
});
