import { execFile } from "node:child_process";
import { existsSync, mkdirSync, readdirSync, rmSync, statSync } from "node:fs";
import path from "node:path";
import { promisify } from "node:util";
import { copiesKept, dataFolder, ownerUrl } from "@/server/env";
import { chainHead } from "@/server/chain";
import { noteKeeping } from "@/server/keeping";

const NAME = /^\d{4}-\d{2}-\d{2}-\d{6}\.workshop$/;
const LIMIT_MS = 2 * 3600_000;

export const copiesFolder = (): string => process.env.COPIES_FOLDER ?? path.join(dataFolder(), "copies");

/** The daily copies that are there, oldest first. */
export const copiesThere = (): string[] => {
  const folder = copiesFolder();
  return existsSync(folder)
    ? readdirSync(folder)
        .filter((name) => NAME.test(name))
        .toSorted()
    : [];
};

/**
 * Makes a copy as bin/backup does, which proves it, and lets go of those beyond the number that is kept; never of one when
 * no new one could be made.
 */
export async function makeCopy(now: Date): Promise<boolean> {
  const folder = copiesFolder();
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const name = `${now.toISOString().slice(0, 10)}-${now.toISOString().slice(11, 19).replaceAll(":", "")}.workshop`;
  const head = await chainHead();
  try {
    await promisify(execFile)(path.resolve("bin/backup"), [path.join(folder, name)], {
      timeout: LIMIT_MS,
      env: { ...process.env, DATABASE_URL: ownerUrl() },
    });
  } catch (error) {
    const { stderr, message } = error as { stderr?: string; message: string };
    const said = [stderr, message].find(Boolean) ?? "no reason was told";
    await noteKeeping("copy", false, said.trim().split("\n").slice(-3).join(" "));
    return false;
  }
  const { size } = statSync(path.join(folder, name));
  await noteKeeping("copy", true, `${name}, ${(size / 1e6).toFixed(1)} MB, read back whole`, {
    name,
    size,
    head,
    folder,
  });
  for (const old of copiesThere().slice(0, -copiesKept())) rmSync(path.join(folder, old));
  return true;
}
