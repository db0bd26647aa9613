import { readFileSync } from "node:fs";
import Papa from "papaparse";
import type { Page } from "@playwright/test";
import { bring, choose, expectAccessible, picture, signIn } from "./app";
import { expect, test } from "./workshop";

test("an aircraft is held against its type's standard: in words, by area, with pictures", async ({ page }) => {
  await signIn(page, "technician");
  await page.goto("/aircraft/QW-04");
  await page.getByRole("link", { name: "Against its standard" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("QW-04 differs from Sedge standard 1 in 8 of");
  const handling = page.getByRole("table", { name: "Handling" });
  await expect(handling.getByRole("row").filter({ hasText: "roll.turn-rate" })).toContainText(
    /7\.85 rad\/s.*6\.98 rad\/s.*since/,
  );
  await expect(page.getByRole("region", { name: "Stick feel, roll" })).toContainText("12 % faster at full stick");
  await expect(page.getByRole("region", { name: "Levers" }).getByRole("img").first()).toBeVisible();
  await expectAccessible(page);
  await picture(page, "compare");
  await page.getByLabel("Only what changes how it flies").click();
  await expect(page).toHaveURL(/only=flies/);
  await handling.getByRole("link", { name: /^line/ }).first().click();
  await expect(page.locator(":target")).toContainText("put");
});

test("case C04: aircraft on different builds are compared after carrying one side over, and it says so", async ({
  page,
}) => {
  await signIn(page, "observer");
  await page.goto("/compare?left=aircraft:QW-03&right=aircraft:QW-02");
  await expect(page.getByRole("region", { name: "Sides" })).toContainText(
    "carried over to be compared: Heddle 22 → 23",
  );
  await expect(page.getByRole("table", { name: "Handling" })).toContainText("the default moved between the releases");
  await expect(page.getByRole("region", { name: "Same number, other meaning" })).toContainText("motor.rest");
  // what a change would call for follows from what differs: another build, and each value that flies
  const shown = page.getByRole("region", { name: "Checks called for" });
  await shown.getByText(/^A change from one side to the other calls for \w+ checks: attitude signs/).click();
  const because = shown.getByRole("table", { name: "Checks, and why" });
  await expect(because.getByRole("row", { name: /^Receiver/ })).toContainText("Heddle 23 against Heddle 22");
  await expect(because.getByRole("row", { name: /^Answer to a tilt/ })).toBeVisible();
  await expect(because.getByRole("row", { name: /^Level at rest/ })).toHaveCount(0);
  await expectAccessible(page);
  // the same for other programs: as many lines as the page has differences, numbers as numbers
  const heading = await page.getByRole("heading", { level: 1 }).textContent();
  const href = (await page.getByRole("link", { name: "As CSV" }).getAttribute("href")) ?? "";
  const csv = Papa.parse<Record<string, string>>(await (await page.request.get(href)).text(), {
    header: true,
    skipEmptyLines: true,
  });
  const differing = csv.data.filter(({ group }) => group === "differs");
  expect([csv.errors, heading]).toEqual([[], expect.stringMatching(new RegExp(`\\b${differing.length} of \\d+`))]);
  expect(csv.data.some(({ group }) => group === "same number, other meaning")).toBe(true);
  const text = await (await page.request.get(href.replace("form=csv", "form=text"))).text();
  for (const { title = "" } of differing) expect(text).toContain(title);
  await page.getByRole("button", { name: /^Right QW-02/ }).click();
  await page.getByPlaceholder("A tag, a type, a release, a backup's name").fill("bobbin 41");
  // what the answer brought is led at once: Enter takes it, however late it came
  await expect(page.getByRole("option", { name: "Bobbin 41" })).toHaveAttribute("aria-selected", "true");
  await expectAccessible(page);
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/right=defaults/);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Defaults of Bobbin 41");
  await page.goto("/compare?left=aircraft:QW-99");
  await expect(page.getByRole("alert").filter({ hasText: "No read-out of QW-99 is on file" })).toBeVisible();
});

test("case C50, case C68: a type against its standard; the lead raises the standard, and all is held against that", async ({
  page,
}) => {
  await signIn(page, "lead");
  await page.goto("/compare/fleet/Sedge");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("of type Sedge stand off their standard");
  await expect(page.getByRole("table", { name: "Handling" })).toContainText("roll.bend");
  await expectAccessible(page);
  await picture(page, "drift");
  await page.getByLabel("As one matrix, aircraft × settings").check();
  await expect(page).toHaveURL(/view=matrix/);
  const matrix = page.getByRole("table", { name: "Aircraft against the standard" });
  await expect(matrix.getByRole("columnheader", { name: "QW-04" })).toBeVisible();
  await expect(matrix.getByRole("row").filter({ hasText: "roll.bend" })).toContainText("0.55");
  await expectAccessible(page);
  await page.getByLabel("Only what changes how it flies").check();
  await expect(matrix.getByRole("row").filter({ hasText: "feel 1" }).first()).toBeVisible();
  await page.getByLabel("As one matrix, aircraft × settings").uncheck();
  await expect(matrix).toHaveCount(0);
  await page.getByRole("button", { name: "Raise it to another release" }).click();
  await choose(page.getByRole("combobox", { name: "To", exact: true }), "Heddle 23");
  await page.getByRole("button", { name: "Raise the standard" }).click();
  await expect(page.getByRole("region", { name: "Standard" })).toContainText("Sedge standard 2, Heddle 23");
  await expect(page.getByRole("region", { name: "Standard" })).toContainText("Raised from standard 1");
  await page.getByRole("link", { name: "1", exact: true }).click();
  await expect(page.getByRole("region", { name: "Standard" })).toContainText("Sedge standard 1, Heddle 22");
  await page.goto("/compare/fleet/Bulrush");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Bulrush");
});

test("three configurations: conflicts wait, the rest is merged, the result is saved", async ({ page }) => {
  await signIn(page, "technician");
  await page.goto("/compare/three?base=defaults:heddle-22@CSLATE-B&mine=aircraft:QW-04&theirs=aircraft:QW-01");
  const conflict = page.getByRole("region", { name: "Changed on both sides and differently" });
  await expect(conflict).toContainText("gyro.smoothing");
  await expect(page.getByRole("button", { name: "Save the result" })).toBeDisabled();
  await expectAccessible(page);
  const groups = conflict.getByRole("group");
  for (let i = 0; i < (await groups.count()); i++) await groups.nth(i).getByRole("button", { name: "There" }).click();
  await page.getByRole("button", { name: "Save the result" }).click();
  await expect(page).toHaveURL(/\/backups\/\d+$/);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("QW-04 merged Heddle 22");
  await expect(page.getByText("put gyro.smoothing 70", { exact: true })).toBeVisible();
});

test("case C48: what changed between two read-outs, and one value over time", async ({ page }) => {
  await signIn(page, "observer");
  await page.goto("/aircraft/QW-04/history");
  const history = page.getByRole("list", { name: "History" });
  await expect(history).toContainText("Failsafe after");
  await expect(history).toContainText("1.5 s → 3.0 s");
  await expect(history).toContainText("Telemetry radio on port 4");
  await choose(page.getByRole("combobox", { name: "Setting", exact: true }), "Turn rate, roll, feel 1");
  await expect(page.getByRole("list", { name: "Turn rate, roll over time" })).toContainText("7.85 rad/s");
  await expectAccessible(page);
  await picture(page, "history");
});

test("case C07, case C52, case C73: what a release changes, for one aircraft, and for the fleet before anyone flashes", async ({
  page,
}) => {
  await signIn(page, "observer");
  await page.goto("/firmware");
  await picture(page, "firmware");
  await page.getByRole("group", { name: "Lineage" }).getByRole("link", { name: "Heddle 23" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Heddle 22 to Heddle 23: 5 silent changes");
  await expect(page.getByRole("table", { name: "New, and can limit flight" })).toContainText("ceiling.hard");
  await expectAccessible(page);
  await picture(page, "changes");
  await choose(page.getByRole("combobox", { name: "For", exact: true }), /^QW-13/);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("QW-13 from Weft 9 to Heddle 23");
  await page.getByRole("link", { name: "What it would do to the fleet" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Heddle 23 would touch");
  await expect(page.getByRole("table", { name: /^Silent/ })).toContainText("gyro.smoothing");
  await expect(page.getByRole("table", { name: "Aircraft" })).toContainText("Heddle 23 is not built for FGULL");
  await expectAccessible(page);
});

test("what a release requires of other parts is known as well, and leads to what they change", async ({ page }) => {
  await signIn(page, "observer");
  await page.goto("/firmware");
  const parts = page.getByRole("region", { name: "Releases of other parts" });
  await expect(parts.getByRole("row").filter({ hasText: "Pirn 5" })).toContainText("Weft 7, Weft 8, Weft 9");
  await expect(parts.getByRole("row").filter({ hasText: "Spindle 41" })).toContainText("none asks for it");
  await page.getByRole("group", { name: "Lineage" }).getByRole("link", { name: "Weft 9" }).click();
  const along = page.getByRole("region", { name: "What must move along" });
  await expect(along).toContainText("speed controllers: Spindle 44 or later. Reports of current came with 44.");
  await along.getByRole("link", { name: "Spindle 45" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Spindle 44 to Spindle 45: 1 silent change");
  await expect(page.getByRole("table", { name: /^Silent/ })).toContainText("heat ceiling");
  await expectAccessible(page);
  await choose(page.getByRole("combobox", { name: "From", exact: true }), "Spindle 41");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Spindle 41 to Spindle 45");
  // the fleet is asked the same
  await page.goto("/firmware/impact?to=weft-9&type=Teasel");
  await expect(along).toContainText("For QW-15.");
  await expect(page.getByRole("table", { name: "Same number, other meaning" })).toContainText("M3 → M1");
  // only releases of one part lead to each other
  await along.getByRole("link", { name: "Spindle 44" }).click();
  await choose(page.getByRole("combobox", { name: "To", exact: true }), "Pirn 6");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Pirn 5 to Pirn 6");
});

test("read-outs are brought as files, looked at, given to their aircraft, and filed once", async ({ page }) => {
  await signIn(page, "technician");
  await page.goto("/aircraft/QW-02");
  await page.getByRole("table").first().getByRole("link").first().click();
  const download = page.waitForEvent("download");
  await page.getByRole("link", { name: "Download as it was received" }).click();
  const original = readFileSync(await (await download).path());
  await page.getByLabel("A note").fill("Jumper J2 closed");
  await choose(page.getByLabel("Kind of note"), /^Wiring/);
  await page.getByRole("button", { name: "Add it" }).click();
  await expect(page.getByRole("region", { name: "Notes" })).toContainText("Wiring. Jumper J2 closed");
  await page.goto("/backups/file");
  const changed = Buffer.from(original.toString().replace("put lights.count 8", "put lights.count 9"));
  await page.locator('input[type="file"]').setInputFiles([
    { name: "same.txt", mimeType: "text/plain", buffer: original },
    { name: "changed.txt", mimeType: "text/plain", buffer: changed },
    { name: "diary.txt", mimeType: "text/plain", buffer: Buffer.from("dear diary") },
  ]);
  const table = page.getByRole("table", { name: "What was brought" });
  await expect(table.getByRole("row").filter({ hasText: "same.txt" })).toContainText("on file already");
  const row = table.getByRole("row").filter({ hasText: "changed.txt" });
  await expect(row).toContainText("The check does not fit");
  await expect(row).toContainText("Proposed by its chip id");
  await expect(table.getByRole("row").filter({ hasText: "diary.txt" })).toContainText("No read-out was found");
  await expectAccessible(page);
  await page.getByRole("button", { name: "File it" }).click();
  await expect(row).toContainText("filed with QW-02");
});

/** Puts a text into an editor in place of all that stands there. */
async function write(page: Page, label: string, text: string): Promise<void> {
  await page.getByRole("textbox", { name: label, exact: true }).click();
  await page.keyboard.press("Control+a");
  await page.keyboard.insertText(text);
}

test("a console is written down in the workshop: tried on a sample as one types, looked at, saved as a version", async ({
  page,
}) => {
  await signIn(page, "lead");
  await page.goto("/firmware/workshop");
  await expect(page.getByText(/\d+ statements understood, 0 left over/)).toBeVisible({ timeout: 15_000 });
  await write(page, "Sample of a console", ";; firmware: Odd\nput a.b 3\nsay hello");
  await expect(page.getByText("2 statements understood, 1 left over.")).toBeVisible();
  await expect(page.getByRole("table", { name: "What each line is understood as" })).toContainText("sets a.b to 3");
  await expectAccessible(page);
  await picture(page, "workshop");
  const link = await page.getByRole("link", { name: "Export" }).getAttribute("href");
  const text = decodeURIComponent(link?.split(",").slice(1).join(",") ?? "");
  await write(page, "Definition", text.replace("put {key}", "say {key}"));
  await page.getByRole("button", { name: "What would read differently" }).click();
  await expect(page.getByRole("region", { name: "What would read differently" })).toContainText(
    "would read differently",
    { timeout: 20_000 },
  );
  await write(page, "Definition", text.replace(/^id: .*$/m, "id: tried").replace(/^title: .*$/m, "title: Tried idiom"));
  await page.getByRole("button", { name: "Save as the next version" }).click();
  await expect(page.getByText("tried is in, as version 1.")).toBeVisible();
  await write(page, "Definition", "document: idiom\nid: x");
  await expect(page.getByRole("alert").filter({ hasText: "does not fit its format" })).toBeVisible();
});

test("rules between two releases are proposed with reasons, and confirmed in bulk", async ({ page }) => {
  await signIn(page, "lead");
  await page.goto("/firmware/learn?from=heddle-22&to=heddle-24");
  const table = page.getByRole("table", { name: "Proposed rules" });
  await expect(table).toContainText("craft.label → aircraft.label");
  await page.getByRole("button", { name: "Confirm all that are 80 % sure" }).click();
  await expect(page.getByRole("heading", { name: /proposed rules, [1-9]\d* confirmed/ })).toBeVisible();
  await expectAccessible(page);
});

test("a board is backed up from its bay without a job", async ({ page }) => {
  await signIn(page, "technician");
  await bring(page, 6, "QW-09");
  await page.getByRole("button", { name: "Plug the cable in" }).click();
  await expect(page.getByRole("heading", { name: "Answers, Treadle 80" })).toBeVisible({ timeout: 20_000 });
  // out and in again within the time of a restart: what can be done with it is asked anew
  await expect(page.getByText("Set to the standard or defaults")).toBeVisible();
  const offer = page.getByRole("button", { name: "Order this job" }).or(page.getByText(/^No release in the workshop/));
  await expect(offer).toBeVisible({ timeout: 20_000 });
  await page.getByRole("button", { name: "Pull the cable" }).click();
  await page.getByRole("button", { name: "Plug the cable in" }).click();
  await expect(page.getByRole("heading", { name: "Answers, Treadle 80" })).toBeVisible({ timeout: 20_000 });
  await expect(offer).toBeVisible({ timeout: 20_000 });
  await page.getByRole("button", { name: "Back it up now" }).click();
  await page.getByRole("link", { name: /^QW-09 Treadle 80/ }).click({ timeout: 20_000 });
  await expect(page.getByRole("heading", { level: 1 })).toContainText(": complete");
  await page.goto("/aircraft/QW-09");
  await expect(page.getByRole("region", { name: "Backups" })).toContainText("just now");
});
