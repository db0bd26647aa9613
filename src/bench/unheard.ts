import type { Problem } from "@/core/problem";

const FIRST_AFTER_MS = 2_000;
/** What answers in a language that nobody knows is asked again so often: the first words after a start may be garbled. */
const UNKNOWN_TIMES = 3;
/** What does not answer at all is asked so often in the end. */
const SELDOM_MS = 60_000;

/**
 * When something on the cable that did not answer is asked once more: it may just have been waking, or have had no power.
 * Less and less often. Times in ms.
 */
export class Unheard {
  private times = 0;
  private againAtMs = 0;

  /** Something else shows itself: it has not been asked yet. */
  begin(): void {
    this.times = 0;
  }

  /** How asking it ended. */
  asked(problem: Problem | undefined, nowMs: number): void {
    if (problem) this.againAtMs = nowMs + Math.min(FIRST_AFTER_MS * 2 ** this.times++, SELDOM_MS);
    else this.times = 0;
  }

  /** It did not answer when it was asked, and what is known of it stands until it does. */
  get isAgain(): boolean {
    return this.times > 0;
  }

  isDue(problem: Problem | undefined, nowMs: number): boolean {
    if (problem?.code === "idiom-none" && this.times > UNKNOWN_TIMES) return false;
    return problem !== undefined && nowMs >= this.againAtMs;
  }
}
