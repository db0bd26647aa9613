import { execFileSync } from "node:child_process";
import path from "node:path";

/** The tests' own PostgreSQL, started if it does not run. */
export const ensureCluster = (): void => {
  process.env.TEST_DATABASE_URL ??= execFileSync(path.resolve("bin/lib/postgres.sh"), ["start", "test"], {
    encoding: "utf8",
    env: { ...process.env, PG_FAST: "1" },
  }).trim();
};

/** `--name N` among the words that a script was given. */
export function numberOf(name: string, otherwise: number): number {
  const at = process.argv.indexOf(`--${name}`);
  const value = at < 0 ? otherwise : Number(process.argv[at + 1]);
  if (!Number.isSafeInteger(value)) throw new Error(`--${name} wants a number`);
  return value;
}
