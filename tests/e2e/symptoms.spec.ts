import {
  bring,
  button,
  confirmSafe,
  decideIfAsked,
  doChecks,
  expectAccessible,
  optionsOf,
  picture,
  setPace,
  signIn,
  signOff,
} from "./app";
import { expect, test } from "./workshop";

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
  await setPace(page, 12);
  await doChecks(page);
  await page.goto(`${card}/proof`);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^All \d+ values took, read back from the board\./);
  await page.goto(card);
  await signOff(page, "QW-11");
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
  await page.goto("/");
  await button(page, "Add aircraft").click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Tag").fill("QW-18");
  await dialog.getByLabel("Type").fill("Sedge");
  await dialog.getByRole("button", { name: "Add it" }).click();
  await expect(dialog).toHaveCount(0);
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
  await decideIfAsked(page);
  await confirmSafe(page);
  await setPace(page, 12);
  await doChecks(page);
  await page.goto(`${card}/proof`);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("took");
  await page.goto(card);
  await signOff(page, "QW-18");
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
