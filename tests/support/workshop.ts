import { createHash } from "node:crypto";
import { playOnTwin, type TwinInput } from "@/core/job/twin";
import { demoCatalogue } from "../../demo/documents";
import type { BoardLink } from "@/bench/link";
import { runJob, type RunEnd } from "@/bench/runner";
import type { JobOrder, JobStore } from "@/bench/store";
import { openItems, type Plan } from "@/core/carryover";
import {
  findTarget,
  layoutOf,
  layoutsOf,
  processorOf,
  releaseById,
  type Catalogue,
  type PartRelease,
  LOADER_PART,
} from "@/core/catalog";
import { ask, keepSettings } from "@/core/console";
import {
  defaultConfiguration,
  idiomOf,
  recogniseText,
  reciteLines,
  type Extent,
  type Idiom,
  type Recital,
} from "@/core/idiom";
import { applicationSpace, loaderSpace, readImageFile } from "@/core/image";
import {
  checkEntry,
  checkPlace,
  currentStep,
  foldJob,
  planJob,
  planFrom,
  sourcesOf,
  type PlanOrder,
  specOf,
  wishFor,
  type Goal,
  type Entered,
  type JobState,
  type Progress,
  type AnyResult,
  planOfJobParts,
} from "@/core/job";
import { ProblemError, valueOf } from "@/core/problem";
import {
  buildImage,
  buildLoaderImage,
  calibrate,
  linkTo,
  resumeBoard,
  SimBoard,
  snapshotOf,
  virtualClock,
} from "@/core/sim";

export const CHIP = "4A17-0C22-91FE";

export const catalogue = (): Catalogue => demoCatalogue();
export const release = (id: string) => valueOf(releaseById(catalogue(), id));

export function statementIdiom(): Idiom {
  const document = catalogue().idioms.get("statement");
  if (!document) throw new Error("the statement idiom is missing");
  return idiomOf(document);
}

/** What a board of the model that most tests use reads out when nothing was set on it. */
export const slateReadout = (extent: Extent = "all", more: { chipId?: string; board?: string } = {}): Uint8Array => {
  const identity = { family: "Heddle", release: "22", target: "CSLATE-B", chipId: CHIP, ...more };
  const of = release("heddle-22");
  const lines = reciteLines(defaultConfiguration(of, identity.target, identity), of, statementIdiom(), extent);
  return new TextEncoder().encode(lines.join("\n"));
};

const images = new Map<string, Uint8Array>();

export function imageFile(releaseId: string, target: string): Uint8Array {
  const name = `${releaseId} ${target}`;
  const image = images.get(name) ?? makeImage(releaseId, target);
  images.set(name, image);
  return image;
}

function partImage(of: PartRelease, target: string) {
  const built = of.targets.find(({ id }) => id === target);
  const processor = processorOf(catalogue(), built?.processor ?? "");
  if (built && of.part !== LOADER_PART)
    return valueOf(readImageFile(buildImage(of, built, processor, layoutOf(catalogue(), of)), processor));
  return valueOf(
    readImageFile(buildLoaderImage(of, processor), processor, {
      space: loaderSpace(processor) ?? applicationSpace(processor),
    }),
  );
}

function makeImage(releaseId: string, target: string): Uint8Array {
  const of = release(releaseId);
  const found = findTarget(of, target);
  if (!found) throw new Error(`${releaseId} has no target ${target}`);
  return buildImage(of, found, processorOf(catalogue(), found.processor), layoutOf(catalogue(), of));
}

/** A board as it comes to the bench: some values set by hand, stored, unplugged. */
export async function makeBoard(
  lines: readonly string[] = [],
  modelId = "corsley-slate",
  releaseId = "heddle-22",
): Promise<{ board: SimBoard; link: BoardLink }> {
  const model = catalogue().models.get(modelId);
  if (!model) throw new Error(`there is no model ${modelId}`);
  const board = new SimBoard({ model, chipId: CHIP, firstPort: 1 }, catalogue());
  board.manufacture(imageFile(releaseId, model.target));
  const link = linkTo(board, virtualClock());
  board.plug(link.clock.nowUs());
  await link.clock.waitUntil(2_000_000);
  const document = catalogue().idioms.get(release(releaseId).idiom);
  if (!document) throw new Error(`${releaseId} speaks an idiom that is missing`);
  const idiom = idiomOf(document);
  const quiet = idiom.words.quiet === undefined ? [] : [idiom.words.quiet];
  for (const line of [...quiet, ...lines]) valueOf(await ask(link.console, line, idiom, 2000));
  valueOf(await keepSettings(link.console, idiom));
  board.unplug(link.clock.nowUs());
  return { board, link };
}

