import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import path from "node:path";

const FOLDER = path.resolve(__dirname, "../golden");

/** Entries of a list, a line each; of those that say nothing of note only how many there are and their hash. */
export const linesOf = (entries: readonly unknown[], ofNote: (entry: never) => boolean = () => true): string[] => {
  const rest = entries.filter((entry) => !ofNote(entry as never)).map((entry) => JSON.stringify(entry));
  const told = entries.filter((entry) => ofNote(entry as never)).map((entry) => JSON.stringify(entry));
  const hash = createHash("sha256").update(rest.join("\n")).digest("hex");
  return rest.length === 0 ? told : [...told, `${rest.length} others: ${hash}`];
};

/**
 * Holds what was worked out against a file that was read through once. GOLDEN=write makes the file anew: then its
 * difference is read through before it is kept.
 */
export function expectGolden(name: string, parts: Readonly<Record<string, readonly string[]>>): void {
  const file = path.join(FOLDER, `${name}.txt`);
  const text = `${Object.entries(parts)
    .flatMap(([part, lines]) => [`# ${part}`, ...lines])
    .join("\n")}\n`;
  if (process.env.GOLDEN === "write") {
    mkdirSync(path.dirname(file), { recursive: true });
    writeFileSync(file, text);
  }
  expect(existsSync(file)).toBe(true);
  expect(text).toBe(readFileSync(file, "utf8"));
}
