import type { Page } from "@playwright/test";
import { bring, confirmSafe, decideEverything, expectAccessible, picture, setPace, signIn, takePlan } from "./app";
import { finishUnwatched } from "./unwatched";
import { expect, test } from "./workshop";

/** Puts a board in and waits until the bay offers the releases that are built for it. */
async function onBench(page: Page, tag: string, bay: number, runs: string): Promise<void> {
  await setPace(page, 40);
  await bring(page, bay, tag);
  await page.getByRole("button", { name: "Plug the cable in" }).click();
  await expect(page.getByRole("heading", { name: `Answers, ${runs}` })).toBeVisible({ timeout: 20_000 });
  await expect(page.getByRole("radio").first()).toBeVisible({ timeout: 20_000 });
}

async function order(page: Page, release: RegExp): Promise<string> {
  await page.getByRole("radio", { name: release }).check();
  await page.getByRole("button", { name: "Order this job" }).click();
  await page.waitForURL(/\/jobs\/\d+$/);
  await page.getByRole("button", { name: "Begin with step 1" }).click();
  await expect(page.getByRole("link", { name: "Look at the plan and decide" })).toBeVisible({ timeout: 30_000 });
  return page.url();
}

/** To the signature, the first way for whatever waits still; then the proof is read. */
async function toTheEnd(page: Page, card: string, proof: RegExp): Promise<void> {
  await page.goto(card);
  await finishUnwatched(page);
  await page.goto(`${card}/proof`);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(proof);
}

async function takeOut(page: Page, bay: number): Promise<void> {
  await page.goto(`/bench/${bay}`);
  await page.getByRole("button", { name: "Take the board out of the bay" }).click();
  await expect(page.getByRole("button", { name: `Put it into bay ${bay}` })).toBeVisible();
}

test("cases C13, C37: a receiver on a port that the release does not serve holds the job before anything is erased", async ({
  page,
}) => {
  await signIn(page, "technician");
  await onBench(page, "QW-15", 4, "Weft 8");
  await expect(page.getByRole("radio", { name: /Weft 9 next release.*1 thing cannot be there/ })).toBeVisible();
  await expectAccessible(page);
  const card = await order(page, /^Weft 9/);
  await page.getByRole("link", { name: "Look at the plan and decide" }).click();
  const cannot = page.locator("#cannot");
  await expect(cannot).toContainText("the receiver is served on port 4 only");
  await expect(cannot).toContainText("As it is wired it works on Weft 8");
  await expect(cannot).toContainText("Without a receiver nobody can steer the aircraft. Only a lead may decide this.");
  await expect(cannot.getByRole("button", { name: "Leave it off" })).toBeDisabled();
  await expectAccessible(page);
  // and not by a request of one's own either: the bench asks for the role itself
  const refused = await page.request.post(card.replace("/jobs/", "/api/jobs/"), {
    data: { kind: "decide", choices: { "row ports/2": "leave-off" } },
    headers: { origin: new URL(card).origin },
  });
  expect([refused.status(), await refused.text()]).toEqual([422, expect.stringContaining("lead-wanted")]);
  // everything else is decided: it still waits, and nothing was touched
  await decideEverything(page, "#cannot");
  await page.goto(card);
  await expect(page.getByText("1 decision waits for you before anything changes.")).toBeVisible();
  await page.getByRole("link", { name: "Look at the plan and decide" }).click();
  await cannot.getByRole("button", { name: "Wire it to port 4" }).click();
  await expect(cannot).toContainText("decided by technician");
  await takePlan(page);
  await page.goto(card);
  await confirmSafe(page);
  // a release without a word for it: case C21
  await expect(page.getByText("the loader has to be reached by hand")).toBeVisible({ timeout: 20_000 });
  await page.getByRole("button", { name: "Pull the cable" }).click();
  await page.getByRole("button", { name: "Plug in, holding the boot button" }).click();
  await toTheEnd(page, card, /^All \d+ values took, read back from the board\./);
  await page.goto(`${card}/proof`);
  await page.getByRole("searchbox", { name: "Search Proof" }).fill("Port, 4");
  await expect(page.getByRole("table", { name: "Proof" })).toContainText("receiver");
  // what the new firmware could not have driven went along
  await page.goto("/aircraft/QW-15");
  await expect(page.getByRole("region", { name: "Its parts" })).toContainText("Pirn 5");
  await takeOut(page, 4);
});

