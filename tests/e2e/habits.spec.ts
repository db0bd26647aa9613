import type { Page } from "@playwright/test";
import { readFileSync } from "node:fs";
import { choose, expectAccessible, signIn } from "./app";
import { expect, passwordOf, test } from "./workshop";

const VIEWS = [
  "/",
  "/jobs",
  "/bench/1",
  "/aircraft/QW-07",
  "/aircraft/QW-16/history",
  "/aircraft/QW-04/history",
  "/parts",
  "/compare",
  "/compare?left=aircraft:QW-08&right=standard:2",
  "/compare/fleet/Bulrush",
  "/compare/fleet/Sedge",
  "/compare/three?base=standard:2&mine=aircraft:QW-04&theirs=aircraft:QW-01",
  "/backups/file",
  "/firmware",
  "/firmware/changes?from=heddle-23&to=heddle-24",
  "/firmware/impact?to=heddle-24",
  "/firmware/impact?to=spindle-45",
  "/firmware/workshop",
  "/firmware/learn",
] as const;

/** Nothing sticks out to the side: what is too wide scrolls inside its own frame. */
const overflow = (page: Page) =>
  page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);

test("every view has the contrast of light paper on dark paper, which is remembered, and reflows without scrolling sideways", async ({
  page,
}) => {
  await signIn(page, "technician");
  await page.getByRole("button", { name: "technician" }).click();
  await expectAccessible(page);
  await page.getByRole("menuitem", { name: "Dark paper" }).click();
  for (const view of VIEWS) {
    await page.setViewportSize({ width: 1280, height: 800 });
    await page.goto(view);
    await expect(page.locator("html")).toHaveAttribute("data-theme", "dark");
    await expectAccessible(page);
    for (const width of [800, 320]) {
      await page.setViewportSize({ width, height: 800 });
      await expect.poll(() => overflow(page), `${view} at ${width} px`).toBe(0);
    }
  }
});

test("from the door to an aircraft and out again by keyboard alone", async ({ page }) => {
  await page.goto("/sign-in");
  await page.keyboard.press("Tab");
  while (!(await page.getByLabel("Name").evaluate((field) => field === document.activeElement)))
    await page.keyboard.press("Tab");
  await page.keyboard.type("observer");
  await page.keyboard.press("Tab");
  await page.keyboard.type(passwordOf("observer"));
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("aircraft");
  await page.keyboard.press("Tab");
  await expect(page.getByRole("link", { name: "To the page" })).toBeFocused();
  await page.getByRole("link", { name: "QW-07" }).focus();
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/QW-07$/);
  await page.getByRole("button", { name: "observer" }).focus();
  await page.keyboard.press("Enter");
  await page.getByRole("menuitem", { name: "Sign out" }).focus();
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/sign-in$/);
  await page.goto("/jobs");
  await expect(page).toHaveURL(/sign-in$/);
});

test("the register sorts, narrows and searches, and a link brings the same view back", async ({ page }) => {
  await signIn(page, "technician");
  const rows = page.getByRole("table", { name: "Fleet register" }).getByRole("row");
  await choose(page.getByRole("combobox", { name: "Type", exact: true }), "Warbler");
  await expect(rows).toHaveCount(4);
  await page.getByRole("link", { name: /^Tag/ }).click();
  await expect(rows.nth(1)).toContainText("QW-08");
  await page.getByLabel("Search Fleet register").fill("culverts");
  await expect(rows).toHaveCount(3);
  await page.goto(page.url());
  await expect(rows).toHaveCount(3);
  await expect(rows.nth(1)).toContainText("QW-08");
  await page.getByLabel("Search Fleet register").fill("nothing like it");
  await expect(page.getByText("Nothing fits what you search for.")).toBeVisible();
});

