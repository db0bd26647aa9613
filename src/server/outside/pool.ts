import { spawn, type ChildProcess } from "node:child_process";
import { readFileSync } from "node:fs";
import os from "node:os";
import { ProblemError, type Problem } from "@/core/problem";
import type { Answered, Asked, TaskInput, TaskName, TaskResult } from "@/server/outside/tasks";

/** What one reading may take. A genuine file takes a twentieth of it. */
export interface Limits {
  /** Of the process's own time: a machine that is busy with other things takes none of it. */
  readonly ms: number;
  /** Of memory that the process holds. */
  readonly bytes: number;
}
const LIMITS: Limits = { ms: 30_000, bytes: 700_000_000 };
/** As long as nobody needs one, a reader is ended again. */
const IDLE_MS = 5 * 60_000;
/** A process that neither works nor ends is ended after so many times its own time. */
const STILL = 20;
const LOOK_EVERY_MS = 100;
/** Of its own time, to be ready; a genuine start takes a twentieth of it. */
const START_MS = 30_000;
/** On two cores, two read beside the web and the bench. */
const MOST_READERS = 2;
/** What waits for its turn is held in memory meanwhile. */
const MOST_WAITING_BYTES = 300_000_000;
/** What each holds beside its bytes. */
const LEAST_WAITING_BYTES = 100_000;
/** Where the build has put the processes, from the project's folder in which all run; without it they run as they stand. */
const { PROCESSES = "" } = process.env;
const READER = PROCESSES
  ? [`${PROCESSES}/src/server/outside/reader.js`]
  : ["--import", "tsx", "src/server/outside/reader.ts"];
/** Of lower priority than whoever waits for a page. */
const NICE = 10;
const PAGE_BYTES = 4_096;

const busy = () =>
  new ProblemError({
    code: "readers-busy",
    message: "Too many files are being read at this moment",
    detail: `Files of ${MOST_WAITING_BYTES / 1e6} MB wait already`,
    hint: "Nothing was kept. Try again in a minute",
  });
const stopped = (what: string, task?: TaskName) =>
  new ProblemError({ ...((task && ENDED[task]) ?? FILE_ENDED), detail: what });

const FILE_ENDED: Problem = {
  code: "reading-stopped",
  message: "The file could not be read within the limits",
  hint: "Nothing of it was kept. A genuine file takes a moment; split it, or look whether it is what it should be",
};
/** What is told of work that is no reading of a file. */
const ENDED: Partial<Record<TaskName, Problem>> = {
  "play-twin": {
    code: "twin-stopped",
    message: "The twin did not play the plan to its end",
    hint: "Play it again; or take the plan without it, by your name",
  },
  "campaign-plans": {
    code: "plans-stopped",
    message: "The plans of this campaign were not worked out to their end",
    hint: "Look again; with fewer aircraft it takes less",
  },
  "fleet-impact": {
    code: "impact-stopped",
    message: "What this release would do to the fleet was not worked out to its end",
    hint: "Look again, or at one type at a time",
  },
};

/** Processor time of a process so far, in ms (proc(5), stat: utime and stime in ticks of 1/100 s); 0 when it is gone. */
function ownMs(pid: number): number {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, "utf8");
    // the name stands in brackets and may hold anything
    const fields = stat.slice(stat.lastIndexOf(")") + 2).split(" ");
    return (Number(fields[11]) + Number(fields[12])) * 10;
  } catch {
    return 0;
  }
}

/** Resident memory of a process (proc(5), statm); 0 when it is gone. */
function residentBytes(pid: number): number {
  try {
    return Number(readFileSync(`/proc/${pid}/statm`, "utf8").split(" ")[1]) * PAGE_BYTES;
  } catch {
    return 0;
  }
}

/** One reader process, as long as it lives. */
class Reader {
  private readonly child: ChildProcess;
  private readonly started: Promise<void>;
  private gone: string | undefined;
  private readonly onEnd = new Set<() => void>();

  constructor() {
    // run as it stands: it is no part of the web's bundle
    this.child = spawn(process.execPath, ["--max-old-space-size=512", ...READER], {
      env: { ...process.env },
      serialization: "advanced",
      stdio: ["ignore", "ignore", "inherit", "ipc"],
    });
    this.child.unref();
    this.child.channel?.unref();
    this.started = new Promise((resolve, reject) => {
      const stopWatching = this.watch({ ms: START_MS, bytes: LIMITS.bytes }, (why) => reject(stopped(why)));
      this.child.once("message", () => {
        stopWatching();
        resolve();
      });
      this.child.once("exit", () => reject(stopped("its reader could not start")));
    });
    this.started.catch(() => this.kill());
    this.child.once("exit", (code, signal) => {
      this.gone ??= `its reader ended (${signal ?? code})`;
      for (const tell of this.onEnd) tell();
    });
    this.child.once("error", () => this.kill());
  }

