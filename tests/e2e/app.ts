import AxeBuilder from "@axe-core/playwright";
import type { BrowserContext, Locator, Page } from "@playwright/test";
import { readFileSync } from "node:fs";
import path from "node:path";
import { DATA_FOLDER, expect, ORIGIN, passwordOf, type Who } from "./workshop";

/** Comes in as people do, with name and password. */
export async function signInAtTheDoor(page: Page, who: Who): Promise<void> {
  await page.goto("/sign-in");
  await page.getByLabel("Name").fill(who);
  await page.getByLabel("Password").fill(passwordOf(who));
  await page.getByRole("button", { name: "Sign in" }).click();
  // the first sign-in after a start opens the database's connections as well
  await expect(page.getByRole("navigation", { name: "Bench" })).toBeVisible({ timeout: 20_000 });
}

type Cookies = Awaited<ReturnType<BrowserContext["cookies"]>>;
const signedIn = new Map<Who, Cookies>();

/** Comes in with the session of whoever came in before as the same; by the door where there is none, or it has ended. */
export async function signIn(page: Page, who: Who): Promise<void> {
  const session = signedIn.get(who);
  if (session) {
    await page.context().addCookies(session);
    await page.goto("/");
    if (await page.getByRole("navigation", { name: "Bench" }).isVisible()) return;
  }
  await signInAtTheDoor(page, who);
  signedIn.set(who, await page.context().cookies());
}

const taken = new Set<string>();

/** Keeps a picture for the documentation, when it is asked for: SCREENSHOTS=1 bin/test e2e. */
export async function picture(page: Page, name: string): Promise<void> {
  if (process.env.SCREENSHOTS === undefined || taken.has(name)) return;
  taken.add(name);
  await page.waitForTimeout(400);
  await page.screenshot({ path: path.resolve(`docs/screenshots/${name}.png`) });
}

/** WCAG 2.2 A and AA, as far as a machine can tell. */
export async function expectAccessible(page: Page): Promise<void> {
  // it comes with the page's own data, a moment after what stands on every page
  await expect(page).toHaveTitle(/./);
  const result = await new AxeBuilder({ page })
    // no frame here is of another origin: no second page is needed to gather what was found
    .setLegacyMode(true)
    // one row of a table is like another
    .exclude("tbody > tr:nth-child(n + 31)")
    .options({
      runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"],
      resultTypes: ["violations"],
      // nothing is judged that lies in another file: the page has loaded it
      preload: false,
    })
    .analyze();
  expect(
    result.violations.map(
      (v) =>
        `${v.id}: ${v.nodes
          .slice(0, 3)
          .map((n) => n.html.slice(0, 160))
          .join(" | ")}`,
    ),
  ).toEqual([]);
}

export const button = (page: Page, name: string | RegExp) => page.getByRole("button", { name, exact: true });

/** How fast simulated boards live. */
export async function setPace(page: Page, factor: number): Promise<void> {
  const ask = () =>
    page.request.post("/api/bench/1", {
      data: { kind: "clock", factor },
      maxRetries: 3,
      headers: { origin: ORIGIN },
    });
  // a bench that has just begun again may take a moment before it takes orders
  await expect.poll(async () => (await ask()).ok(), { timeout: 40_000 }).toBe(true);
}

/** Puts an aircraft's board into a bay, plugs it in and orders the update; ends on the job card, begun. */
export async function beginUpdate(page: Page, tag: string, bay: number): Promise<string> {
  await bring(page, bay, tag);
  await button(page, "Plug the cable in").click();
  await expect(page.getByRole("heading", { name: /^Answers, Heddle 2\d$/ })).toBeVisible({ timeout: 20_000 });
  await button(page, "Order this job").click();
  await page.waitForURL(/\/jobs\/\d+$/);
  const card = page.url();
  await expect(page.getByRole("region", { name: "Steps" }).getByRole("listitem").last()).toContainText("Sign off");
  await button(page, "Begin with step 1").click();
  await expect(page.getByRole("link", { name: "Look at the plan and decide" })).toBeVisible({ timeout: 30_000 });
  return card;
}

