import { appendFileSync, mkdirSync, readFileSync } from "node:fs";
import path from "node:path";
import type { Witness } from "@/server/chain";
import { dataFolder } from "@/server/env";

/** Kept beside the database, not in it: who rewrites the database would have to rewrite this as well. */
export const witnessFile = (): string => path.join(dataFolder(), "witness.log");

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
  mkdirSync(dataFolder(), { recursive: true });
  appendFileSync(witnessFile(), `${at.toISOString()} seal ${head.no} ${head.sha256}\n`, { mode: 0o600 });
}
