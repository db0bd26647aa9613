import { test as base, expect } from "@playwright/test";
import { cpSync, readFileSync, rmSync } from "node:fs";
import path from "node:path";
import { emptyDatabase, setCluster, type Cluster } from "../support/database";
import { startProduct, type Product } from "../support/product";
import { faultsOfVisits } from "./visits";

export { expect };

const FIRST_PORT = Number(process.env.E2E_PORT ?? 4271);
/** Which of the workers this is: each has ports, a database and a data folder of its own. */
const WORKER = Number(process.env.TEST_PARALLEL_INDEX ?? 0);

/** The port of this worker's product; the nine after it are free for other products that its tests start. */
export const PORT = FIRST_PORT + 10 * WORKER;
export const ORIGIN = `http://127.0.0.1:${PORT}`;
export const DATABASE = `fresh_start_e2e_${WORKER}`;
export const DATA_FOLDER = path.resolve(`.data/e2e-${WORKER}`);

/** The seeded workshop of which each file gets a copy. */
export const TEMPLATE = {
  database: "fresh_start_e2e_template",
  data: path.resolve(".data/e2e-template"),
};
/** What of a data folder is a process's, not the workshop's. */
const OF_A_PROCESS = /\.(pid|lock)$/;

let open: { readonly file: string; readonly product: Product; readonly cluster: Cluster } | undefined;

async function close(): Promise<void> {
  const last = open;
  if (!last) return;
  open = undefined;
  // whatever a file's tests did, the papers of its visits hold
  const faults = last.cluster === "test" ? await faultsOfVisits(DATABASE) : [];
  await last.product.stop();
  if (last.cluster !== "test") setCluster("stop", last.cluster);
  expect({ file: path.basename(last.file), faults }).toEqual({ file: path.basename(last.file), faults: [] });
}

export type Who = "lead" | "technician" | "observer";

/** As the start has shown it. */
export const passwordOf = (who: Who): string =>
  (JSON.parse(readFileSync(path.join(DATA_FOLDER, "demo-accounts.json"), "utf8")) as Record<Who, string>)[who];

/** A product on a copy of the seeded workshop; in a cluster of its own it is seeded there. */
async function openFor(file: string, cluster: Cluster): Promise<void> {
  await close();
  rmSync(DATA_FOLDER, { recursive: true, force: true });
  const here = { database: DATABASE, data: DATA_FOLDER, port: PORT, cluster };
  const isCopy = cluster === "test";
  if (!isCopy) setCluster("start", cluster);
  else {
    await emptyDatabase(DATABASE, TEMPLATE.database);
    cpSync(TEMPLATE.data, DATA_FOLDER, { recursive: true, filter: (each) => !OF_A_PROCESS.test(each) });
  }
  open = { file, cluster, product: await startProduct({ ...here, again: isCopy }) };
}

interface Options {
  /** The cluster that the workshop's database is in. */
  readonly cluster: Cluster;
}

/** Tests of one file share a workshop, one after the other; no other file sees it. */
export const test = base.extend<Options & { workshop: undefined }, { ending: undefined }>({
  cluster: ["test", { option: true }],

  baseURL: async ({}, give) => give(ORIGIN),
  ending: [
    async ({}, give) => {
      await give(undefined);
      await close();
    },
    { scope: "worker", auto: true, timeout: 60_000 },
  ],
  workshop: [
    async ({ cluster }, give, { file }) => {
      if (open?.file !== file) await openFor(file, cluster);
      await give(undefined);
    },
    { auto: true, timeout: 120_000 },
  ],
});
