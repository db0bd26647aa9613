import { readFileSync } from "node:fs";
import type { Page } from "@playwright/test";
import { unzipSync } from "fflate";
import Papa from "papaparse";
import { one, rows } from "@/server/sql";
import { sooner } from "../soak/technician";
import { bring, button, choose, expectAccessible, optionsOf, picture, setPace, signIn, takePlan } from "./app";
import { finish, sayBy } from "./unwatched";
import { ORIGIN, expect, test } from "./workshop";

async function answers(page: Page, bay: number, tag: string): Promise<void> {
  await bring(page, bay, tag);
  await button(page, "Plug the cable in").click();
  await expect(page.getByRole("heading", { name: /^Answers, / })).toBeVisible({ timeout: 20_000 });
}

/** Puts a board into a bay without the pages, and waits until the bench knows it. */
async function seated(page: Page, bay: number, tag: string): Promise<void> {
  const say = sayBy(page);
  const board = await one<{ id: number; bay_no: number | null }>(
    `select s.id, s.bay_no from sim_boards s join boards b on b.chip_id = s.chip_id join aircraft a on a.id = b.aircraft_id
     where a.tag = $1`,
    [tag],
  );
  if (board && board.bay_no !== null) await say("lead", `/api/bench/${board.bay_no}`, { kind: "take-out" });
  await say("lead", `/api/bench/${bay}`, { kind: "take-out" });
  await say("lead", `/api/bench/${bay}`, { kind: "bring", boardId: board?.id });
  await say("lead", `/api/bench/${bay}`, { kind: "plug", button: false, pads: false });
  await known(bay, tag);
}

/** Waits until the bench knows whose board lies in a bay. */
async function known(bay: number, tag: string): Promise<void> {
  await expect
    .poll(
      async () =>
        (
          await sooner(() =>
            one<{ live: { tag?: string; presence?: string } }>("select live from bays where no = $1", [bay]),
          )
        )?.live,
      { timeout: 30_000 },
    )
    .toMatchObject({ tag, presence: "console" });
}

async function orderedId(page: Page): Promise<number> {
  await page.waitForURL(/\/jobs\/\d+$/);
  return Number(/\d+$/.exec(page.url())?.[0]);
}

