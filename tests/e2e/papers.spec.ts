import type { Page } from "@playwright/test";
import { checkPapers, readArchive, type PapersReport } from "@/core/papers";
import { valueOf } from "@/core/problem";
import { beginUpdate, setPace, signIn, stopJob } from "./app";
import { expect, test } from "./workshop";

/** A visit's papers as they are loaded down, held against themselves and the key that the workshop shows. */
async function papersOf(page: Page, id: number, key: string): Promise<PapersReport | undefined> {
  const answer = await page.request.get(`/api/jobs/${id}/papers`);
  if (answer.status() === 404) return undefined;
  expect(answer.status()).toBe(200);
  return checkPapers(valueOf(readArchive(await answer.body())), { keys: [key] });
}

async function keyShown(page: Page): Promise<string> {
  await page.goto("/keeping");
  const words = await page.getByRole("main").innerText();
  return /\b[\w-]{43}\b/.exec(words)?.[0] ?? "";
}

test("the papers of every visit hold, whatever it was for and however it ended; also while it goes on", async ({
  page,
}) => {
  await signIn(page, "lead");
  const key = await keyShown(page);
  await setPace(page, 40);
  const card = await beginUpdate(page, "QW-03", 6);
  const own = Number(card.split("/").at(-1));
  expect(await papersOf(page, own, key)).toMatchObject({ faults: [], origin: "key", statement: { ended: "open" } });
  await stopJob(page);

  const met: string[] = [];
  for (let id = 1; ; id++) {
    const report = await papersOf(page, id, key);
    if (!report) {
      expect(id).toBeGreaterThan(own);
      break;
    }
    const { job, goal, ended } = report.statement;
    expect({ visit: id, faults: report.faults, origin: report.origin }).toEqual({
      visit: id,
      faults: [],
      origin: "key",
    });
    expect(job).toBe(id);
    met.push(`${goal} ${ended}`);
  }
  expect(met.at(-1)).toBe("update stopped");
  test.info().annotations.push({ type: "visits", description: [...new Set(met)].toSorted().join(", ") });
});
