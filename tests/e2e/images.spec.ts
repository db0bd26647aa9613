import { readFileSync } from "node:fs";
import { choose, expectAccessible, signIn } from "./app";
import { expect, test } from "./workshop";

test("case C54: an image can be had in any format, and comes in again from each as the same image", async ({
  page,
}) => {
  await signIn(page, "lead");
  await page.goto("/firmware");
  const images = page.getByRole("region", { name: "Images", exact: true });
  const row = images.getByRole("row").filter({ hasText: "Heddle 23" }).filter({ hasText: "CSLATE-B" }).first();
  await expect(row).toContainText(/\d+ KB/);
  await row.scrollIntoViewIfNeeded();
  await expectAccessible(page);
  for (const [extension, starts] of [
    ["hex", ":02000004"],
    ["srec", "S0030000FC"],
    ["uf2", "UF2\n"],
    ["dfu", ""],
    ["bin", ""],
  ] as const) {
    const [download] = await Promise.all([
      page.waitForEvent("download"),
      row
        .getByRole("link", { name: /^Heddle 23 for CSLATE-B as / })
        .filter({ hasText: extension })
        .click(),
    ]);
    expect(download.suggestedFilename()).toBe(`heddle-23-CSLATE-B.${extension}`);
    const file = await download.path();
    expect(readFileSync(file).subarray(0, starts.length).toString("latin1")).toBe(starts);
    await page.getByLabel("Image", { exact: true }).setInputFiles({
      name: download.suggestedFilename(),
      mimeType: "application/octet-stream",
      buffer: readFileSync(file),
    });
    await expect(page.getByText(/The image of heddle-23 for CSLATE-B is in/)).toBeVisible();
    await page.reload();
  }
  // where it lies, what of it another one holds already, and which of the fleet it is for
  await row.getByRole("link", { name: "Heddle 23", exact: true }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Heddle 23 for CSLATE-B");
  const map = page.getByRole("region", { name: "Map of flash" });
  await expect(map).toContainText("settings; written by the firmware itself");
  await expect(page.getByRole("region", { name: "What it fits" })).toContainText("QW-01");
  await expectAccessible(page);
  await choose(map.getByLabel("Compare with a release"), "Heddle 22");
  await expect(page.getByRole("main")).toContainText(
    /Over Heddle 22: [1-9]\d* of \d+ sectors would be erased and written/,
  );
  await expectAccessible(page);
  await page.goto("/firmware/images/99999");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("There is nothing at this address.");
  await page.goto("/firmware");
  // the same bytes are the same image: no version was made
  await expect(row).not.toContainText("version");
  const refused = await page.request.get("/api/images/1?format=song");
  expect([refused.status(), await refused.text()]).toEqual([422, expect.stringContaining("format-none")]);
});
