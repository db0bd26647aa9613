import { bring, button, choose, expectAccessible, setPace, signIn } from "./app";
import { expect, test } from "./workshop";

test("what a lead chose for a campaign a technician takes over on the plan; without it only a lead may", async ({
  page,
  browser,
}) => {
  await signIn(page, "lead");
  await setPace(page, 40);
  await page.goto("/campaigns");
  await button(page, "Begin a campaign").click();
  await choose(page.getByRole("combobox", { name: "For every" }), "Teasel");
  await choose(page.getByRole("combobox", { name: "To", exact: true }), "Weft 9");
  await page.getByLabel("What it is for").fill("The receivers come off");
  await button(page, "Begin it").click();
  const calls = page.getByRole("region", { name: "Decided once" });
  const port = calls.getByRole("radiogroup", { name: "Port" });
  await expect(port).toBeVisible({ timeout: 30_000 });

  // before the lead has said anything, the technician has only the other way
  const technician = await (await browser.newContext()).newPage();
  await signIn(technician, "technician");
  await bring(technician, 4, "QW-15");
  await button(technician, "Plug the cable in").click();
  await expect(technician.getByRole("heading", { name: "Answers, Weft 8" })).toBeVisible({ timeout: 20_000 });
  await technician.getByRole("region", { name: "Campaign" }).getByRole("button").click();
  await technician.waitForURL(/\/jobs\/\d+$/);
  const card = technician.url();
  await button(technician, "Begin with step 1").click();
  await technician.getByRole("link", { name: "Look at the plan and decide" }).click({ timeout: 30_000 });
  const cannot = technician.locator("#cannot");
  await expect(cannot.getByRole("button", { name: "Leave it off" })).toBeDisabled();
  await expect(cannot).toContainText("Only a lead may decide this.");

  // the lead says it once, for all
  await port.getByRole("radio", { name: /Leave it off/ }).check();
  await expect(port.getByRole("radio", { name: /Leave it off/ })).toBeChecked();
  await expect(calls).toContainText("decided by lead");

  await technician.reload();
  await expect(cannot).toContainText("Weft 9 for every Teasel: lead chose Leave it off");
  await expect(cannot).not.toContainText("Only a lead may decide this.");
  await cannot.getByRole("button", { name: "Leave it off" }).click();
  await expect(cannot).toContainText("decided by technician, after lead, Weft 9 for every Teasel");

  await expectAccessible(technician);

  // another word of the lead’s takes the leave back; what the technician took over stays until they change it
  await port.getByRole("radio", { name: "Wire it to port 4" }).check();
  await expect(port.getByRole("radio", { name: "Wire it to port 4" })).toBeChecked();
  await cannot.getByRole("button", { name: "Wire it to port 4" }).click();
  await expect(cannot.getByRole("button", { name: "Wire it to port 4" })).toHaveAttribute("aria-pressed", "true");
  const refused = await technician.request.post(card.replace("/jobs/", "/api/jobs/"), {
    data: { kind: "decide", choices: { "row ports/2": "leave-off" } },
    headers: { origin: new URL(card).origin },
  });
  expect([refused.status(), await refused.text()]).toEqual([422, expect.stringContaining("lead-wanted")]);

  await technician.request.post(card.replace("/jobs/", "/api/jobs/"), {
    data: { kind: "stop", reason: "Another day" },
    headers: { origin: new URL(card).origin },
  });
  await technician.goto(card);
  await expect(technician.getByText(/stopped/i).first()).toBeVisible();
  await technician.goto("/bench/4");
  await button(technician, "Take the board out of the bay").click();
  await button(page, "End it").click();
  await page.getByLabel("Why").fill("Another way was found");
  await button(page, "End the campaign").click();
  await expect(page.getByText(/Ended .* by lead: Another way was found/)).toBeVisible();
});