/** Takes every decision on the plan: old numbers kept, limits accepted. */
export async function decideAll(page: Page): Promise<void> {
  await page.getByRole("link", { name: "Look at the plan and decide" }).click();
  await page.waitForURL(/\/plan$/);
  const silent = page.locator("#silent");
  const rest = ["Keep all the old numbers", "Accept all limits"];
  await silent.getByRole("button", { name: rest[0] ?? "" }).click();
  await expect(silent.getByText("decided by technician").first()).toBeVisible();
  for (const group of ["behaviour", "limited"]) {
    const open = page.locator(`#${group}`).locator('tr [role="group"]');
    for (let i = 0; i < (await open.count()); i++) {
      await open.nth(i).getByRole("button").last().click();
      await expect(page.locator(`#${group}`).getByText("decided by technician")).toHaveCount(i + 1);
    }
  }
  await takePlan(page);
  await page.getByRole("link", { name: "Back to the card" }).click();
}

/** Takes the plan that is looked at; everything on it is decided. */
export async function takePlan(page: Page): Promise<void> {
  await page.getByRole("button", { name: /[Tt]ake this plan$/ }).click({ timeout: 20_000 });
  await expect(page.getByRole("heading", { level: 1, name: /taken by/ })).toBeVisible({ timeout: 20_000 });
}

/** Takes the plan where that is all that waits; then “propellers off”, which the flash begins with. */
export async function confirmSafe(page: Page): Promise<void> {
  const [done, plan] = [button(page, /^It is done/), page.getByRole("link", { name: "Look at the plan and take it" })];
  await done.or(plan).first().waitFor({ timeout: 30_000 });
  // a plan on which nothing was to be decided
  if (await plan.isVisible()) {
    const card = page.url();
    await plan.click();
    await page.waitForURL(/\/plan$/);
    await takePlan(page);
    await page.goto(card);
  }
  await done.click({ timeout: 20_000 });
}

const STICKS = ["Roll", "Pitch", "Climb", "Turn"] as const;

/** Nose up, level, right side down, level: each as the card asks for it. */
export async function leanAsAsked(page: Page): Promise<void> {
  const ask = (text: string) =>
    expect(page.getByRole("region", { name: "Steps" }).getByText(text).first()).toBeVisible({ timeout: 60_000 });
  await button(page, "Nose up").click();
  await ask("Set it level again");
  await page.getByRole("button", { name: "Level", exact: true }).click();
  await ask("Lower the right side");
  await button(page, "Right side down").click();
  await ask("Set it level again");
  await page.getByRole("button", { name: "Level", exact: true }).click();
  await ask("Set it level and turn it clockwise");
}

/** Stops the job of an open card, with a reason. */
export async function stopJob(page: Page, reason = "Something else comes first"): Promise<void> {
  await button(page, "Stop this job").click();
  await page.getByLabel("Why is it stopped?").fill(reason);
  await button(page, /^Stop it/).click();
  await expect(page.getByRole("heading", { level: 1, name: /stopped/ })).toBeVisible();
}

/** Tilts the airframe and moves the sticks as the card asks. */
export async function doChecks(page: Page): Promise<void> {
  const ask = (text: string) =>
    expect(page.getByRole("region", { name: "Steps" }).getByText(text).first()).toBeVisible({ timeout: 60_000 });
  await ask("Lift the nose");
  await picture(page, "check");
  // an earlier job on this board left its sticks at their high ends, and then one end is enough
  for (const stick of STICKS) {
    const middle = button(page, `${stick} middle`);
    await middle.click();
    await expect(middle).toHaveAttribute("aria-pressed", "true", { timeout: 10_000 });
  }
  await leanAsAsked(page);
  await button(page, "Turn clockwise").click();
  for (const stick of STICKS) {
    await ask(`${stick} stick: fully`);
    // hands that were not heard in time are not carried out late: one moves the stick again
    await expect(async () => {
      await button(page, `${stick} low`).click();
      // what is still shown of the stick before it is not this one's
      await page.waitForTimeout(500);
      await expect(page.getByText(/low end 1000/)).toBeVisible({ timeout: 4000 });
    }).toPass({ timeout: 30_000 });
    await button(page, `${stick} high`).click();
  }
}

