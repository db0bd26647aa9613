import { bring, button, choose, expectAccessible, picture, setPace, signIn } from "./app";
import { finishUnwatched } from "./unwatched";
import { expect, test } from "./workshop";

test("case C17: which target a board takes is found by the one question that tells most; evidence can be taken back", async ({
  page,
}) => {
  await signIn(page, "observer");
  await page.getByRole("navigation", { name: "Places" }).getByRole("link", { name: "Boards" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^\d+ models take \d+ targets\.$/);
  await expectAccessible(page);
  await page.getByRole("searchbox", { name: "Search boards" }).fill("harrow");
  await expect(page.getByRole("region", { name: "Boards", exact: true }).getByRole("row")).toHaveCount(3);
  await page.getByRole("link", { name: "Which target does a board take?" }).click();
  const question = page.getByRole("region", { name: "Next question" });
  await expect(question).toContainText("Which name is printed on it?");
  // typed as it stands there, not quite as the catalogue has it
  await question.getByLabel("Or as it stands there").fill("reed");
  await question.getByRole("button", { name: "That is what it says" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^TREED(-B)? \(4\d %\) or TREED(-B)? \(4\d %\)\.$/);
  await expect(question).toContainText("Which letter of revision stands on it?");
  await expect(question.getByRole("img")).toHaveAccessibleName(/Look at its revision/);
  await expectAccessible(page);
  await picture(page, "which-target");
  // who can't tell is asked for the next best
  await question.getByRole("link", { name: "I can’t tell" }).click();
  await expect(question).toContainText("the gyro?");
  await question.getByRole("link", { name: "Orrin 3" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^It takes TREED: \d\d % certain\.$|^TREED leads/);
  // a misread piece of evidence is left out again, and the question comes back
  const evidence = page.getByRole("list", { name: /^Evidence/ });
  await expect(evidence.getByRole("listitem")).toHaveCount(2);
  await evidence.getByRole("link", { name: "Leave out: Marking of its gyro" }).click();
  await expect(evidence.getByRole("listitem")).toHaveCount(1);
  // each state is an address
  await page.goto("/boards/which?printed=Reed&revision=B");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^It takes TREED-B: 9\d % certain\.$/);
  await expect(page.getByRole("region", { name: "Answer" })).toContainText("A Tamsin Reed B takes it");
  await page.getByRole("link", { name: "Tamsin Reed B" }).first().click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Tamsin Reed B takes TREED-B.");
  await expectAccessible(page);
});

test("case C65: signs that contradict each other are said, and nothing is picked", async ({ page }) => {
  await signIn(page, "technician");
  await page.goto("/boards/which?target-word=PWEIR&printed=Slate+2");
  await expect(page.getByRole("main").getByRole("alert")).toContainText("The signs contradict each other.");
  await expect(page.getByRole("heading", { level: 1 })).not.toContainText("It takes");
  await expect(page.getByRole("region", { name: "Next question" })).toBeVisible();
  await expectAccessible(page);
  // words that nobody wrote, and bays that are none
  await page.goto("/boards/which?printed=%3Cscript%3E&nonsense=1&unseen=nothing,printed");
  await expect(page.getByRole("list", { name: /^Evidence/ })).toContainText("<script>");
  await page.goto("/boards/which?bay=77");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("There is nothing at this address.");
});

test("cases C11 and C19: a special target that a release lacks gets the nearest one, pad by pad, and only with a reason", async ({
  page,
}) => {
  await signIn(page, "lead");
  await page.goto("/boards/targets?here=PSLUICE-X&release=heddle-23&aircraft=QW-08");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(
    "Heddle 23 does not build PSLUICE-X; PSLUICE is nearest.",
  );
  await expect(page.getByRole("region", { name: "Pads that differ" }).getByRole("row")).toContainText([
    "Pad",
    "lights would not work as wired",
    "R4",
  ]);
  await expectAccessible(page);

  await setPace(page, 40);
  await bring(page, 3, "QW-08");
  await page.getByRole("button", { name: "Plug the cable in" }).click();
  const choice = page.getByRole("radio", { name: /^Heddle 23 / });
  await expect(choice).toBeVisible({ timeout: 30_000 });
  await choice.check();
  await expect(page.getByRole("main")).toContainText(
    "This would write the firmware of PSLUICE to a board that takes PSLUICE-X.",
  );
  await expect(page.getByRole("button", { name: "Order this job" })).toBeDisabled();
  const why = page.getByLabel(/^Why it is done all the same/);
  await why.fill("so");
  await page.getByRole("button", { name: "Order this job" }).click();
  await expect(page.getByRole("main").getByRole("alert")).toContainText("Say why this board shall run");
  await why.fill("No special of Heddle 23 yet; flies without its lights until then");
  await expectAccessible(page);
  await page.getByRole("button", { name: "Order this job" }).click();
  await page.waitForURL(/\/jobs\/\d+$/);
  await expect(page.getByRole("heading", { name: "Change to Heddle 23 as PSLUICE" })).toBeVisible();
  await page.getByRole("button", { name: "Begin with step 1" }).click();
  const steps = page.getByRole("region", { name: "Steps" });
  await expect(steps).toContainText("PSLUICE, instead of PSLUICE-X, because: No special of Heddle 23 yet", {
    timeout: 30_000,
  });
  await expect(steps).toContainText("2 pads differ: LED, R4");
  const card = page.url();
  await page.getByRole("link", { name: "Look at the plan and decide" }).click({ timeout: 30_000 });
  // what the pads that differ did is decided on the plan, by a lead's name
  await expect(page.locator("#cannot")).toContainText("PSLUICE drives LED where this board does not have it.");
  await page.goto(card);
  await finishUnwatched(page);
  // the register knows now which target it was given, and the next job takes that as its own
  await page.goto("/aircraft/QW-08");
  await expect(page.getByRole("region", { name: "Board", exact: true })).toContainText("PSLUICE");
  await expect(page.getByRole("region", { name: "Board", exact: true })).not.toContainText("PSLUICE-X");
});

test("case C36: a maker's pad sheet is read for a release; what its family refuses is listed, the rest comes out as documents", async ({
  page,
}) => {
  await signIn(page, "lead");
  await page.goto("/boards");
  await page.getByRole("link", { name: "Read a maker’s pad sheet" }).click();
  // it begins without an error
  await expect(page.getByRole("region", { name: "Refused lines" }).getByRole("heading")).toHaveText(
    "No line is refused.",
  );
  await expect(page.getByText(/Not said yet: board, maker, processor, gyro, usb/)).toBeVisible();
  await choose(page.getByLabel("For release"), "Heddle 22");
  const lines = [
    "board: Pellow Eddy",
    "maker: Pellow",
    "processor: Nettle 26",
    "gyro: Orrin 4",
    "usb: 1d50:6a01",
    "boot: button",
    "pad: M1; timer: 1 channel 1; default: front left",
    "pad: S1; timer: 3 channel 2; default: rudder",
    "<b>pad</b>: M2; timer: 1 channel 2",
  ];
  await page.getByLabel("One line a pad").fill(lines.join("\n"));
  const refused = page.getByRole("region", { name: "Refused lines" });
  await expect(refused.getByRole("heading")).toHaveText("2 lines left out.");
  await expect(refused.getByRole("listitem")).toContainText([
    "Line 8: This family serves no “rudder” there.",
    "<b>pad</b>: M2",
  ]);
  const made = page.getByRole("region", { name: "What comes of it" });
  await expect(made.getByRole("heading")).toHaveText("Pellow Eddy: 1 pad, 0 ports.");
  await expect(made.getByRole("link", { name: "Download the board’s document" })).toBeVisible();
  await expectAccessible(page);
  await button(page, "Keep the board and its release").click();
  await made.getByRole("link", { name: "Pellow Eddy" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Pellow Eddy");
  await expect(page.getByText("0x1d50:0x6a01")).toBeVisible();
});

test("a board by its particulars: what is asked depends on the work and on what is known; its documents are kept together", async ({
  page,
  browser,
}) => {
  await signIn(page, "lead");
  await page.goto("/boards");
  await page.getByRole("link", { name: "A board by its particulars" }).click();
  const field = (name: string) => page.getByLabel(name, { exact: true });
  await page.getByRole("button", { name: "Look at its documents" }).click();
  await expect(page.getByText("Its maker is missing")).toBeVisible();
  await expect(field("What its console calls it")).toBeFocused();
  await choose(page.getByRole("combobox", { name: "Runs release" }), "Heddle 24");
  await field("What its console calls it").fill("CSLATE-B");
  await field("Its name").fill("Slate Mini");
  await field("Its maker").fill("Corsley");
  await field("Product id while it runs").fill("0x0061");
  // one that the workshop knows: nothing more is asked, not even for flashing
  await field("Its processor").fill("Nettle 41");
  await page.getByLabel("It is to be flashed as well").check();
  await expect(page.getByText("How Nettle 41 is flashed is known: nothing more is asked.")).toBeVisible();
  await page.getByRole("button", { name: "Look at its documents" }).click();
  await expect(page.getByRole("alert").filter({ hasText: "has a target CSLATE-B already" })).toBeVisible();
  await field("What its console calls it").fill("CSLATE-MINI");

  // one that it does not know: how its flash is parted, and where it is flashed, its loaders
  await field("Its processor").fill("Nettle 33");
  const chip = page.getByRole("region", { name: "Its processor" });
  await chip.getByLabel("Its sectors, from the first on").fill("4 x 16 KB\n7 x 128 KB");
  await chip.getByLabel("Settings are kept in sectors").fill("1-2");
  await chip.getByLabel("The firmware begins with sector").fill("4");
  await page.getByRole("button", { name: "Look at its documents" }).click();
  await expect(chip.getByText("Say through which loader it is flashed")).toBeVisible();
  await chip.getByLabel("As a drive that takes UF2").check();
  await chip.getByLabel("Product id").fill("0x0062");
  await chip.getByLabel("Family id of its blocks").fill("0x4E455435");
  await page.getByRole("button", { name: "Look at its documents" }).click();
  const made = page.getByRole("region", { name: "What comes of it" });
  await expect(made.getByLabel("Document of corsley-slate-mini")).toContainText("target: CSLATE-MINI");
  await expectAccessible(page);
  await page.evaluate(() => scrollTo(0, 0));
  await made.getByRole("button", { name: "Keep them" }).click();
  await expect(made.getByRole("status")).toContainText("Nettle 33 v1, corsley-slate-mini v1, heddle-24 v");
  await page.goto("/boards?q=slate+mini");
  await expect(page.getByText("Corsley Slate Mini").or(page.getByText("Slate Mini")).first()).toBeVisible();

  // whoever is no lead looks at the documents, and cannot keep them
  const technician = await (await browser.newContext()).newPage();
  await signIn(technician, "technician");
  await technician.goto("/boards/new?release=heddle-24");
  await expect(technician.getByRole("heading", { name: "A board by its particulars." })).toBeVisible();
  const refused = await technician.request.post("/api/boards", {
    data: { releaseId: "heddle-24" },
    headers: { origin: new URL(technician.url()).origin },
  });
  expect([refused.status(), await refused.text()]).toEqual([403, expect.stringContaining("role-refused")]);
});