test("a campaign of three: decided once, paused and let go on, two bays at a time, until all are there", async ({
  page,
}) => {
  test.setTimeout(600_000);
  await signIn(page, "lead");
  await setPace(page, 150);
  await page.goto("/campaigns");
  await button(page, "Begin a campaign").click();
  await choose(page.getByRole("combobox", { name: "For every" }), "Sedge");
  await choose(page.getByRole("combobox", { name: "To", exact: true }), /^Heddle 24(,|$)/);
  await page.getByLabel("What it is for").fill("For the spring survey");
  await button(page, "Begin it").click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Heddle 24 for every Sedge: ");
  // three that are not there yet; what tests before this one brought there, or into the fleet, is left out
  const id = Number(/\d+$/.exec(page.url())?.[0]);
  const members = await rows<{ tag: string; there: boolean }>(
    `select a.tag, exists (select from boards where aircraft_id = a.id and release_id = 'heddle-24') as there
     from campaign_members m join aircraft a on a.id = m.aircraft_id where m.campaign_id = $1 order by a.tag`,
    [id],
  );
  const three = members.filter(({ there }) => !there).slice(0, 3);
  expect(three).toHaveLength(3);
  for (const { tag } of members.filter((member) => !three.includes(member)))
    expect(await sayBy(page)("lead", `/api/campaigns/${id}`, { kind: "leave-out", tag, reason: "Not this time" })).toBe(
      true,
    );
  // a job that a test before left open would keep its aircraft from its turn
  for (const job of await rows<{ id: number }>(
    "select j.id from jobs j join campaign_members m on m.aircraft_id = j.aircraft_id where m.campaign_id = $1 and j.state = 'open'",
    [id],
  ))
    await sayBy(page)("lead", `/api/jobs/${job.id}`, { kind: "stop", reason: "Something else comes first" });
  await page.reload();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("0 of 3 are there");
  const calls = page.getByRole("region", { name: "Decided once" });
  await expect(calls.getByRole("heading")).toContainText("to take for all", { timeout: 30_000 });
  await picture(page, "campaign");
  await expectAccessible(page);
  // one for a type goes on at a time
  const refused = await page.request.post("/api/campaigns", {
    data: { type: "Sedge", goal: "standard" },
    headers: { origin: ORIGIN },
  });
  expect(await refused.text()).toContain("campaign-other");

  const groups = calls.getByRole("radiogroup");
  for (let i = 0; i < (await groups.count()); i++) {
    await groups.nth(i).getByRole("radio").first().check();
    await expect(groups.nth(i).getByRole("radio").first()).toBeChecked();
  }
  await expect(calls.getByRole("heading")).toContainText("Everything is decided");
  const campaign = page.url();
  await page.reload();
  // a decision is taken back, and taken again
  const back = calls.getByRole("button", { name: /^Take back: / }).first();
  await back.click({ timeout: 30_000 });
  await expect(calls.getByRole("heading")).toContainText("1 decision to take for all");
  await expect(groups.first().getByRole("radio", { checked: true })).toHaveCount(0);
  // what nobody's plan offers is refused, and so is a second who did not see the first
  const [standing] = await rows<{ key: string; choice_id: string }>(
    `select key, choice_id from campaign_decisions where campaign_id = $1 and choice_id <> 'taken-back' and key =
       (select key from campaign_decisions where campaign_id = $1 and choice_id = 'taken-back' order by id desc limit 1) order by id`,
    [id],
  );
  const wish = async (choiceId: string, before: string) => {
    const data = { kind: "decide", decisions: [{ key: standing?.key, choiceId, before }] };
    const answer = await page.request.post(campaign.replace("/campaigns/", "/api/campaigns/"), {
      data,
      headers: { origin: ORIGIN },
    });
    return await answer.text();
  };
  expect(await wish("fly-higher", "")).toContain("campaign-choice");
  expect(await wish(standing?.choice_id ?? "", "another")).toContain("campaign-meanwhile");
  const both = await Promise.all([wish(standing?.choice_id ?? "", ""), wish(standing?.choice_id ?? "", "")]);
  expect(both.filter((answer) => answer.includes("campaign-meanwhile"))).toHaveLength(1);
  await page.reload();
  await expect(calls.getByRole("heading")).toContainText("Everything is decided", { timeout: 30_000 });

  // paused, nothing of it is ordered
  await button(page, "Pause it").click();
  await page.getByLabel("Why").fill("Wind");
  await button(page, "Pause the campaign").click();
  await expect(page.getByText(/Paused .* by lead: Wind/)).toBeVisible();
  await answers(page, 2, "QW-01");
  await expect(page.getByRole("radio").first()).toBeVisible({ timeout: 20_000 });
  await expect(page.getByRole("region", { name: "Campaign" })).toHaveCount(0);
  await page.goto(campaign);
  await button(page, "Resume the campaign").click();
  await expect(button(page, "Pause it")).toBeVisible();

  // the first as a person does it: what was decided for all is taken over with one word
  await page.goto("/bench/2");
  await page.getByRole("region", { name: "Campaign" }).getByRole("button").click();
  const first = await orderedId(page);
  await button(page, "Begin with step 1").click();
  await page.getByRole("link", { name: "Look at the plan and decide" }).click({ timeout: 30_000 });
  await expect(page.getByText(/decided before: Heddle 24 for every Sedge by lead/)).toBeVisible();
  // what a search leaves is decided in one go, across kinds
  await page.getByRole("searchbox", { name: "Search the plan" }).fill("in");
  const shown = page.getByRole("region", { name: "Decide what is shown" });
  await expect(shown).toContainText(/^\d+ of what is shown wait for a decision\./);
  await expectAccessible(page);
  await shown.getByRole("button", { name: "Keep all the old numbers" }).click();
  await expect(shown).toHaveCount(0);
  await expect(page.locator("#silent").getByText("decided by lead").first()).toBeVisible();
  await expect(page.locator("#behaviour").getByText("decided by lead").first()).toBeVisible();
  await page.getByRole("searchbox", { name: "Search the plan" }).fill("");
  await button(page, "Decide the same way").click();
  await takePlan(page);
  await page.goto(campaign);
  await expect(page.getByText("on the bench, bay 2")).toBeVisible();

  // the others two at a time, without the pages
  const byItself = async (tag: string, bay: number) => {
    await seated(page, bay, tag);
    const aircraft = await one<{ id: number }>("select id from aircraft where tag = $1", [tag]);
    const campaignId = Number(/\d+$/.exec(campaign)?.[0]);
    const answer = await page.request.post("/api/jobs", {
      data: { bayNo: bay, aircraftId: aircraft?.id, goal: { kind: "campaign", campaignId } },
      headers: { origin: ORIGIN },
    });
    const told = await answer.text();
    expect([tag, answer.ok(), told]).toEqual([tag, true, told]);
    await finish(page, (JSON.parse(told) as { id: number }).id);
    // its turn is over, as soon as its board, which may start once more, has said again which one it is
    await expect(async () => {
      const again = await page.request.post("/api/jobs", {
        data: { bayNo: bay, aircraftId: aircraft?.id, goal: { kind: "campaign", campaignId } },
        headers: { origin: ORIGIN },
      });
      expect(await again.text()).toContain("campaign-turn");
    }).toPass({ timeout: 60_000 });
  };
  const [, second = "", third = ""] = three.map(({ tag }) => tag);
  await page.goto("about:blank");
  await Promise.all([finish(page, first), byItself(second, 3)]);
  await byItself(third, 2);
  await page.goto(campaign);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("3 of 3 are there");
  await button(page, "End it").click();
  await page.getByLabel("Why").fill("All there");
  await button(page, "End the campaign").click();
  await expect(page.getByText(/Ended .* by lead: All there/)).toBeVisible();
});

