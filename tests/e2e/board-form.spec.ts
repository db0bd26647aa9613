import { choose, expectAccessible, signIn } from "./app";
import { expect, test } from "./workshop";

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
