import { openItems } from "@/core/carryover";
import type { Catalogue } from "@/core/catalog";
import { currentStep, foldJob, type BayLive, type JobState, type Progress } from "@/core/job";
import { ProblemError, problemOf } from "@/core/problem";
import type { BoardLink, Presence } from "@/bench/link";
import { backUpBoard, giveKnownBoard } from "@/bench/between-jobs";
import { orderOf, pgStore } from "@/bench/pg-store";
import { runJob } from "@/bench/runner";
import { seatBoard, setFault, storeSeat, type SimSeat } from "@/bench/sim-bay";
import { declareBoard } from "@/bench/steps/context";
import { computePlan } from "@/bench/steps/plan";
import { BEING_IDENTIFIED, tileOf, type Known } from "@/bench/tile";
import type { JobStore } from "@/bench/store";
import { writeLive } from "@/server/repositories/bench";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { boardsByChip } from "@/server/repositories/boards";
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
}

/** One socket of the bench: the board in it, what is known of it, and the job that runs on it. */
export class Bay {
  readonly no: number;
  private seat: SimSeat | undefined;
  private known: Known | undefined;
  /** What is done with the board outside of a job; one thing at a time. */
  private doing: string | undefined;
  private presence: Presence["kind"] = "none";
  private job: RunningJob | undefined;
  private progress: Progress | undefined;
  private waker: (() => void) | undefined;
  private saving: Promise<void> = Promise.resolve();
  /** Something happened while nobody waited. */
  private woken = false;
  private lastLive = "";
  private lastLiveMs = 0;
  private readonly stop = new AbortController();
  private readonly bench: {
    readonly id: number;
    readonly fence: string;
    factor: number;
    readonly onFatal: (error: unknown) => void;
  };

  constructor(no: number, bench: Bay["bench"]) {
    this.no = no;
    this.bench = bench;
  }

  /** Puts a stored board in, as it was. */
  async seatStored(boardId: number): Promise<void> {
    this.seat = await seatBoard(boardId, await loadCatalogue(), this.bench.factor);
  }

