import { foldJob, type BayLive, type JobState, type Progress } from "@/core/job";
import { ProblemError, type Problem } from "@/core/problem";
import { serverProblem } from "@/server/away";
import type { BoardLink, Presence } from "@/bench/link";
import { backUpBoard, giveKnownBoard } from "@/bench/between-jobs";
import { instruct } from "@/bench/instruct";
import { orderOf, pgStore } from "@/bench/pg-store";
import { runJob, type RunEnd } from "@/bench/runner";
import { Shown } from "@/bench/shown";
import type { Socket } from "@/bench/socket";
import { Unheard } from "@/bench/unheard";
import { BEING_IDENTIFIED, tileOf, type Known } from "@/bench/tile";
import type { JobStore } from "@/bench/store";
import { whoIsThere } from "@/bench/who-is-there";
import { keepPort, writeLive } from "@/server/repositories/bench";
import { loadCatalogue } from "@/server/repositories/catalogue";
import type { JobRow } from "@/server/repositories/jobs";
import type { OrderBody } from "@/contracts/order-shapes";
import { shelveBoard } from "@/server/repositories/simulation";

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

/** So many starts within so long, in µs of the board's clock, are no hands. */
const RESTARTS = 4;
const RESTARTS_WITHIN_US = 20_000_000;
/** After trouble with the record, the job is taken up again so much later. */
const AGAIN_AFTER_MS = 2_000;

/** A process that has lost its bench touches nothing more; everything else is trouble of one bay. */
const isFatal = (error: unknown) => serverProblem(error).code === "bench-fenced";

/** One socket of the bench: the board in it, what is known of it, and the job that runs on it. */
export class Bay {
  readonly no: number;
  private known: Known | undefined;
  /** What is done with the board outside of a job; one thing at a time. */
  private doing: string | undefined;
  private identifying: Promise<void> = Promise.resolve();
  private readonly unheard = new Unheard();
  /** What lay or ran here when the process began and could not be taken up, and what lets go of it for good. */
  private aside: { readonly says: string; readonly letGo: (() => Promise<void>) | undefined } | undefined;
  /** Something unexpected in this bay, until the next look goes well. */
  private trouble: Problem | undefined;
  private presence: Presence["kind"] = "none";
  private job: RunningJob | undefined;
  private progress: Progress | undefined;
  private waker: (() => void) | undefined;
  /** Something happened while nobody waited. */
  private woken = false;
  /** When it showed itself lately. */
  private starts: { readonly appearance: number; readonly atUs: number }[] = [];
  private readonly shown = new Shown((live) => writeLive(this.bench.id, this.bench.fence, this.no, live));
  private readonly stop = new AbortController();
  private readonly bench: {
    readonly id: number;
    readonly fence: string;
    readonly onFatal: (error: unknown) => void;
    /** The socket of a bay: a port of the machine, which has to be there, or the simulated one. */
    readonly socketFor: (no: number, path: string | null) => Promise<Socket>;
  };

  constructor(
    no: number,
    private socket: Socket,
    bench: Bay["bench"],
  ) {
    this.no = no;
    this.bench = bench;
  }

  /** Puts a stored board in, as it was. One that cannot be is told, and keeps nothing else from starting. */
  async seatStored(boardId: number): Promise<void> {
    try {
      await this.socket.simulated?.bring(boardId);
    } catch (error) {
      this.setAside("The board that lay here cannot be put back", error, () => shelveBoard(boardId, this.fence));
    }
  }

  /** Takes a job up that was begun before this process. One that cannot be taken up is told; it can be stopped. */
  async takeUp(row: JobRow): Promise<void> {
    try {
      if ((await this.storeOf(row).entries()).length > 0) await this.takeJob(row);
    } catch (error) {
      this.setAside(`Visit ${row.id} cannot be taken up: stop it on its card`, error);
    }
  }

  private setAside(what: string, error: unknown, letGo?: () => Promise<void>): void {
    if (isFatal(error)) throw error;
    const { message, detail } = serverProblem(error);
    const because = `${message}${detail === undefined ? "" : ` (${detail})`}`;
    console.error(`Bay ${this.no}: ${what}. ${because}`);
    this.aside = { says: `${what}. ${because}`, letGo };
  }

  private get fence(): { benchId: number; fence: string } {
    return { benchId: this.bench.id, fence: this.bench.fence };
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
    const problem = serverProblem(error);
    if (this.trouble?.detail !== problem.detail)
      console.error(`Bay ${this.no}: ${problem.message}${problem.detail === undefined ? "" : ` (${problem.detail})`}`);
    this.trouble = problem;
  }

