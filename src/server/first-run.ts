import { randomBytes, timingSafeEqual } from "node:crypto";
import { mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import path from "node:path";
import { dataFolder } from "@/server/env";

const file = () => path.join(dataFolder(), "first-run.code");

function kept(): string | undefined {
  try {
    return readFileSync(file(), "utf8").trim();
  } catch {
    return undefined;
  }
}

/** The code that opens the page on which the first lead is made: only who reads the terminal or the data folder has it. */
export function firstRunCode(): string {
  const there = kept();
  if (there) return there;
  const code = randomBytes(15).toString("base64url");
  mkdirSync(dataFolder(), { recursive: true });
  writeFileSync(file(), code, { mode: 0o600 });
  return code;
}

export function isFirstRunCode(code: string): boolean {
  const [a, b] = [Buffer.from(code), Buffer.from(kept() ?? "")];
  return b.length > 0 && a.length === b.length && timingSafeEqual(a, b);
}

export const endFirstRun = (): void => rmSync(file(), { force: true });