  get isGone(): boolean {
    return this.gone !== undefined;
  }

  kill(why?: string): void {
    this.gone ??= why ?? "its reader was ended";
    this.child.kill("SIGKILL");
  }

  /** Tells once when it takes more than it may, of its own time and memory; gives the way to stop. */
  private watch(limits: Limits, tell: (why: string) => void): () => void {
    const { pid = 0 } = this.child;
    // what the machine's clock is set to meanwhile is no matter
    const [began, before] = [performance.now(), ownMs(pid)];
    const why = () => {
      if (ownMs(pid) - before > limits.ms) return `it took more than ${limits.ms / 1000} s of work`;
      if (performance.now() - began > limits.ms * STILL) return "it neither worked nor came to an end";
      return residentBytes(pid) > limits.bytes ? `it took more than ${limits.bytes / 1e6} MB of memory` : undefined;
    };
    const looking = setInterval(() => {
      const found = this.isGone ? "its reader ended" : why();
      if (found === undefined) return;
      clearInterval(looking);
      if (!this.isGone) tell(found);
    }, LOOK_EVERY_MS);
    return () => clearInterval(looking);
  }

  async ask(asked: Asked, limits: Limits): Promise<unknown> {
    await this.started;
    const { pid } = this.child;
    if (pid === undefined || this.isGone) throw stopped(this.gone ?? "its reader is gone", asked.task);
    try {
      os.setPriority(pid, NICE);
    } catch {
      // no more than a courtesy
    }
    return new Promise((resolve, reject) => {
      const end = (work: () => void) => {
        stopWatching();
        this.child.off("message", hear);
        this.onEnd.delete(fail);
        work();
      };
      const fail = () => end(() => reject(stopped(this.gone ?? "its reader ended", asked.task)));
      const hear = (answered: Answered) => {
        if (answered.id === asked.id)
          end(() => (answered.ok ? resolve(answered.value) : reject(new ProblemError(answered.problem))));
      };
      const stopWatching = this.watch(limits, (why) => this.kill(why));
      this.child.on("message", hear);
      this.onEnd.add(fail);
      this.child.send(asked, (error) => {
        if (error) this.kill("it could not be handed over");
      });
    });
  }
}

interface Pool {
  readonly idle: Reader[];
  readonly waiting: (() => void)[];
  waitingBytes: number;
  running: number;
  next: number;
}
// However often this module is evaluated, there is one pool.
const holder = globalThis as typeof globalThis & { freshStartReaders?: Pool };
const pool = (): Pool => (holder.freshStartReaders ??= { idle: [], waiting: [], waitingBytes: 0, running: 0, next: 1 });

/** About how much memory a question holds: its files, and its texts. */
const bytesOf = (input: object): number =>
  Object.values(input).reduce<number>(
    (sum, each) => sum + (each instanceof Uint8Array ? each.length : typeof each === "string" ? 2 * each.length : 0),
    LEAST_WAITING_BYTES,
  );

async function place(bytes: number): Promise<void> {
  const state = pool();
  if (state.running < MOST_READERS) {
    state.running++;
    return;
  }
  if (state.waitingBytes + bytes > MOST_WAITING_BYTES) throw busy();
  state.waitingBytes += bytes;
  // whoever leaves hands the place over
  await new Promise<void>((resolve) => state.waiting.push(resolve));
  state.waitingBytes -= bytes;
}

function leave(reader: Reader): void {
  const state = pool();
  if (!reader.isGone) {
    state.idle.push(reader);
    setTimeout(() => {
      const at = state.idle.indexOf(reader);
      if (at < 0) return;
      state.idle.splice(at, 1);
      reader.kill();
    }, IDLE_MS).unref();
  }
  const next = state.waiting.shift();
  if (next) next();
  else state.running--;
}

/**
 * Reads what somebody brought in a process of its own, with limits on time and memory. Throws `reading-stopped` at them,
 * `readers-busy` when too many wait, or the problem that the reading itself ended with.
 */
export async function readOutside<K extends TaskName>(
  task: K,
  input: TaskInput<K>,
  limits: Limits = LIMITS,
): Promise<TaskResult<K>> {
  await place(bytesOf(input));
  const state = pool();
  const reader = state.idle.pop() ?? new Reader();
  try {
    return (await reader.ask({ id: state.next++, task, input }, limits)) as TaskResult<K>;
  } finally {
    leave(reader);
  }
}

/** Ends all readers that wait for work. */
export function closeReaders(): void {
  for (const reader of pool().idle.splice(0)) reader.kill();
}