test("a document goes out as a file and comes in again; a damaged one is refused with its place", async ({ page }) => {
  await signIn(page, "lead");
  await page.goto("/firmware");
  const row = page.getByRole("region", { name: "Documents" }).getByRole("row").filter({ hasText: "heddle-24" });
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    row.getByRole("link", { name: "Download" }).click(),
  ]);
  const text = readFileSync(await download.path(), "utf8");
  expect(download.suggestedFilename()).toBe("heddle-24.release.v1.yaml");
  const give = (content: string) =>
    page
      .getByLabel("Document", { exact: true })
      .setInputFiles({ name: "heddle-24.yaml", mimeType: "application/yaml", buffer: Buffer.from(content) });
  await give(text);
  await expect(page.getByText("heddle-24 is here already, unchanged.")).toBeVisible();
  await give(text.replace("standing: candidate", "standing: splendid"));
  await expect(page.getByRole("alert").filter({ hasText: "does not fit its format" })).toContainText(
    "must be equal to one of the allowed values",
  );
  await give(`${text}\n  nonsense: [`);
  await expect(page.getByRole("alert").filter({ hasText: "not well-formed YAML" })).toBeVisible();
  await expect(row).toContainText("1");
});

test("a document is changed where it stands: refused with its line, then kept as the next version", async ({
  page,
}) => {
  await signIn(page, "lead");
  await page.goto("/boards/tamsin-mote");
  await page.getByRole("link", { name: "Its document" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("tamsin-mote");
  const save = page.getByRole("button", { name: "Save as the next version" });
  await expect(save).toBeDisabled();
  await expectAccessible(page);
  const text = page.getByRole("textbox", { name: "Document" });
  await text.click();
  await page.keyboard.press("ControlOrMeta+End");
  await page.keyboard.type("\nnonsense: ]");
  await save.click();
  await expect(page.getByRole("alert").filter({ hasText: "not well-formed YAML" })).toBeVisible();
  await page.getByRole("button", { name: "As it is kept" }).click();
  await expect(save).toBeDisabled();
  await text.click();
  await page.keyboard.press("ControlOrMeta+End");
  await page.keyboard.type("\n# looked at on the bench");
  await save.click();
  await expect(page.getByText("tamsin-mote is in, as version 2.")).toBeVisible({ timeout: 20_000 });
});

test("case C69: a new version of a document waits, if what is on file would read differently with it", async ({
  page,
}) => {
  await signIn(page, "lead");
  await page.goto("/firmware");
  const row = page
    .getByRole("region", { name: "Documents" })
    .getByRole("row")
    .filter({ hasText: /^heddle-22release/ });
  const href = (await row.getByRole("link", { name: "Download" }).getAttribute("href")) ?? "";
  const text = await (await page.request.get(href)).text();
  const give = (content: string) =>
    page
      .getByLabel("Document", { exact: true })
      .setInputFiles({ name: "release.yaml", mimeType: "application/yaml", buffer: Buffer.from(content) });
  // only a read-out of moved values leans on the default
  await give(text.replace("{ key: arm.tilt, default: 25 }", "{ key: arm.tilt, default: 30 }"));
  const different = page.getByRole("region", { name: "What would read differently" });
  await expect(different).toContainText(/\b1 of \d+ read-outs on file would read differently/, { timeout: 20_000 });
  await expect(different.getByRole("link")).toHaveText([/^QW-05/]);
  await expect(different).toContainText("1 value, system/arm.tilt");
  await expectAccessible(page);
  await different.getByRole("button", { name: "Leave it" }).click();
  await expect(different).toHaveCount(0);
  await page.reload();
  await expect(row).toContainText("release1");
});

/** Lets go of a file over the page, as a hand would. */
async function drop(page: Page, name: string, content: string): Promise<void> {
  const data = await page.evaluateHandle(
    ([file, text]) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([text ?? ""], file ?? ""));
      return transfer;
    },
    [name, content],
  );
  await page.locator("h1").dispatchEvent("dragover", { dataTransfer: data });
  await page.locator("h1").dispatchEvent("drop", { dataTransfer: data });
}