test("case C43: the way back is offered as a pair, with what does not come back, and takes one click", async ({
  page,
}) => {
  await signIn(page, "lead");
  await setPace(page, 150);
  await answers(page, 2, "QW-03");
  const way = page.getByRole("region", { name: "The way back" });
  await expect(way).toContainText(/It came from Heddle 2[23]/, { timeout: 20_000 });
  await way.getByRole("button", { name: /^Back to Heddle 2[23] as it was$/ }).click();
  const id = await orderedId(page);
  await expect(page.getByRole("heading", { name: /^Back to Heddle 2[23] as on / })).toBeVisible();
  await finish(page, id);
  await page.goto("/aircraft/QW-03");
  await expect(page.getByText(/Heddle 2[23]/).first()).toBeVisible();
});

test("case C34: a board is set up as another aircraft was; its own wiring and name stay", async ({ page }) => {
  await signIn(page, "lead");
  await setPace(page, 150);
  await answers(page, 2, "QW-02");
  await page.goto("/aircraft/QW-01");
  await page
    .getByRole("region", { name: "Backups" })
    .getByRole("link", { name: /^QW-01 Heddle 24/ })
    .first()
    .click();
  await page.getByRole("link", { name: "Restore to a board" }).click();
  const order = page.getByRole("region", { name: "Restore to a board" });
  await choose(order.getByLabel("Which board"), "QW-02 in bay 2");
  await expect(order).toContainText("calibration, wiring and the name stay this one’s own");
  await expectAccessible(page);
  await order.getByRole("button", { name: "Order it for QW-02 in bay 2" }).click();
  const id = await orderedId(page);
  await expect(page.getByRole("heading", { name: /^Set up as QW-01 on / })).toBeVisible();
  await finish(page, id);
  await page.goto(`/jobs/${id}/proof`);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("took");
  // its papers hold, here in the browser
  const [papers] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "All papers" }).click(),
  ]);
  // somebody without the product reads it: one page in words, and tables that any program opens
  const packed = unzipSync(new Uint8Array(readFileSync(await papers.path())));
  const folder = `${Object.keys(packed)[0]?.split("/")[0] ?? ""}/data/to read/`;
  const read = (name: string) => new TextDecoder().decode(packed[folder + name]);
  await page.setContent(read("visit.html"));
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^QW-02: Set up as QW-01 on /);
  await expect(page.getByText(/^Signed off by /).first()).toBeVisible();
  for (const part of ["What was", "What was decided", "What was written", "What came back", "How it went"])
    await expect(page.getByRole("heading", { name: part, exact: true })).toBeVisible();
  await expect(page.getByText(/values took, read back from the board/).first()).toBeVisible();
  await expectAccessible(page);
  const names = Object.keys(packed).filter((name) => name.startsWith(folder));
  for (const name of ["plan.csv", "plan.txt", "decisions.csv", "proof.csv", "script.txt", "record.csv"])
    expect(names).toContain(folder + name);
  expect(names.filter((name) => /read-out (before|source|after) QW-.*\.txt$/.test(name))).toHaveLength(3);
  const plan = Papa.parse<Record<string, string>>(read("plan.csv"), { header: true });
  expect([plan.errors, plan.data.length > 100]).toEqual([[], true]);
  // what the plan says that it sends is what was sent, line by line
  const sent = plan.data.filter((line) => (line.sends ?? "") !== "");
  expect(sent.length).toBeGreaterThan(100);
  expect(sent.filter((line) => !read("script.txt").includes(line.sends ?? ""))).toEqual([]);
  await page.goto("/keeping/papers");
  await page.locator('input[type="file"]').setInputFiles(await papers.path());
  await expect(page.getByRole("heading", { name: /is whole$/ })).toBeVisible();
  await expect(page.getByRole("region", { name: "Result" })).toContainText("QW-02: Set up as QW-01");
  await expect(page.getByRole("region", { name: "Result" })).toContainText("The workshop’s own: its key signed them");
  await expectAccessible(page);
  // and two plans stand beside each other
  await page.goto(`/jobs/${id}/plan/beside`);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("QW-02 and QW-");
  await expectAccessible(page);
});