  /** Looks at the cable again and again; a change is shown, identified and told to a waiting job. */
  async watch(): Promise<void> {
    while (!this.stop.signal.aborted) {
      const now = this.link.presence();
      if (now.kind !== this.presence) {
        this.presence = now.kind;
        if (now.kind === "none") this.known = undefined;
        await this.save();
        this.wake();
      }
      if (!this.job && this.doing === undefined && now.kind !== "none" && this.known?.port !== now.port)
        void this.identify(now);
      await this.show();
      await new Promise((resolve) => setTimeout(resolve, WATCH_EVERY_MS));
    }
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

  /** Stores the board as it stands. One after the other: an older state must never come to lie over a newer one. */
  save(): Promise<void> {
    const next = this.saving
      .catch(() => undefined)
      .then(() => (this.seat ? storeSeat(this.seat, this.bench.id, this.bench.fence, this.no) : undefined));
    this.saving = next;
    return next;
  }

  /** The link to whatever is in the socket: it stays valid while boards come and go. */
  private get link(): BoardLink {
    const seat = () => {
      if (!this.seat)
        throw new ProblemError({ code: "link-lost", message: "There is no board in the bay", hint: "Put it back" });
      return this.seat.link;
    };
    return {
      presence: () => this.seat?.link.presence() ?? { kind: "none" },
      clock: { nowUs: () => this.seat?.clock.nowUs() ?? 0, waitUntil: (us) => seat().clock.waitUntil(us) },
      console: {
        send: (bytes) => seat().console.send(bytes),
        receive: (us) => seat().console.receive(us),
        nowUs: () => seat().clock.nowUs(),
      },
      usb: {
        control: (r) => seat().usb.control(r),
        wait: (ms) => seat().usb.wait(ms),
        nowUs: () => seat().clock.nowUs(),
        reset: () => seat().usb.reset(),
      },
    };
  }

  private async identify(presence: Exclude<Presence, { kind: "none" }>): Promise<void> {
    this.doing = BEING_IDENTIFIED;
    try {
      const catalogue = await loadCatalogue();
      this.known =
        presence.kind === "console"
          ? await this.identifyConsole(presence.port, catalogue)
          : { port: presence.port, loaderId: presence.serial };
    } catch (error) {
      this.known = { port: presence.port, problem: problemOf(error) };
    } finally {
      this.doing = undefined;
    }
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

  private async show(force = false): Promise<void> {
    const live: BayLive = tileOf({
      seat: this.seat,
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
    const store = pgStore({ job: row, fence: this.bench.fence, beforeAppend: () => this.save() });
    const job = orderOf(row);
    const running: { -readonly [K in keyof RunningJob]: RunningJob[K] } = {
      row,
      store,
      state: foldJob(row.steps, await store.entries()),
      attempt: undefined,
      run: Promise.resolve(),
    };
    this.job = running;
    running.run = runJob({
      job,
      store,
      link: this.link,
      signal: this.stop.signal,
      onAttempt: (attempt) => (running.attempt = attempt),
      onWait: async (state) => {
        running.state = state;
        await this.show(true);
        await this.wait();
      },
      progress: async (progress, state) => {
        running.state = state;
        this.progress = progress;
        if (performance.now() - this.lastLiveMs >= LIVE_EVERY_MS) await this.save();
        await this.show();
      },
    })
      .then((end) => {
        if (end === "let-go") return;
        this.job = undefined;
        this.progress = undefined;
        this.known = undefined;
      })
      .catch((error: unknown) => this.bench.onFatal(error));
  }

  /** Carries out what the interface asked for. What cannot be done is thrown as a problem. */
  async obey(body: OrderBody, account: string, jobRow: JobRow | undefined): Promise<void> {
    switch (body.kind) {
      case "bring":
        if (this.seat)
          throw new ProblemError({
            code: "bay-full",
            message: `Bay ${this.no} holds a board already`,
            detail: this.seat.row.label,
            hint: "Take it out first",
          });
        await this.seatStored(body.boardId);
        break;
      case "take-out":
        await this.takeOut();
        break;
      case "plug":
      case "unplug":
      case "battery":
      case "lean":
      case "stick":
      case "fault":
        this.handle(body);
        break;
      case "back-up":
        await this.backUp(account);
        break;
      case "give":
        await this.betweenJobs(BEING_IDENTIFIED, () => giveKnownBoard(this.known, body, account));
        // it is looked at anew, and found to be theirs
        this.known = undefined;
        break;
      case "begin":
        if (!jobRow) throw new ProblemError({ code: "job-none", message: "There is no such job" });
        if (!this.job) await this.beginJob(jobRow, account);
        break;
      default:
        await this.instruct(body, account, jobRow);
    }
    await this.save();
    this.wake();
    await this.show(true);
  }

  private async takeOut(): Promise<void> {
    const { seat } = this;
    if (!seat) return;
    seat.board.unplug(seat.clock.nowUs());
    seat.board.setBattery(seat.clock.nowUs(), false);
    this.seat = undefined;
    this.known = undefined;
    this.saving = this.saving.catch(() => undefined).then(() => storeSeat(seat, this.bench.id, this.bench.fence, null));
    await this.saving;
  }

  /** Simulated hands on the board. */
  private handle(body: Extract<OrderBody, { kind: "plug" | "unplug" | "battery" | "lean" | "stick" | "fault" }>): void {
    const { seat } = this;
    if (!seat)
      throw new ProblemError({ code: "bay-empty", message: `Bay ${this.no} is empty`, hint: "Put a board in first" });
    const { board, clock } = seat;
    if (body.kind === "plug") board.plug(clock.nowUs(), { button: body.button, pads: body.pads });
    else if (body.kind === "unplug") board.unplug(clock.nowUs());
    else if (body.kind === "battery") board.setBattery(clock.nowUs(), body.fitted);
    else if (body.kind === "lean")
      Object.assign(board.senses, { roll: body.roll, pitch: body.pitch, heading: body.heading });
    else if (body.kind === "stick")
      board.senses.sticks = board.senses.sticks.map((old, i) => (i === body.index ? body.pulse : old));
    else board.faults = setFault(board.faults, body.name, body.value);
  }

  private async backUp(account: string): Promise<void> {
    const { known } = this;
    const filed = await this.betweenJobs("being read out", () => backUpBoard(this.link, known, account));
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
    this.bench.factor = factor;
    this.seat?.clock.setFactor(factor);
  }

  private async beginJob(row: JobRow, account: string): Promise<void> {
    const store = pgStore({ job: row, fence: this.bench.fence, beforeAppend: () => this.save() });
    if ((await store.entries()).length === 0) await store.append({ kind: "ordered", headline: row.headline }, account);
    await this.takeJob(row);
  }

  /** A person's word to a job: recorded with the name, then the job goes on. */
  private async instruct(body: OrderBody, account: string, row: JobRow | undefined): Promise<void> {
    if (body.kind === "stop" && row?.state === "open" && !this.job) {
      await pgStore({ job: row, fence: this.bench.fence, beforeAppend: () => this.save() }).append(
        { kind: "stopped", reason: body.reason || "no reason given" },
        account,
      );
      return;
    }
    const { job } = this;
    if (!job || job.row.id !== row?.id)
      throw new ProblemError({
        code: "job-not-running",
        message: "This job is not running",
        hint: "Look at the card: it may be finished or stopped",
      });
    const state = foldJob(job.row.steps, await job.store.entries());
    const step = currentStep(state);
    const late = (what: string) =>
      new ProblemError({
        code: "too-late",
        message: `${what} is not asked for now`,
        detail: `The job stands at: ${step?.id ?? "its end"}`,
        hint: "Look at the card again",
      });
    switch (body.kind) {
      case "decide": {
        if (step?.id !== "plan") throw late("A decision");
        const plan = await computePlan({
          store: job.store,
          state,
          catalogue: await job.store.catalogue(),
          job: orderOf(row),
        });
        for (const [id, choice] of Object.entries(body.choices))
          if (!plan.items.find((item) => item.id === id)?.choices.some((c) => c.id === choice))
            throw new ProblemError({
              code: "choice-unknown",
              message: "The plan offers no such choice",
              detail: `${id}: ${choice}`,
            });
        if (openItems(plan, state.decisions).length === 0 && Object.keys(body.choices).length === 0) break;
        await job.store.append({ kind: "decided", choices: body.choices }, account);
        break;
      }
      case "confirm":
        if (step?.id !== body.step || step.need?.kind !== "confirm") throw late("A confirmation");
        await job.store.append({ kind: "confirmed", step: step.id }, account);
        break;
      case "again":
        if (step?.id !== body.step || step.status === "running") throw late("Another try");
        await job.store.append({ kind: "again", step: step.id }, account);
        break;
      case "sign":
        if (step?.need?.kind !== "sign") throw late("A sign-off");
        await job.store.append({ kind: "signed", statement: step.need.say }, account);
        break;
      case "stop":
        if (step?.status === "running" && (step.id === "flash" || step.id === "restore"))
          throw new ProblemError({
            code: "stop-writing",
            message: "The board is being written to",
            hint: "Wait until this step is done; then stop",
          });
        await job.store.append({ kind: "stopped", reason: body.reason || "no reason given" }, account);
        job.attempt?.abort();
        break;
      default:
        throw new ProblemError({ code: "order-unknown", message: "The bench does not know this order" });
    }
  }
}
