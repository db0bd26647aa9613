import { rmSync } from "node:fs";
import { startProduct } from "../support/product";
import { TEMPLATE } from "./workshop";

/** Makes the workshop that each file of tests gets a copy of: the product is started as a user would, and ended. */
export default async function template(): Promise<void> {
  rmSync(TEMPLATE.data, { recursive: true, force: true });
  const { stop } = await startProduct(TEMPLATE);
  await stop();
}