const twins = new Map<string, ReturnType<typeof playOnTwin>>();
/** A job's record and papers in memory: what `append` took stays, whatever dies. */
export class MemoryStore implements JobStore {
  readonly journal: Entered[] = [];
  readonly papers = new Map<string, unknown>();
  readonly backups: Recital[] = [];
  rescues: Uint8Array[] = [];
  modelId = "corsley-slate";

  entries(): Promise<Entered[]> {
    return Promise.resolve([...this.journal]);
  }
  // whatever is refused comes as a rejection, as from the database
  async append(entry: Entered["entry"], account?: string, seen?: number): Promise<Entered> {
    await Promise.resolve();
    const ended = this.journal.some(({ entry: { kind } }) => kind === "finished" || kind === "stopped");
    checkPlace({ open: !ended, entries: this.journal.length }, seen);
    const entered = {
      no: this.journal.length + 1,
      at: this.journal.length,
      account: account ?? null,
      entry: checkEntry(entry),
    };
    this.journal.push(entered);
    return entered;
  }
  putJson(value: unknown): Promise<string> {
    const text = JSON.stringify(value);
    // named by what it says, as the database does
    const name = createHash("sha256").update(text).digest("hex");
    this.papers.set(name, JSON.parse(text));
    return Promise.resolve(name);
  }
  getJson(name: string): Promise<unknown> {
    return Promise.resolve(this.papers.get(name));
  }
  fileBackup(raw: Uint8Array): Promise<{ id: number; recital: Recital }> {
    const { recital } = valueOf(recogniseText(new TextDecoder().decode(raw), catalogue()));
    this.backups.push(recital);
    return Promise.resolve({ id: this.backups.length, recital });
  }
  recitalOf(id: number): Promise<Recital> {
    const found = this.backups[id - 1];
    return found ? Promise.resolve(found) : Promise.reject(new Error(`no backup ${id}`));
  }
  async plan(order: PlanOrder): Promise<Plan | undefined> {
    const sources = await sourcesOf(order, (id) => this.recitalOf(id));
    return sources && planFrom(order, sources, catalogue());
  }
  fileRescue(raw: Uint8Array): Promise<{ sha256: string }> {
    this.rescues.push(raw);
    return Promise.resolve({ sha256: `rescue ${this.rescues.length}` });
  }
  rescued(sha256: string): Promise<Uint8Array> {
    const found = this.rescues[Number(sha256.replace("rescue ", "")) - 1];
    return found ? Promise.resolve(found) : Promise.reject(new Error(`nothing was rescued as ${sha256}`));
  }
  fileRescued(raw: Uint8Array) {
    return this.fileBackup(raw);
  }
  catalogue(): Promise<Catalogue> {
    return Promise.resolve(catalogue());
  }
  /** Images that came in after a job had looked at its own, by release and target. */
  readonly newerImages = new Map<string, Uint8Array>();
  image(releaseId: string, target: string, sha256?: string) {
    const part = catalogue().parts.get(releaseId);
    if (part) return Promise.resolve({ image: partImage(part, target), sha256: `${releaseId} ${target}` });
    const found = release(releaseId).targets.find((t) => t.id === target);
    if (!found) return Promise.reject(new ProblemError({ code: "image-none", message: "no image" }));
    const newer = this.newerImages.get(`${releaseId} ${target}`);
    const old = imageFile(releaseId, target);
    const file = sha256 === "as it was" ? old : (newer ?? old);
    const image = valueOf(
      readImageFile(file, processorOf(catalogue(), found.processor), { layouts: layoutsOf(catalogue()) }),
    );
    return Promise.resolve({ image, sha256: file === old ? "as it was" : "newer" });
  }
  playTwin(input: TwinInput) {
    // the same lines end the same, so a job that is begun again a hundred times is played once
    const name = createHash("sha256").update(JSON.stringify(input)).digest("hex");
    const known = twins.get(name) ?? playOnTwin(input, catalogue());
    twins.set(name, known);
    return known;
  }
  /** What a test says has changed since the job was ordered. */
  readonly changes: string[] = [];
  changedSince() {
    return Promise.resolve([...this.changes]);
  }
  knownModel() {
    return Promise.resolve({ modelId: this.modelId, target: catalogue().models.get(this.modelId)?.target ?? "" });
  }
  /** Chip ids that boards said when they first spoke. */
  readonly chipIds: string[] = [];
  boardRuns(_release: string, _target: string, chipId: string): Promise<void> {
    this.chipIds.push(chipId);
    return Promise.resolve();
  }
  /** A copy with the same record, as the database would still have it. */
  fork(): MemoryStore {
    const copy = new MemoryStore();
    copy.journal.push(...this.journal);
    for (const [name, paper] of this.papers) copy.papers.set(name, paper);
    copy.backups.push(...this.backups);
    copy.rescues = [...this.rescues];
    copy.modelId = this.modelId;
    return copy;
  }
}

