import type { Page } from "@playwright/test";
import { expectAccessible, signIn } from "./app";
import { ORIGIN, expect, test } from "./workshop";

const origin = { origin: ORIGIN };

async function problemOf(page: Page, path: string, data: unknown, headers: Record<string, string> = origin) {
  const response = await page.request.post(path, { data, headers, maxRetries: 3 });
  const body = (await response.json()) as { problem?: { code: string; message: string } };
  return { status: response.status(), code: body.problem?.code };
}

test("the door: a wrong password is refused in words, and further attempts wait; who is behind a flood gets in", async ({
  page,
}) => {
  await page.goto("/");
  await expect(page).toHaveURL(/\/sign-in$/);
  await expectAccessible(page);
  await page.getByLabel("Name").fill("nobody");
  await page.getByLabel("Password").fill("guess");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("alert").filter({ hasText: "Name or password is wrong" })).toBeVisible();
  for (let i = 0; i < 4; i++) await problemOf(page, "/api/sign-in", { name: "nobody", password: "guess" });
  expect(await problemOf(page, "/api/sign-in", { name: "nobody", password: "guess" })).toEqual({
    status: 429,
    code: "sign-in-throttled",
  });
  // names that somebody made up, one after the other: from then on each attempt costs work, which the browser does by itself
  for (let i = 0; i < 20; i++) await problemOf(page, "/api/sign-in", { name: `nobody-${i}`, password: "guess" });
  expect(await problemOf(page, "/api/sign-in", { name: "technician", password: "guess" })).toEqual({
    status: 429,
    code: "sign-in-toll",
  });
  await signIn(page, "technician");
});

test("case C72: an observer looks on, and the server refuses whatever else", async ({ page }) => {
  await signIn(page, "observer");
  await page.goto("/bench/6");
  await expect(page.getByRole("region", { name: "Your hands" })).toHaveCount(0);
  for (const [path, body] of [
    ["/api/bench/6", { kind: "plug" }],
    ["/api/jobs", { bayNo: 6, aircraftId: 1, goal: { kind: "update", releaseId: "heddle-23" } }],
    ["/api/jobs/1", { kind: "sign" }],
    ["/api/aircraft", { tag: "QW-99", type: "Sedge" }],
    ["/api/backups?tag=QW-01", "text"],
    ["/api/documents", "document: idiom"],
    ["/api/documents/preview", "document: idiom"],
    ["/api/backups/inspect", "text"],
    ["/api/backups/1/notes", { kind: "note", text: "x" }],
    ["/api/standards", { type: "Sedge", backupId: 1 }],
    ["/api/standards/raise", { standardId: 1, releaseId: "heddle-23", silent: "keep" }],
    ["/api/compare/merge", { base: "backup:1", mine: "backup:1", theirs: "backup:1", takes: {} }],
    ["/api/passages", { from: "heddle-22", to: "heddle-24", rules: [1] }],
    ["/api/learn?idiom=statement", "put a 1"],
    ["/api/bench/6", { kind: "back-up" }],
  ] as const)
    expect({ path, ...(await problemOf(page, path, body)) }).toEqual({ path, status: 403, code: "role-refused" });
});

test("a forged request changes nothing, with or without the cookie", async ({ page }) => {
  await signIn(page, "technician");
  expect(
    (await problemOf(page, "/api/aircraft", { tag: "QW-66", type: "Sedge" }, { origin: "http://elsewhere.example" }))
      .code,
  ).toBe("request-forged");
  expect((await problemOf(page, "/api/aircraft", { tag: "QW-66", type: "Sedge" }, {})).code).toBe("request-forged");
  await page.context().clearCookies();
  expect((await problemOf(page, "/api/aircraft", { tag: "QW-66", type: "Sedge" })).code).toBe("signed-out");
  await signIn(page, "technician");
  await page.goto("/");
  await expect(page.getByText("QW-66")).toHaveCount(0);
});

