import type { BayLive } from "@/core/job";

/** What a bay shows is not written more often than this, in ms, unless it has to be. */
const EVERY_MS = 200;

/**
 * What a bay shows, on its way to where it is kept. One write after the other: over several connections an older state could
 * come to lie over a newer one, and stay. What could not be written is written when it is shown next, though it be the same.
 */
export class Shown {
  private text = "";
  private atMs = -Infinity;
  private writing: Promise<void> = Promise.resolve();

  constructor(private readonly write: (live: BayLive) => Promise<void>) {}

  /** Whether so much time has passed that it would be written if it is another. */
  get isDue(): boolean {
    return performance.now() - this.atMs >= EVERY_MS;
  }

  /** Ends when it is written, or something newer is about to be; at once where it is too soon. `force`: it is not too soon. */
  show(live: BayLive, force = false): Promise<void> {
    const text = JSON.stringify(live);
    if (text === this.text) return this.writing;
    if (!force && !this.isDue) return Promise.resolve();
    this.text = text;
    this.atMs = performance.now();
    this.writing = this.writing.catch(() => undefined).then(() => this.put(text, live));
    return this.writing;
  }

  private async put(text: string, live: BayLive): Promise<void> {
    if (this.text !== text) return;
    try {
      await this.write(live);
    } catch (error) {
      if (this.text === text) this.text = "";
      throw error;
    }
  }
}
