import { appendFileSync, mkdirSync, readFileSync } from "node:fs";
import path from "node:path";
import type { Witness } from "@/server/chain";
import { dataFolder, witnessPath } from "@/server/env";

/**
 * Kept beside the database, not in it: who rewrites the database would have to rewrite this as well. With WITNESS_FILE it
 * stands where whoever owns the database cannot write, as on another machine's disk.
 */
export const witnessFile = (): string => witnessPath() ?? path.join(dataFolder(), "witness.log");

/** Seals as somebody wrote them down: “1234:0a1b…”. Throws in words where one is none. */
export const sealsFrom = (texts: readonly string[]): Witness[] =>
  texts.map((text) => {
    const found = /^(\d{1,15})[ :]([0-9a-f]{64})$/.exec(text.trim());
    if (!found) throw new Error(`“${text}” is no seal: give its number and its 64 digits, as 1234:0a1b…`);
    return { no: Number(found[1]), sha256: found[2] ?? "" };
  });

/** The seals that were written down, oldest first; lines that are none are passed over. */
export function readWitnesses(file = witnessFile()): Witness[] {
  try {
    return readFileSync(file, "utf8")
      .split("\n")
      .flatMap((line) => {
        const found = /^\S+ seal (\d{1,15}) ([0-9a-f]{64})$/.exec(line);
        return found ? [{ no: Number(found[1]), sha256: found[2] ?? "" }] : [];
      });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return [];
    throw error;
  }
}

/** Writes down what is the last seal now, if it is not the last that was written down. */
export function bearWitness(head: Witness, at: Date): void {
  if (head.no === 0 || readWitnesses().at(-1)?.no === head.no) return;
  mkdirSync(path.dirname(witnessFile()), { recursive: true });
  appendFileSync(witnessFile(), `${at.toISOString()} seal ${head.no} ${head.sha256}\n`, { mode: 0o600 });
}