type Together<U> = (U extends unknown ? (each: U) => void : never) extends (all: infer I) => void ? I : never;

/** What the steps of a job have found out, all together: tests ask for each by its name. */
export const foundIn = (state: Pick<JobState, "steps"> | undefined): Partial<Together<AnyResult>> =>
  Object.assign({}, ...(state?.steps ?? []).map(({ result }) => result)) as Partial<Together<AnyResult>>;

export function stepsTo(goal: Goal, shows: "console" | "loader"): JobOrder["steps"] {
  const processor = catalogue().models.get("corsley-slate")?.processor;
  const wish = wishFor({ tag: "QW-01", goal }, release(goal.runs.main), processor, catalogue());
  const planned = planJob(goal, wish, { "main: shows": shows });
  if (planned.kind === "none") throw new Error(`no way: ${planned.missing.join()}`);
  return planned.moves.map(specOf);
}

export const updateJob = (releaseId = "heddle-23"): JobOrder => ({
  id: 1,
  tag: "QW-01",
  aircraftId: 1,
  chipId: CHIP,
  goal: { kind: "update", runs: { main: releaseId } },
  steps: stepsTo({ kind: "update", runs: { main: releaseId } }, "console"),
});

/** The same board set up anew from a backup, on the release that it runs. */
export const setUpJob = (sourceId: number, releaseId: string): JobOrder => ({
  ...updateJob(releaseId),
  goal: { kind: "set-up", runs: { main: releaseId }, backupId: sourceId },
  steps: stepsTo({ kind: "set-up", runs: { main: releaseId }, backupId: sourceId }, "console"),
});

/** The same board taken back to a baseline, on the release that it runs. */
export const baselineJob = (wish: Omit<Extract<Goal, { kind: "baseline" }>, "kind">): JobOrder => ({
  ...updateJob(wish.runs.main),
  goal: { kind: "baseline", ...wish },
  steps: stepsTo({ kind: "baseline", ...wish }, "console"),
});

/** The same board, which shows only its loader, brought back with a backup. */
export const reviveJob = (sourceId: number, releaseId: string): JobOrder => ({
  ...updateJob(releaseId),
  goal: { kind: "revive", runs: { main: releaseId }, backupId: sourceId },
  steps: stepsTo({ kind: "revive", runs: { main: releaseId }, backupId: sourceId }, "loader"),
});

/** A board that says nothing, and of which nothing is on file. */
export const rescueJob = (releaseId: string): JobOrder => ({
  ...updateJob(releaseId),
  goal: { kind: "revive", runs: { main: releaseId } },
  steps: stepsTo({ kind: "revive", runs: { main: releaseId } }, "loader"),
});

/** A blank board that becomes an aircraft of its type. */
export const commissionJob = (releaseId: string, backupId?: number): JobOrder => {
  const goal = {
    kind: "commission",
    runs: { main: releaseId },
    ...(backupId === undefined ? {} : { backupId }),
  } as const;
  return { ...updateJob(releaseId), goal, steps: stepsTo(goal, "loader") };
};

/** A technician who does what the card asks, and nothing else. */
export async function obey(
  state: JobState,
  board: SimBoard,
  link: BoardLink,
  store: MemoryStore,
  job: JobOrder = updateJob(),
  prefer: Readonly<Record<string, string>> = {},
): Promise<void> {
  const step = currentStep(state);
  const need = step?.need;
  switch (need?.kind) {
    case "decisions": {
      const plan = await planOfJobParts(job.goal, state, (order) => store.plan(order));
      if (!plan) throw new Error("there is no plan to decide on");
      await store.append(
        {
          kind: "decided",
          choices: Object.fromEntries(
            openItems(plan, {}).map((item) => [item.id, prefer[item.id] ?? item.choices[0]?.id ?? ""]),
          ),
        },
        "technician",
      );
      return;
    }
    case "take":
      await store.append({ kind: "taken" }, need.asks.length > 0 ? "lead" : "technician");
      return;
    case "confirm":
      if (step?.id === "calibrate") calibrate(board);
      await store.append({ kind: "confirmed", step: step?.id ?? "make-safe" }, "technician");
      return;
    case "sign":
      await store.append({ kind: "signed", statement: need.say }, "technician");
      return;
    case "board":
      return doAsOne(need.asks, board, link);
    case undefined:
      if (step?.status === "failed") throw new Error(`the job failed at ${step.id}: ${JSON.stringify(step.problem)}`);
      return;
    case "check":
      throw new Error(`a check failed: ${need.say}`);
    case "against":
      throw new Error(`the board contradicts what it is taken for: ${JSON.stringify(need.readings)}`);
    case "sense":
    case "again":
      throw new Error(`nobody is there to answer ${need.kind}`);
  }
}

