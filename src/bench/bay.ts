import type { Catalogue } from "@/core/catalog";
import { foldJob, type BayLive, type JobState, type Progress } from "@/core/job";
import { ProblemError, problemOf, type Problem } from "@/core/problem";
import type { BoardLink, Presence } from "@/bench/link";
import { backUpBoard, giveKnownBoard } from "@/bench/between-jobs";
import { instruct } from "@/bench/instruct";
import { orderOf, pgStore } from "@/bench/pg-store";
import { runJob, type RunEnd } from "@/bench/runner";
import type { Socket } from "@/bench/socket";
import { declareBoard } from "@/bench/steps/context";
import { BEING_IDENTIFIED, tileOf, type Known } from "@/bench/tile";
import type { JobStore } from "@/bench/store";
import { writeLive } from "@/server/repositories/bench";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { boardsByChip, boardsByLoader } from "@/server/repositories/boards";
import type { JobRow } from "@/server/repositories/jobs";
import type { OrderBody } from "@/server/repositories/orders";

const LIVE_EVERY_MS = 200;
const WATCH_EVERY_MS = 60;

interface RunningJob {
  readonly row: JobRow;
  readonly store: JobStore;
  readonly run: Promise<void>;
  state: JobState;
  attempt: AbortController | undefined;
  /** What keeps the record from being written; the job goes on from its journal when that is over. */
  trouble: Problem | undefined;
}

/** After trouble with the record, the job is taken up again so much later. */
const AGAIN_AFTER_MS = 2_000;

/** A process that has lost its bench touches nothing more; everything else is trouble of one bay. */
const isFatal = (error: unknown) => problemOf(error).code === "bench-fenced";

/** One socket of the bench: the board in it, what is known of it, and the job that runs on it. */
export class Bay {
  readonly no: number;
  private known: Known | undefined;
  /** What is done with the board outside of a job; one thing at a time. */
  private doing: string | undefined;
  private identifying: Promise<void> = Promise.resolve();
  /** Something unexpected in this bay, until the next look goes well. */
  private trouble: Problem | undefined;
  private presence: Presence["kind"] = "none";
  private job: RunningJob | undefined;
  private progress: Progress | undefined;
  private waker: (() => void) | undefined;
  /** Something happened while nobody waited. */
  private woken = false;
  private lastLive = "";
  private lastLiveMs = 0;
  private readonly stop = new AbortController();
  private readonly bench: {
    readonly id: number;
    readonly fence: string;
    readonly onFatal: (error: unknown) => void;
  };

  constructor(
    no: number,
    private readonly socket: Socket,
    bench: Bay["bench"],
  ) {
    this.no = no;
    this.bench = bench;
  }

  /** Puts a stored board in, as it was. */
  async seatStored(boardId: number): Promise<void> {
    await this.socket.simulated?.bring(boardId);
  }

  /** Looks at the cable again and again. What goes wrong with one look is shown, and the next one made all the same. */
  async watch(): Promise<void> {
    while (!this.stop.signal.aborted) {
      try {
        await this.look();
        this.trouble = undefined;
      } catch (error) {
        if (isFatal(error)) throw error;
        this.tellTrouble(error);
      }
      await new Promise((resolve) => setTimeout(resolve, this.trouble ? AGAIN_AFTER_MS : WATCH_EVERY_MS));
    }
  }

  private tellTrouble(error: unknown): void {
    const problem = problemOf(error);
    if (this.trouble?.detail !== problem.detail)
      console.error(`Bay ${this.no}: ${problem.message}${problem.detail === undefined ? "" : ` (${problem.detail})`}`);
    this.trouble = problem;
  }

  /** A change on the cable is shown, identified and told to a waiting job. */
  private async look(): Promise<void> {
    const now = this.link.presence();
    if (now.kind !== this.presence) {
      this.presence = now.kind;
      if (now.kind === "none") this.known = undefined;
      await this.save();
      this.wake();
    }
    if (!this.job && this.doing === undefined && now.kind !== "none" && this.known?.port !== now.port)
      this.identifying = this.identify(now);
    await this.show();
  }

  async end(): Promise<void> {
    this.stop.abort();
    this.wake();
    await this.job?.run;
    await this.save();
  }

  private wake(): void {
    this.woken = true;
    this.waker?.();
  }