test("case C81: a board goes over to another line, by every release between them", async ({ page }) => {
  await signIn(page, "technician");
  await onBench(page, "QW-14", 4, "Weft 9");
  const fork = page.getByRole("radio", { name: /^Heddle 23 another branch/ });
  await expect(fork).toBeVisible();
  await picture(page, "bay");
  const card = await order(page, /^Heddle 23/);
  await expect(page.getByRole("heading", { name: "Change to Heddle 23" })).toBeVisible();
  await page.getByRole("link", { name: "Look at the plan and decide" }).click();
  // case C14: motors go back by the inverse of the three-cycle
  await expect(page.locator("#converted")).toContainText("Output M2");
  await toTheEnd(page, card, /^All \d+ values took, read back from the board\. Not carried: /);
  await takeOut(page, 4);
  await page.goto("/aircraft/QW-14");
  await expect(page.getByText("Heddle 23").first()).toBeVisible();
});

test("case C43, case C81: a board goes back to an older release; what that has no place for is named", async ({
  page,
}) => {
  await signIn(page, "technician");
  await onBench(page, "QW-03", 5, "Heddle 23");
  await expect(page.getByRole("radio", { name: /^Heddle 22 older/ })).toBeVisible();
  const card = await order(page, /^Heddle 22 older/);
  await expect(page.getByRole("heading", { name: "Back to Heddle 22" })).toBeVisible();
  await page.getByRole("link", { name: "Look at the plan and decide" }).click();
  await expect(page.locator("#retired")).toContainText("Heddle 23 brought it; Heddle 22 does not have it");
  await toTheEnd(
    page,
    card,
    /^All \d+ values took, read back from the board\. Not carried: .*have no place in the new release\.$/,
  );
  await takeOut(page, 5);
});

test("case C80: what a person said keeps an aircraft on the ground, until it is taken back by name", async ({
  page,
}) => {
  await signIn(page, "technician");
  await page.goto("/aircraft/QW-08");
  const sheet = page.getByRole("region", { name: "On the ground" });
  await expect(sheet).toContainText("Waits for a new propeller guard");
  await expectAccessible(page);
  await sheet.getByText("Take out of service").click();
  await sheet.getByLabel("Why").fill("Antenna is loose");
  await sheet.getByRole("button", { name: "Ground QW-08 with my name" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText(
    "Waits for a new propeller guard; Antenna is loose",
  );
  await sheet.getByRole("button", { name: "Withdraw this reason" }).last().click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Out of service: Waits for a new propeller guard");
});

test("case C75, case C76: a damaged read-out says in its text, its judgement and in comparisons what is not known", async ({
  page,
}) => {
  await signIn(page, "technician");
  await page.goto("/aircraft/QW-04");
  const newest = (await page.locator('a[href^="/backups/"]').first().getAttribute("href")) ?? "";
  const text = await (await page.request.get(`/api${newest}`)).text();
  const lines = text.split("\n");
  const at = (line: string) => {
    const found = lines.indexOf(line);
    if (found < 0) throw new Error(`the read-out has no line “${line}”`);
    return found;
  };
  lines[at("use tune 2")] = "us\0 tun";
  lines[at("use tune 4")] = "~~~";
  const response = await page.request.post("/api/backups?tag=QW-04", {
    data: Buffer.from(lines.join("\n")),
    headers: { origin: new URL(page.url()).origin, "content-type": "text/plain" },
  });
  const { id, verdict } = (await response.json()) as { id: number; verdict: string };
  expect(verdict).toBe("incomplete");
  await page.goto(`/backups/${id}`);
  const judgement = page.getByRole("region", { name: "Judgement" });
  await expect(judgement).toContainText(/In doubt: \d+ values of tune 2, tune/);
  await expect(page.getByRole("region", { name: "Text" })).toContainText("us\\x00 tun");
  await expect(page.getByRole("region", { name: "Text" })).toContainText(
    "The line that says which profile it is of could not be read.",
  );
  await expectAccessible(page);
  await page.goto(`/compare?left=backup:${id}&right=aircraft:QW-02`);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("cannot be told");
  const open = page.getByRole("region", { name: "Cannot be told" });
  await expect(open.getByText("not known").first()).toBeVisible();
  await expectAccessible(page);
  const csv = await (await page.request.get(`/api/backups/${id}?form=csv`)).text();
  expect(csv).toMatch(/tune 2,tune\.label,[^\r\n]*not known: The line that says which profile/);
});
