import { createHash } from "node:crypto";
import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import path from "node:path";
import { databaseIsThere } from "../support/database";
import { seedWorkshop } from "../support/product";
import { TEMPLATE } from "./workshop";

const STAMP = path.resolve(".data/e2e-template.stamp");

/** What the template is made of: the program, the demo world's documents, and the day, since its past is told from today. */
function madeOf(): string {
  const hash = createHash("sha256");
  hash.update(readFileSync(path.resolve(".data/build.stamp")));
  hash.update(new Date().toDateString());
  const files = readdirSync("demo", { recursive: true, withFileTypes: true }).filter((each) => each.isFile());
  for (const file of files.map((each) => path.join(each.parentPath, each.name)).sort())
    hash.update(`\n${file}\n`).update(readFileSync(file));
  return hash.digest("hex");
}

const stampThere = (): string => {
  try {
    return readFileSync(STAMP, "utf8");
  } catch {
    return "";
  }
};

/** Makes the workshop that each file of tests gets a copy of, unless it is there as it would be made. */
export default async function template(): Promise<void> {
  const wanted = madeOf();
  if (stampThere() === wanted && existsSync(TEMPLATE.data) && (await databaseIsThere(TEMPLATE.database))) return;
  rmSync(STAMP, { force: true });
  rmSync(TEMPLATE.data, { recursive: true, force: true });
  await seedWorkshop(TEMPLATE.database, TEMPLATE.data);
  // a seeding that was cut off is none
  writeFileSync(STAMP, wanted);
}