  private async wait(): Promise<void> {
    if (!this.woken && !this.stop.signal.aborted) await new Promise<void>((resolve) => (this.waker = resolve));
    this.waker = undefined;
    this.woken = false;
  }

  /** Puts on disk what would be lost with the process. */
  save(): Promise<void> {
    return this.socket.checkpoint();
  }

  /** The link to whatever is in the socket: it stays valid while boards come and go. */
  private get link(): BoardLink {
    return this.socket.link;
  }

  private async identify(presence: Exclude<Presence, { kind: "none" }>): Promise<void> {
    this.doing = BEING_IDENTIFIED;
    try {
      const catalogue = await loadCatalogue();
      this.known =
        presence.kind === "console"
          ? await this.identifyConsole(presence.port, catalogue)
          : await this.identifyLoader(presence.port, presence.serial, catalogue);
    } catch (error) {
      this.known = { port: presence.port, problem: problemOf(error) };
    } finally {
      this.doing = undefined;
    }
  }

  /** A loader says less than a console: the boards of the register that it can be of are its owners. */
  private async identifyLoader(port: string, loaderId: string, catalogue: Catalogue): Promise<Known> {
    const owners = await boardsByLoader(loaderId, catalogue);
    const [owner] = owners;
    return {
      port,
      loaderId,
      ...(owner?.tag && owners.length === 1
        ? { tag: owner.tag, aircraftId: owner.aircraft_id ?? 0, chipId: owner.chip_id }
        : {}),
      ...(owners.length > 1 ? { doubled: owners.map(({ tag, chip_id: chip }) => tag ?? chip) } : {}),
    };
  }

  private async identifyConsole(port: string, catalogue: Catalogue): Promise<Known> {
    const { identity } = await declareBoard(this.link, catalogue);
    const owners =
      identity.chipId === undefined
        ? []
        : (await boardsByChip(identity.chipId)).filter((board) => board.aircraft_id !== null);
    const [owner] = owners;
    return {
      port,
      identity,
      ...(owner?.tag && owners.length === 1 ? { tag: owner.tag, aircraftId: owner.aircraft_id ?? 0 } : {}),
      ...(owners.length > 1 ? { doubled: owners.map((o) => o.tag ?? "?") } : {}),
    };
  }

  /** Shows what is so now; a database that does not take it is no reason to let go of a board. */
  private async tryShow(force = false): Promise<void> {
    try {
      await this.show(force);
    } catch (error) {
      if (isFatal(error)) throw error;
      this.tellTrouble(error);
    }
  }

  private async show(force = false): Promise<void> {
    const live: BayLive = tileOf({
      face: this.socket.face(),
      presence: this.link.presence(),
      known: this.known,
      doing: this.doing,
      job: this.job,
      progress: this.progress,
    });
    const text = JSON.stringify(live);
    const now = performance.now();
    if (text === this.lastLive || (!force && now - this.lastLiveMs < LIVE_EVERY_MS)) return;
    this.lastLive = text;
    this.lastLiveMs = now;
    await writeLive(this.bench.id, this.bench.fence, this.no, live);
  }

  /** Takes a job up, fresh or from wherever its journal stands. */
  async takeJob(row: JobRow): Promise<void> {
    if (this.job) return;
    const store = this.storeOf(row);
    const running: { -readonly [K in keyof RunningJob]: RunningJob[K] } = {
      row,
      store,
      state: foldJob(row.steps, await store.entries()),
      attempt: undefined,
      trouble: undefined,
      run: Promise.resolve(),
    };
    this.job = running;
    running.run = this.keepRunning(running).then(
      (end) => {
        if (end === "let-go") return;
        this.job = undefined;
        this.progress = undefined;
        this.known = undefined;
      },
      (error: unknown) => this.bench.onFatal(error),
    );
  }

  /** Runs a job to its end, over whatever keeps its record from being written for a while. */
  private async keepRunning(running: RunningJob): Promise<RunEnd> {
    for (;;) {
      const { trouble } = running;
      try {
        return await this.runOnce(running, trouble);
      } catch (error) {
        if (isFatal(error) || this.stop.signal.aborted) throw error;
        running.trouble = problemOf(error);
        this.tellTrouble(error);
        this.progress = undefined;
        await new Promise((resolve) => setTimeout(resolve, AGAIN_AFTER_MS));
      }
    }
  }

