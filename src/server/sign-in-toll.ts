import { createHmac, timingSafeEqual } from "node:crypto";
import { ProblemError } from "@/core/problem";
import { isTollPaid, type Toll } from "@/core/toll";
import { sessionSecret } from "@/server/env";

/** So many attempts from an address may fail before the next ones cost work. */
const FREE = 20;
const LEAST_BITS = 14;
const MOST_BITS = 20;
/** What is asked may have grown while the work was done. */
const SLACK_BITS = 3;
const LIFE_MS = 120_000;

/** The work that an attempt costs from an address where so many have failed: none at first, then twice as much each time they double. */
export const bitsFor = (failures: number): number =>
  failures < FREE ? 0 : Math.min(MOST_BITS, LEAST_BITS + Math.floor(Math.log2(failures / FREE)));

/** An attempt that has to be paid for: `toll` is sent along with the refusal. */
export class TollDue extends ProblemError {
  readonly toll: Toll;
  constructor(toll: Toll) {
    super({
      code: "sign-in-toll",
      message: "Many attempts from your address have failed",
      hint: "The sign-in page lets your browser work for a moment and tries again by itself",
    });
    this.toll = toll;
  }
}

const macOf = (attempt: string, bits: number, until: number) =>
  createHmac("sha256", sessionSecret()).update(`toll ${bits} ${until} ${attempt}`).digest("base64url");

/** The work for one attempt; what an attempt is, its text says: name, address, and what failed there last. */
export const tollFor = (attempt: string, bits: number, now: number): Toll => ({
  token: `${bits}.${now + LIFE_MS}.${macOf(attempt, bits, now + LIFE_MS)}`,
  bits,
});

/** Whether work was done for this very attempt, not long ago, and about as much as it costs now. */
export function isPaidFor(paid: string, attempt: string, bits: number, now: number): boolean {
  const found = /^((\d{1,2})\.(\d{1,16})\.([\w-]{43}))\.(\d{1,12})$/.exec(paid);
  if (!found) return false;
  const [, token = "", asked = "", until = "", mac = "", number = ""] = found;
  const right = macOf(attempt, Number(asked), Number(until));
  return (
    timingSafeEqual(Buffer.from(mac), Buffer.from(right)) &&
    Number(until) >= now &&
    Number(asked) >= bits - SLACK_BITS &&
    isTollPaid({ token, bits: Number(asked) }, Number(number))
  );
}