test("case C29, case C30: all but tune and feel comes along, and a starter set fills the rest", async ({ page }) => {
  await signIn(page, "lead");
  await setPace(page, 150);
  await answers(page, 2, "QW-01");
  await page.getByRole("radio", { name: /^Heddle 23/ }).check({ timeout: 20_000 });
  await choose(page.getByLabel("What comes along"), /^Tune and stick feel stay behind/);
  await (await optionsOf(page.getByLabel("What fills the rest"))).nth(1).click();
  await button(page, "Order this job").click();
  const id = await orderedId(page);
  await finish(page, id);
  await page.goto(`/jobs/${id}/proof`);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("left behind on purpose");
  await page.goto("/aircraft/QW-01");
  await expect(page.getByRole("heading", { level: 1 })).not.toContainText("Out of service");
});

test("case C81: to a family without a common ancestor, by what the settings mean", async ({ page }) => {
  await signIn(page, "lead");
  await setPace(page, 150);
  await answers(page, 2, "QW-04");
  await page.getByRole("radio", { name: /^Bobbin 41.*no common ancestor/ }).check({ timeout: 20_000 });
  await button(page, "Order this job").click();
  const id = await orderedId(page);
  await finish(page, id);
  await page.goto(`/jobs/${id}/proof`);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("took, read back from the board");
});

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