  private runOnce(running: RunningJob, trouble: Problem | undefined): Promise<RunEnd> {
    const interruption =
      trouble &&
      `The record could not be written (${trouble.detail ?? trouble.message}). Nothing was lost; the step begins again.`;
    return runJob({
      job: orderOf(running.row),
      store: running.store,
      link: this.link,
      signal: this.stop.signal,
      ...(interruption === undefined ? {} : { interruption }),
      onAttempt: (attempt) => (running.attempt = attempt),
      onWait: async (state) => {
        running.state = state;
        running.trouble = undefined;
        await this.tryShow(true);
        await this.wait();
      },
      progress: async (progress, state) => {
        running.state = state;
        running.trouble = undefined;
        this.progress = progress;
        try {
          if (performance.now() - this.lastLiveMs >= LIVE_EVERY_MS) await this.save();
          await this.show();
        } catch (error) {
          if (isFatal(error)) throw error;
          this.tellTrouble(error);
        }
      },
    });
  }

  /** Carries out what the interface asked for. What cannot be done is thrown as a problem. */
  async obey(body: OrderBody, account: string, jobRow: JobRow | undefined): Promise<void> {
    switch (body.kind) {
      case "bring":
        await this.simulated.bring(body.boardId);
        break;
      case "take-out":
        await this.simulated.takeOut();
        this.known = undefined;
        break;
      case "plug":
      case "unplug":
      case "battery":
      case "lean":
      case "stick":
      case "fault":
        this.simulated.handle(body);
        break;
      case "back-up":
        await this.backUp(account);
        break;
      case "give":
        await this.betweenJobs(BEING_IDENTIFIED, () =>
          giveKnownBoard(this.known, body, account, { benchId: this.bench.id, fence: this.bench.fence }),
        );
        // it is looked at anew, and found to be theirs
        this.known = undefined;
        break;
      case "begin":
        if (!jobRow) throw new ProblemError({ code: "job-none", message: "There is no such job" });
        if (!this.job) await this.beginJob(jobRow, account);
        break;
      default:
        await instruct(body, account, jobRow, { job: this.job, storeOf: (row) => this.storeOf(row) });
    }
    await this.save();
    this.wake();
    await this.tryShow(true);
  }

  private get simulated(): NonNullable<Socket["simulated"]> {
    if (this.socket.simulated) return this.socket.simulated;
    throw new ProblemError({
      code: "socket-real",
      message: `Bay ${this.no} is a real socket`,
      hint: "Plug boards in and pull them out with your own hands",
    });
  }

  private async backUp(account: string): Promise<void> {
    const { known } = this;
    const fence = { benchId: this.bench.id, fence: this.bench.fence };
    const filed = await this.betweenJobs("being read out", () => backUpBoard(this.link, known, account, fence));
    if (known && this.known === known) this.known = { ...known, filed };
  }

  /** What a person does with a board that answers, while no job runs on it. */
  private async betweenJobs<T>(doing: string, work: () => Promise<T>): Promise<T> {
    if (this.job)
      throw new ProblemError({
        code: "bay-busy",
        message: `A job runs in bay ${this.no}`,
        detail: this.job.row.headline,
        hint: "Open its card; or finish it or stop it first",
      });
    if (this.link.presence().kind !== "console" || this.doing !== undefined)
      throw new ProblemError({
        code: "board-silent",
        message: "The board does not speak on its console",
        hint: "Plug it in without its boot button, and wait until it is identified",
      });
    this.doing = doing;
    try {
      await this.show(true);
      return await work();
    } finally {
      this.doing = undefined;
    }
  }

  setFactor(factor: number): void {
    this.socket.simulated?.setFactor(factor);
  }

  private storeOf(row: JobRow): JobStore {
    return pgStore({ job: row, fence: this.bench.fence, beforeAppend: () => this.save() });
  }

  private async beginJob(row: JobRow, account: string): Promise<void> {
    // one at a time on the console: whoever is being asked who it is, is let finish
    await this.identifying;
    if (this.doing !== undefined)
      throw new ProblemError({
        code: "bay-busy",
        message: `The board in bay ${this.no} is ${this.doing}`,
        hint: "Wait until that is done, then begin",
      });
    const store = this.storeOf(row);
    if ((await store.entries()).length === 0) {
      const documents = row.documents === null ? {} : { documents: await store.putJson(row.documents) };
      await store.append({ kind: "ordered", headline: row.headline, ...documents }, account);
    }
    await this.takeJob(row);
  }
}