/** Signs; before, calibrates a board that flies on measures of no board. */
export async function signOff(page: Page, tag: string): Promise<void> {
  const [sign, measured] = [
    button(page, `Sign off ${tag} with my name`),
    button(page, "It is calibrated: read it back"),
  ];
  await sign.or(measured).first().waitFor({ timeout: 20_000 });
  if (await measured.isVisible()) {
    await button(page, "Calibrate it, level and still").click();
    await measured.click();
  }
  await sign.click({ timeout: 20_000 });
  await expect(page.getByRole("heading", { name: /signed off/ })).toBeVisible();
}

export const pidOf = (part: "bench" | "web"): number =>
  Number(readFileSync(path.join(DATA_FOLDER, `${part}.pid`), "utf8"));

/** Takes the first way that is offered for everything that waits on the plan, but for what stands under `except`. */
export async function decideEverything(page: Page, except = "#nothing"): Promise<void> {
  await page.waitForURL(/\/plan$/);
  const groups = page.locator(`tr [role="group"]:not(${except} *)`);
  const count = await groups.count();
  for (let i = 0; i < count; i++) {
    const group = groups.nth(i);
    if ((await group.locator('[aria-pressed="true"]').count()) > 0) continue;
    await group.locator("button:enabled").first().click();
    await expect(group.locator('[aria-pressed="true"]')).toHaveCount(1);
  }
  if (except === "#nothing") await takePlan(page);
}

/** Goes to a bay on which no job is open, with nothing in it; gives its number. Tests before may have left boards in bays. */
export async function emptyBay(page: Page): Promise<number> {
  const takeOut = page.getByRole("button", { name: "Take the board out of the bay" });
  const shelf = page.getByLabel("Board", { exact: true });
  const card = page.getByRole("link", { name: "Open the job card" });
  for (let no = 1; no <= 6; no++) {
    await page.goto(`/bench/${no}`);
    await expect(takeOut.or(shelf).or(card).first()).toBeVisible();
    if (await card.isVisible()) continue;
    if (await takeOut.isVisible()) await takeOut.click();
    await expect(shelf).toBeVisible();
    return no;
  }
  throw new Error("a job is open in every bay");
}

/** Opens a bay on which no job is open, and takes out what lies in it. */
async function openBay(page: Page, bay: number): Promise<void> {
  await page.goto(`/bench/${bay}`);
  const takeOut = button(page, "Take the board out of the bay");
  const shelf = page.getByLabel("Board", { exact: true });
  await expect(shelf.or(takeOut)).toBeVisible();
  if (await takeOut.isVisible()) await takeOut.click();
  await expect(shelf).toBeVisible();
}

/** Opens one of the interface's lists; its options. */
export async function optionsOf(list: Locator): Promise<Locator> {
  const box = list.page().getByRole("listbox");
  // a page that is not alive yet hears no press
  await expect(async () => {
    if (!(await box.isVisible())) await list.click({ timeout: 2_000 });
    await expect(box).toBeVisible({ timeout: 1_000 });
  }).toPass({ timeout: 20_000 });
  return box.getByRole("option");
}

/** Chooses the option that says this. */
export async function choose(list: Locator, says: string | RegExp): Promise<void> {
  const options = await optionsOf(list);
  await options.and(list.page().getByRole("option", { name: says, exact: true })).click();
  await expect(options).toHaveCount(0);
}

/** Puts a board into a bay, wherever it lies and whatever lies there. */
export async function bring(page: Page, bay: number, label: string): Promise<void> {
  await openBay(page, bay);
  const shelf = page.getByLabel("Board", { exact: true });
  const lies = async () => {
    const count = await (await optionsOf(shelf)).filter({ hasText: label }).count();
    await page.keyboard.press("Escape");
    return count > 0;
  };
  for (let no = 1; !(await lies()) && no <= 6; no++) {
    await page.goto(`/bench/${no}`);
    // the bay's own line says which board lies there
    const there = page.getByRole("main").getByText(new RegExp(label)).first();
    if (await there.isVisible()) await openBay(page, no);
    await page.goto(`/bench/${bay}`);
  }
  await choose(shelf, new RegExp(label));
  await button(page, `Put it into bay ${bay}`).click();
}
