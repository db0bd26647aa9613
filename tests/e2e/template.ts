import { rmSync } from "node:fs";
import { seedWorkshop } from "../support/product";
import { TEMPLATE } from "./workshop";

/** Makes the workshop that each file of tests gets a copy of. */
export default async function template(): Promise<void> {
  rmSync(TEMPLATE.data, { recursive: true, force: true });
  await seedWorkshop(TEMPLATE.database, TEMPLATE.data);
}