test("case C54: markup in a label is text, and over-long fields are refused in words", async ({ page }) => {
  await signIn(page, "technician");
  await page.goto("/");
  await page.getByRole("button", { name: "Add aircraft" }).click();
  await page.getByRole("dialog").getByLabel("Tag").fill("QW-40");
  await page.getByRole("dialog").getByLabel("Type").fill("Sedge");
  await page.getByLabel("What it does").fill("<img src=x onerror=alert(1)> <b>bold</b>");
  await page.getByRole("button", { name: "Add it" }).click();
  const row = page.getByRole("row").filter({ hasText: "QW-40" });
  await expect(row).toContainText("<img src=x onerror=alert(1)> <b>bold</b>");
  await expect(row.locator("img")).toHaveCount(0);
  expect((await problemOf(page, "/api/aircraft", { tag: "QW-41", type: "Sedge", label: "x".repeat(81) })).code).toBe(
    "request-shape",
  );
  expect((await problemOf(page, "/api/aircraft", { tag: "qw 41; drop", type: "Sedge" })).code).toBe("request-shape");
  expect((await problemOf(page, "/api/aircraft", { tag: "QW-40", type: "Sedge" })).code).toBe("tag-taken");
  expect((await problemOf(page, "/api/bench/6", { kind: "explode" })).code).toBe("request-shape");
});

test("foreign and unreadable files are refused with place and reason", async ({ page }) => {
  await signIn(page, "lead");
  await page.goto("/aircraft/QW-03");
  await page.getByLabel("What the console printed").fill("dear diary\ntoday it rained");
  await page.getByRole("button", { name: "File this text" }).click();
  await expect(page.getByRole("alert").filter({ hasText: "No read-out was found in this text" })).toBeVisible();
  const post = async (path: string, body: Buffer) => {
    const response = await page.request.post(path, {
      maxRetries: 3,
      data: body,
      headers: { ...origin, "content-type": "application/octet-stream" },
    });
    return ((await response.json()) as { problem?: { code: string; where?: { line?: number } } }).problem;
  };
  expect((await post("/api/backups?tag=QW-03", Buffer.from([0xff, 0xfe, 0x00, 0x01])))?.code).toBe("backup-binary");
  expect((await post("/api/backups?tag=QW-03", Buffer.alloc(5_000_000, 65)))?.code).toBe("request-size");
  const image = "/api/images";
  expect(await post(image, Buffer.from(":10000000000102030405060708090A0B0C0D0E0F79\n:00000001FF\n"))).toMatchObject({
    code: "hex-checksum",
    where: { line: 1 },
  });
  expect(await post(image, Buffer.from(":0100000041BE\n:0100000042BD\n:00000001FF\n"))).toMatchObject({
    code: "hex-overlap",
    where: { line: 2 },
  });
  expect((await post(image, Buffer.alloc(64_000, 7)))?.code).toBe("image-identity");
  expect((await post("/api/documents", Buffer.from("document: release\nid: [")))?.code).toBe("document-syntax");
  await page.goto("/firmware");
  await expectAccessible(page);
});

test("a moved-values read-out is filed and told apart from a whole one", async ({ page }) => {
  await signIn(page, "technician");
  await page.goto("/aircraft/QW-03");
  await page.getByRole("region", { name: "Backups" }).getByRole("table").getByRole("link").first().click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText(": complete");
  await expectAccessible(page);
  const text = await page.getByRole("region", { name: "Text" }).locator("li > span").allInnerTexts();
  await page.goto("/aircraft/QW-03");
  await page.getByLabel("What the console printed").fill(text.slice(0, 80).join("\n"));
  await page.getByRole("button", { name: "File this text" }).click();
  await page.waitForURL(/\/backups\/\d+$/);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("not complete");
  await expect(page.getByText("The closing line is missing: the read-out was cut off")).toBeVisible();
});

test("nothing of the workshop is told to whoever is not signed in, not even piece by piece", async ({ request }) => {
  const piece = encodeURIComponent(
    JSON.stringify(["", { children: ["(workshop)", { children: ["__PAGE__", {}, null, "refetch"] }] }, null, null]),
  );
  for (const path of ["/", "/jobs", "/bench/1", "/compare", "/firmware", "/aircraft/QW-01", "/compare/fleet/Sedge"])
    for (const headers of [{}, { RSC: "1" }, { RSC: "1", "Next-Router-State-Tree": piece }]) {
      const answer = await request.get(path, { headers: headers, maxRedirects: 0 });
      expect([path, headers, /Corsley|Heddle|bird counts/.exec(await answer.text())]).toEqual([path, headers, null]);
    }
  for (const path of ["/api/find?q=QW", "/api/sides?q=QW", "/api/events"])
    expect([path, (await request.get(path)).status()]).toEqual([path, 401]);
});
