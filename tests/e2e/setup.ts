import { rmSync } from "node:fs";
import { DATABASE, DATA_FOLDER, PORT } from "./app";
import { startProduct } from "../support/product";

/** Starts the whole product as a user would, on a database and a data folder of its own; gives the way to end it. */
export default async function setup(): Promise<() => Promise<void>> {
  rmSync(DATA_FOLDER, { recursive: true, force: true });
  const { stop } = await startProduct({ database: DATABASE, data: DATA_FOLDER, port: PORT });
  return stop;
}