test("a file may be dropped anywhere: what it is is asked, and it goes to where it belongs", async ({ page }) => {
  await signIn(page, "lead");
  const document = (name: string) => page.request.get(`/api/documents/${name}`);
  await page.goto("/firmware");
  const href = await page
    .getByRole("region", { name: "Documents" })
    .getByRole("row")
    .filter({ hasText: "tamsin-mote" })
    .getByRole("link", { name: "Download" })
    .getAttribute("href");
  const text = await (await document(href?.split("/").pop() ?? "")).text();
  await page.goto("/jobs");
  await drop(page, "mote.yaml", text);
  const dialog = page.getByRole("dialog", { name: "What is this?" });
  await expect(dialog.getByRole("button").first()).toContainText("A document for the catalogue");
  await expectAccessible(page);
  await dialog.getByRole("button", { name: /^A document/ }).click();
  await expect(page).toHaveURL(/\/firmware$/);
  await expect(page.getByText("tamsin-mote is here already, unchanged.")).toBeVisible();

  await drop(page, "notes.txt", "dear diary");
  await dialog.getByRole("button", { name: /^Read-outs/ }).click();
  await expect(page).toHaveURL(/\/backups\/file$/);
  await expect(page.getByRole("table", { name: "What was brought" })).toContainText("No read-out was found");

  await page.goto("/firmware");
  await drop(page, "thing.hex", ":0100000041BE\n");
  await dialog.getByRole("button", { name: /^A firmware image/ }).click();
  await expect(page.getByRole("region", { name: "Import: Image" }).getByRole("alert")).toBeVisible();
});

test("a label is changed in place and found by search", async ({ page }) => {
  await signIn(page, "technician");
  await page.goto("/aircraft/QW-07");
  await page.getByRole("button", { name: "change" }).click();
  await page.getByLabel("What it does").fill("Bird hides, west");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByText("Warbler · Bird hides, west")).toBeVisible();
  await page.keyboard.press("Control+k");
  await page.getByPlaceholder(/An aircraft/).fill("hides, west");
  await expect(page.getByRole("option", { name: /QW-07/ })).toBeVisible();
});

test("what is not there is said in the product's own words, and headers keep foreign pages out", async ({ page }) => {
  await signIn(page, "technician");
  for (const path of [
    "/aircraft/QW-98",
    "/jobs/99999",
    "/backups/99999",
    "/bench/9",
    "/jobs/99999999999",
    "/firmware/documents/0x1",
  ]) {
    await page.goto(path);
    await expect(page.getByRole("heading", { name: "There is nothing at this address." })).toBeVisible();
  }
  const response = await page.request.get("/");
  const headers = response.headers();
  expect(headers["content-security-policy"]).toContain("frame-ancestors 'none'");
  expect(headers["content-security-policy"]).not.toContain("unsafe-eval");
  expect(headers["x-content-type-options"]).toBe("nosniff");
  expect(headers["x-powered-by"]).toBeUndefined();
  const cookie = (await page.context().cookies()).find((c) => /^fresh_start_[0-9a-f]{8}$/.test(c.name));
  expect(cookie).toMatchObject({ httpOnly: true, sameSite: "Lax" });
});

test("a page asks the server for nothing that nobody has asked for", async ({ page }) => {
  await signIn(page, "observer");
  const ahead: string[] = [];
  page.on("request", (request) => {
    const headers = request.headers();
    if ("next-router-prefetch" in headers || "next-router-segment-prefetch" in headers) ahead.push(request.url());
  });
  for (const path of ["/", "/boards", "/firmware"]) {
    await page.goto(path);
    // a page that is alive has looked at its links
    await expect(async () => {
      await page.keyboard.press("Control+k");
      await expect(page.getByRole("dialog")).toBeVisible({ timeout: 1_000 });
    }).toPass({ timeout: 20_000 });
    await page.keyboard.press("Escape");
  }
  await page.getByRole("navigation", { name: "Places" }).getByRole("link", { name: "Jobs" }).click();
  await expect(page).toHaveURL(/\/jobs$/);
  expect(ahead).toEqual([]);
});

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
