import type { Page } from "@playwright/test";
import type { JobState } from "@/core/job";
import { bringToEnd, type Say } from "../soak/technician";
import { addressOf } from "../support/database";
import { readBefore } from "../support/product";
import { setPace } from "./app";
import { DATABASE, DATA_FOLDER, expect, ORIGIN } from "./workshop";

/** What the product keeps is looked at beside it; what is done goes through its own doors. */
Object.assign(process.env, {
  DATABASE_URL: addressOf(DATABASE, "app"),
  FRESH_START_DATA: DATA_FOLDER,
  ...readBefore(DATA_FOLDER),
});

const JOB_MS = 150_000;
/** Boards live 150 times as fast meanwhile. */
const HAND_MS = 100;

/** Whoever is signed in on a page says everything. */
export const sayBy =
  (page: Page): Say =>
  async (_, path, data) =>
    (await page.request.post(path, { data, maxRetries: 2, headers: { origin: ORIGIN } })).ok();

/** A page that shows what goes on draws it anew with every line of the journal. */
const leave = (page: Page) => page.goto("about:blank");

/** Brings a job to its end, as a technician does it whom nobody watches: through the product's doors, without its pages. */
export async function finish(page: Page, jobId: number): Promise<void> {
  await leave(page);
  expect(await bringToEnd(sayBy(page), jobId, JOB_MS, { handMs: HAND_MS })).toBe("finished");
}

const idOf = (card: string) => Number(/\/jobs\/(\d+)/.exec(card)?.[1]);

/** The same for the job whose card is open, on a board that lives fast; the card shows its end. */
export async function finishUnwatched(page: Page): Promise<void> {
  const card = page.url();
  await setPace(page, 150);
  await finish(page, idOf(card));
  await page.goto(card);
  await expect(page.getByRole("heading", { name: /signed off/ })).toBeVisible();
}

/** Brings the job whose card is open so far; the card shows where it stands. */
export async function bringUnwatched(page: Page, until: (state: JobState) => boolean): Promise<void> {
  const card = page.url();
  await leave(page);
  expect(await bringToEnd(sayBy(page), idOf(card), JOB_MS, { until })).toBe("there");
  await page.goto(card);
}