/** What the card asks hands to do with board and cable. */
async function doAsOne(asks: readonly string[], board: SimBoard, link: BoardLink): Promise<void> {
  const says = (words: string) => asks.some((text) => text.includes(words));
  const pass = (us: number) => link.clock.waitUntil(link.clock.nowUs() + us);
  board.unplug(link.clock.nowUs());
  if (says("adapter off")) board.adapter = false;
  await pass(11_000_000);
  board.plug(link.clock.nowUs(), { button: says("Hold its boot button") });
  await pass(2_000_000);
  if (link.presence().kind !== "none" || !says("boot pads")) return;
  board.unplug(link.clock.nowUs());
  board.adapter = true;
  board.plug(link.clock.nowUs(), { pads: true });
  await pass(2_000_000);
}

export interface RunControls {
  /** Ends the run when the state fits, as a kill of the process would. */
  readonly killWhen?: (state: JobState) => boolean;
  readonly onProgress?: (progress: Progress | undefined) => void;
  readonly waitLimit?: number;
  /** Choices that the technician takes; of all else the first. */
  readonly prefer?: Readonly<Record<string, string>>;
  /** What hands do when a check asks; without it the airframe is moved about until each ask holds. */
  readonly hands?: (ask: NonNullable<Progress["ask"]>, board: SimBoard) => void;
  readonly onAttempt?: (stop: AbortController) => void;
  /** What happens at the bench when a step waits; true: instead of what the card asks. */
  readonly onNeed?: () => boolean;
  /** What is to be done; without it the everyday update. */
  readonly job?: JobOrder;
}

/** Runs the job on a board with an obedient technician until it ends, or is killed. Checks tilt and move by themselves. */
export async function runUpdate(
  board: SimBoard,
  link: BoardLink,
  store: MemoryStore,
  controls: RunControls = {},
): Promise<RunEnd> {
  const stop = new AbortController();
  let waits = 0;
  let polls = 0;
  const job = controls.job ?? updateJob();
  return runJob({
    job,
    store,
    link,
    signal: stop.signal,
    ...(controls.onAttempt ? { onAttempt: controls.onAttempt } : {}),
    onWait: async (state) => {
      if (controls.killWhen?.(state)) return stop.abort();
      if (++waits > (controls.waitLimit ?? 60))
        throw new Error(`the job waits without end at ${currentStep(state)?.id ?? ""}`);
      if (controls.onNeed?.()) return;
      await obey(foldJob(job.steps, store.journal), board, link, store, job, controls.prefer);
    },
    progress: (progress, state) => {
      controls.onProgress?.(progress);
      if (controls.killWhen?.(state)) stop.abort();
      if (progress?.ask && controls.hands) controls.hands(progress.ask, board);
      else if (progress?.ask) swing(board, polls++);
    },
  });
}

/** The airframe and the sticks, moved about as the checks ask for it. */
export function swing(board: SimBoard, poll: number): void {
  const { senses } = board;
  const pose = Math.floor(poll / 2) % 4;
  Object.assign(senses, { pitch: pose === 0 ? 30 : 0, roll: pose === 1 ? 30 : 0 });
  if (pose === 2) senses.heading = (senses.heading + 20) % 360;
  senses.sticks = senses.sticks.map(() => (poll % 2 === 0 ? 1000 : 2000));
}

/** The same board once more: its flash, its hands and what it runs, on a clock of its own. */
export function cloneBoard(board: SimBoard, nowUs: number): { board: SimBoard; link: BoardLink } {
  const copy = new SimBoard(board.spec, catalogue());
  copy.flash.bytes.set(board.flash.bytes);
  const clock = virtualClock(nowUs);
  resumeBoard(copy, snapshotOf(board), nowUs);
  return { board: copy, link: linkTo(copy, clock) };
}

/** A job run until the state fits, then let go: a place to begin many trials from. */
export async function runUntil(
  killWhen: (state: JobState) => boolean,
  lines: readonly string[] = [],
  job: JobOrder = updateJob(),
) {
  const { board, link } = await makeBoard(lines);
  const store = new MemoryStore();
  board.plug(link.clock.nowUs());
  await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
  const end = await runUpdate(board, link, store, { killWhen, job });
  if (end !== "let-go") throw new Error(`the job ended: ${end}`);
  return { board, link, store };
}

export const standsAt = (step: string) => (state: JobState) => currentStep(state)?.id === step;