  /** A change on the cable is shown, identified and told to a waiting job. */
  private async look(): Promise<void> {
    const now = this.link.presence();
    this.noteStart(now);
    if (now.kind !== this.presence) {
      this.presence = now.kind;
      if (now.kind === "none") this.known = undefined;
      await this.save();
      this.wake();
    }
    const isNew = now.kind !== "none" && this.known?.appearance !== now.appearance;
    if (isNew) this.unheard.begin();
    if (
      !this.job &&
      this.doing === undefined &&
      now.kind !== "none" &&
      (isNew || this.unheard.isDue(this.known?.problem, performance.now()))
    )
      this.identifying = this.identify(now);
    await this.show();
  }

  /** A board that shows itself anew again and again, without a hand on it, restarts for ever. */
  private noteStart(presence: Presence): void {
    const nowUs = this.link.clock.nowUs();
    // a job restarts its board itself
    if (this.job) this.starts = [];
    if (presence.kind !== "none" && presence.appearance !== this.starts.at(-1)?.appearance)
      this.starts.push({ appearance: presence.appearance, atUs: nowUs });
    this.starts = this.starts.filter(({ atUs }) => nowUs - atUs < RESTARTS_WITHIN_US && nowUs >= atUs);
  }

  async end(): Promise<void> {
    this.stop.abort();
    this.wake();
    await this.job?.run;
    await this.save();
    await this.socket.letGo();
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
      this.known = await whoIsThere(this.link, presence, await loadCatalogue());
    } catch (error) {
      this.known = { appearance: presence.appearance, problem: serverProblem(error) };
    } finally {
      this.doing = undefined;
    }
    this.unheard.asked(this.known.problem, performance.now());
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
      // asked once more: what is known of it stands until it answers
      doing: this.doing === BEING_IDENTIFIED && this.unheard.isAgain ? undefined : this.doing,
      job: this.job,
      progress: this.progress,
      restarts: this.starts.length >= RESTARTS,
      aside: this.aside?.says,
    });
    await this.shown.show(live, force);
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
        running.trouble = serverProblem(error);
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
          if (this.shown.isDue) await this.save();
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
        this.starts = [];
        await this.dropAside();
        await this.simulated.bring(body.boardId);
        break;
      case "take-out":
        await this.dropAside();
        await this.simulated.takeOut();
        this.known = undefined;
        break;
      case "plug":
      case "unplug":
      case "adapter":
      case "battery":
      case "lean":
      case "stick":
      case "fault":
      case "calibrate":
      case "afflict":
        // what comes of hands is no restart
        this.starts = [];
        this.simulated.handle(body);
        break;
      case "use-port":
        await this.useSocket(body.path);
        break;
      case "back-up":
        await this.backUp(account);
        break;
      case "give":
        await this.betweenJobs(
          BEING_IDENTIFIED,
          () => giveKnownBoard(this.known, this.link.presence(), body, account, this.fence),
          true,
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
        if (body.kind === "stop") await this.dropAside();
    }
    await this.save();
    this.wake();
    await this.tryShow(true);
  }

  private async dropAside(): Promise<void> {
    await this.aside?.letGo?.();
    this.aside = undefined;
  }

  private get simulated(): NonNullable<Socket["simulated"]> {
    if (this.socket.simulated) return this.socket.simulated;
    throw new ProblemError({
      code: "socket-real",
      message: `Bay ${this.no} is a real socket`,
      hint: "Plug boards in and pull them out with your own hands; or let go of its port first",
    });
  }

  /** Another socket in the place of this one: a port of the machine, or the simulated one. */
  private async useSocket(path: string | null): Promise<void> {
    // being asked who it is, it may be let go of: the asking ends with the line
    if (this.job || (this.doing !== undefined && this.doing !== BEING_IDENTIFIED))
      throw new ProblemError({
        code: "bay-busy",
        message: `The board in bay ${this.no} is worked on`,
        hint: "Finish its job or stop it first",
      });
    if (this.socket.simulated && this.socket.face())
      throw new ProblemError({
        code: "bay-full",
        message: `Bay ${this.no} holds a simulated board`,
        hint: "Take it out first",
      });
    const { id: benchId, fence, socketFor } = this.bench;
    const next = await socketFor(this.no, path);
    await keepPort(benchId, fence, this.no, path);
    await this.socket.letGo();
    await this.identifying;
    this.socket = next;
    this.known = undefined;
    this.starts = [];
  }

  private async backUp(account: string): Promise<void> {
    const { known } = this;
    const filed = await this.betweenJobs("being read out", () => backUpBoard(this.link, known, account, this.fence));
    if (known && this.known === known) this.known = { ...known, filed };
  }

  /** What a person does with a board that answers, while no job runs on it; `byLoader`: its loader is enough. */
  private async betweenJobs<T>(doing: string, work: () => Promise<T>, byLoader = false): Promise<T> {
    if (this.job)
      throw new ProblemError({
        code: "bay-busy",
        message: `A job runs in bay ${this.no}`,
        detail: this.job.row.headline,
        hint: "Open its card; or finish it or stop it first",
      });
    const { kind } = this.link.presence();
    if (!(kind === "console" || (byLoader && kind === "loader")) || this.doing !== undefined)
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
