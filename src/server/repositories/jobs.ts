import { UniqueConstraintError } from "sequelize";
import { EVERYTHING, routeBetween, type Parts, type Scope } from "@/core/carryover";
import { findRelease, findTarget, releaseById, releaseTitle, type Catalogue, type Release } from "@/core/catalog";
import { newestBuildOf } from "@/core/identify";
import {
  EMPTY_BAY,
  planJob,
  specOf,
  wishFor,
  type BayLive,
  type Facts,
  type Goal,
  type Instead,
  type StepSpec,
} from "@/core/job";
import { ProblemError, valueOf } from "@/core/problem";
import { getDb } from "@/server/db";
import { readBays, readBench } from "@/server/repositories/bench";
import { settleBase } from "@/server/repositories/baselines";
import { lastComplete, sourceOfType } from "@/server/repositories/backups";
import { loadCatalogue, loadImage, pinDocuments, type PinnedDocument } from "@/server/repositories/catalogue";
import { aircraftById, type RegisterRow } from "@/server/repositories/fleet";
import { relationOf, type Relation } from "@/server/repositories/release-choices";
import { one, rows } from "@/server/sql";

export interface JobRow {
  readonly id: number;
  readonly bench_id: number;
  readonly bay_no: number;
  readonly aircraft_id: number;
  readonly tag: string;
  readonly chip_id: string;
  readonly goal: Goal;
  readonly steps: readonly StepSpec[];
  /** Versions of the documents that it rests on; null for jobs from before they were noted. */
  readonly documents: readonly PinnedDocument[] | null;
  readonly state: "open" | "finished" | "stopped";
  readonly headline: string;
  readonly ordered_by: string;
  readonly ordered_at: Date;
  readonly ended_at: Date | null;
}

const SELECT = "select j.*, a.tag from jobs j join aircraft a on a.id = j.aircraft_id";

export const jobById = (id: number): Promise<JobRow | undefined> => one(`${SELECT} where j.id = $1`, [id]);
/** So many jobs are listed; older ones are found by aircraft. */
export const LISTED_JOBS = 500;
export const listJobs = (): Promise<JobRow[]> =>
  rows(`${SELECT} order by (j.state = 'open') desc, j.id desc limit $1`, [LISTED_JOBS]);
export const jobsOfAircraft = (aircraftId: number): Promise<JobRow[]> =>
  rows(`${SELECT} where j.aircraft_id = $1 order by j.id desc limit 100`, [aircraftId]);
export const openJobsOf = (benchId: number): Promise<JobRow[]> =>
  rows(`${SELECT} where j.bench_id = $1 and j.state = 'open' order by j.id`, [benchId]);

async function whoHas(bayNo: number, aircraftId: number): Promise<ProblemError> {
  const other = await one<JobRow>(`${SELECT} where j.state = 'open' and (j.bay_no = $1 or j.aircraft_id = $2)`, [
    bayNo,
    aircraftId,
  ]);
  const since = other?.ordered_at.toISOString().slice(0, 16).replace("T", " ") ?? "";
  return new ProblemError({
    code: "bay-taken",
    message: `There is a job already: ${other?.headline ?? "just ordered"}`,
    detail: `For ${other?.tag ?? "an aircraft"} in bay ${other?.bay_no ?? bayNo}, ordered by ${other?.ordered_by ?? "somebody"} on ${since} UTC`,
    hint: "Finish it or stop it first",
  });
}

export interface JobWish {
  readonly bayNo: number;
  readonly aircraftId: number;
  readonly account: string;
  /** The part of the settings that comes along; a baseline says it by its parts. */
  readonly scope?: Scope;
  readonly goal:
    | { readonly kind: "update"; readonly releaseId: string; readonly instead?: Instead; readonly asModel?: true }
    | { readonly kind: "set-up"; readonly backupId: number }
    | { readonly kind: "baseline"; readonly base: string; readonly parts: Parts }
    | { readonly kind: "commission"; readonly releaseId: string; readonly instead?: Instead }
    | { readonly kind: "revive"; readonly releaseId: string; readonly instead?: Instead };
}

interface Settled {
  readonly goal: Goal;
  readonly release: Release;
  readonly headline: string;
}

/** The release that a board in a bay says it runs. */
function releaseInBay(catalogue: Catalogue, bay: BayLive): Release {
  return valueOf(findRelease(catalogue, bay.family, bay.release));
}

const HEADLINES: Readonly<Record<Relation, string>> = {
  next: "Update to",
  later: "Update to",
  fork: "Change to",
  older: "Back to",
  "other-family": "Change to",
  same: "Write anew",
};

/** A release that is built for a target, with an image of it in the workshop. */
async function writable(releaseId: string, target: string, catalogue: Catalogue): Promise<Release> {
  const release = valueOf(releaseById(catalogue, releaseId));
  const found = findTarget(release, target);
  if (!found)
    throw new ProblemError({
      code: "target-missing",
      message: `${releaseTitle(release)} is not built for ${target === "" ? "this board" : target}`,
      hint: "Choose a release that builds this target",
    });
  await loadImage(catalogue, release.id, found.id);
  return release;
}

const asTarget = (instead: Instead | undefined) => (instead ? ` as ${instead.target}` : "");

const LEAST_REASON = 10;

/** Another target than the board's own is written only with a reason, and never one of another processor. */
function checkInstead({ target, reason }: Instead, own: string, release: Release, catalogue: Catalogue): void {
  if (reason.trim().length < LEAST_REASON)
    throw new ProblemError({
      code: "reason-missing",
      message: `Say why this board shall run the firmware of ${target}`,
      detail: `Its own target is ${own}; what differs would not work as wired`,
      hint: `A sentence of at least ${LEAST_REASON} letters; it stands in the job's record`,
    });
  const processor = newestBuildOf(catalogue, own)?.target.processor;
  const wanted = findTarget(release, target)?.processor;
  if (processor !== wanted)
    throw new ProblemError({
      code: "image-processor",
      message: `The firmware of ${target} is for another processor`,
      detail: `${own} has a ${processor ?? "processor that is not known"}, ${target} a ${wanted ?? "processor that is not known"}`,
      hint: "Nothing overrules this: it could not start",
    });
}

async function settleUpdate(
  { releaseId, instead, asModel }: Extract<JobWish["goal"], { kind: "update" }>,
  aircraft: RegisterRow,
  catalogue: Catalogue,
  bay: BayLive,
): Promise<Settled> {
  if (asModel && bay.ownTarget === undefined)
    throw new ProblemError({
      code: "target-agrees",
      message: "The firmware on this board is of the target that its model takes",
      hint: "Look at the bay again: the board or the register may have changed",
    });
  const own = (asModel ? bay.ownTarget : bay.target) ?? aircraft.target ?? "";
  const release = await writable(releaseId, instead?.target ?? own, catalogue);
  if (instead) checkInstead(instead, own, release, catalogue);
  const here = findRelease(catalogue, bay.family, bay.release);
  const verb = here.ok
    ? HEADLINES[relationOf(here.value, release, valueOf(routeBetween(catalogue, here.value, release)))]
    : HEADLINES.next;
  return {
    goal: { kind: "update", releaseId, ...(instead ? { instead } : {}), ...(asModel ? { asModel } : {}) },
    release,
    headline: asModel
      ? `Right the target: ${releaseTitle(release)} for ${own}`
      : `${verb} ${releaseTitle(release)}${asTarget(instead)}`,
  };
}

/** A backup that the aircraft can be set up from again: its own, and one that says what was on the board. */
async function settleSetUp(
  backupId: number,
  aircraft: RegisterRow,
  catalogue: Catalogue,
  bay: BayLive,
): Promise<Settled> {
  const backup = await getDb().Backup.findByPk(backupId);
  if (backup?.aircraft_id !== aircraft.id)
    throw new ProblemError({ code: "backup-none", message: `${aircraft.tag} has no such backup` });
  if (backup.verdict !== "complete" && backup.verdict !== "moved-only")
    throw new ProblemError({
      code: "backup-incomplete",
      message: "This read-out is not complete, so nothing is set up from it",
      detail: `It is judged: ${backup.verdict}`,
      hint: "Choose one that is complete",
    });
  const release = releaseInBay(catalogue, bay);
  const from = valueOf(releaseById(catalogue, backup.release_id ?? ""));
  valueOf(routeBetween(catalogue, from, release));
  const day = backup.taken_at.toISOString().slice(0, 10);
  return {
    goal: { kind: "set-up", releaseId: release.id, backupId },
    release,
    headline: backup.source === "merged" ? `Set up as merged on ${day}` : `Set up as on ${day}`,
  };
}

/** A board that shows only its loader, brought back with what its aircraft was backed up with last. */
async function settleRevive(
  { releaseId, instead }: Extract<JobWish["goal"], { kind: "revive" }>,
  aircraft: RegisterRow,
  catalogue: Catalogue,
): Promise<Settled> {
  const release = await writable(releaseId, instead?.target ?? aircraft.target ?? "", catalogue);
  if (instead) checkInstead(instead, aircraft.target ?? "", release, catalogue);
  // without a backup, what its settings region still holds is all there is: the job reads it out before it writes
  const backup = await lastComplete(aircraft.id);
  if (backup) valueOf(routeBetween(catalogue, valueOf(releaseById(catalogue, backup.release_id)), release));
  return {
    goal: {
      kind: "revive",
      releaseId,
      ...(backup ? { backupId: backup.id } : {}),
      ...(instead ? { instead } : {}),
    },
    release,
    headline: `Revive on ${releaseTitle(release)}${asTarget(instead)}`,
  };
}

/** A board that was never set up becomes an aircraft of its type: as the standard, or another of the type, was backed up. */
async function settleCommission(
  { releaseId, instead }: Extract<JobWish["goal"], { kind: "commission" }>,
  aircraft: RegisterRow,
  catalogue: Catalogue,
): Promise<Settled> {
  const release = await writable(releaseId, instead?.target ?? aircraft.target ?? "", catalogue);
  if (instead) checkInstead(instead, aircraft.target ?? "", release, catalogue);
  const source = await sourceOfType(aircraft.type);
  if (source) valueOf(routeBetween(catalogue, valueOf(releaseById(catalogue, source.release_id)), release));
  return {
    goal: {
      kind: "commission",
      releaseId,
      ...(source ? { backupId: source.id } : {}),
      ...(instead ? { instead } : {}),
    },
    release,
    headline: `Commission on ${releaseTitle(release)}${asTarget(instead)}`,
  };
}

/** The board goes back to a baseline on the release that it runs. */
async function settleBaseline(
  { base, parts }: Extract<JobWish["goal"], { kind: "baseline" }>,
  aircraft: RegisterRow,
  catalogue: Catalogue,
  bay: BayLive,
): Promise<Settled> {
  const release = releaseInBay(catalogue, bay);
  const { title, ...source } = await settleBase({ base }, aircraft.type, release, bay.target ?? "", catalogue);
  return {
    goal: { kind: "baseline", releaseId: release.id, ...source, parts },
    release,
    headline: `Back to: ${title}`,
  };
}

function settle(goal: JobWish["goal"], aircraft: RegisterRow, catalogue: Catalogue, bay: BayLive): Promise<Settled> {
  switch (goal.kind) {
    case "update":
      return settleUpdate(goal, aircraft, catalogue, bay);
    case "set-up":
      return settleSetUp(goal.backupId, aircraft, catalogue, bay);
    case "revive":
      return settleRevive(goal, aircraft, catalogue);
    case "commission":
      return settleCommission(goal, aircraft, catalogue);
    case "baseline":
      return settleBaseline(goal, aircraft, catalogue, bay);
  }
}

/** What a bay sees of its board, as a planner takes it. */
const seen = (bay: BayLive): Facts =>
  bay.presence === "console"
    ? { "board: shows": "console" }
    : bay.presence === "loader"
      ? { "board: shows": "loader" }
      : {};

/** The steps to a goal from what is seen now, or what is missing for it. */
function stepsFor(
  goal: Goal,
  { tag, model_id }: RegisterRow,
  release: Release,
  catalogue: Catalogue,
  bay: BayLive,
): StepSpec[] {
  const processor = catalogue.models.get(model_id ?? "")?.processor;
  const planned = planJob(goal, wishFor(tag, release, processor, catalogue), seen(bay));
  if (planned.kind === "plan") return planned.moves.map(specOf);
  throw new ProblemError({
    code: "goal-out-of-reach",
    message: "From how the board stands now there is no way there",
    detail: `Missing: ${[...planned.missing, ...planned.because].join("; ")}`,
    hint:
      bay.presence === "loader"
        ? "It shows only its loader: revive it, or plug it in again without its boot button"
        : "Plug the board in and wait until it is identified",
  });
}

/** The goal with the part of the settings that comes along; a starter set has to be one of the release's. */
function scoped(goal: Goal, scope: Scope, release: Release): Goal {
  if (scope.starter !== undefined && !release.starters.some(({ name }) => name === scope.starter))
    throw new ProblemError({
      code: "starter-none",
      message: `There is no starter set “${scope.starter}” in ${releaseTitle(release)}`,
      detail: `It has ${release.starters.map(({ name }) => name).join(", ") || "none"}`,
      hint: "Choose one of them, or none",
    });
  if (goal.kind === "baseline" || (scope.kind === "everything" && scope.starter === undefined)) return goal;
  return { ...goal, scope };
}

/**
 * Orders a job for the aircraft whose board is in a bay. All that can be known to fail is refused here, before anything
 * is touched: no board, another aircraft's, no such target, no image, no way, a job that is there already.
 */
export async function orderJob(wish: JobWish): Promise<number> {
  const bench = await readBench();
  const bay = (await readBays(bench.id)).find((b) => b.no === wish.bayNo)?.live ?? EMPTY_BAY;
  const aircraft = await aircraftById(wish.aircraftId);
  if (!aircraft) throw new ProblemError({ code: "aircraft-none", message: "There is no such aircraft" });
  if (bay.aircraftId !== aircraft.id || bay.chipId === undefined)
    throw new ProblemError({
      code: "board-elsewhere",
      message: `The board of ${aircraft.tag} is not in bay ${wish.bayNo}`,
      detail: bay.say,
      hint: "Plug it in and wait until the bay names the aircraft",
    });
  const catalogue = await loadCatalogue();
  const settled = await settle(wish.goal, aircraft, catalogue, bay);
  const { release, headline } = settled;
  const goal = scoped(settled.goal, wish.scope ?? EVERYTHING, release);
  try {
    const job = await getDb().Job.create({
      bench_id: bench.id,
      bay_no: wish.bayNo,
      aircraft_id: aircraft.id,
      chip_id: bay.chipId,
      goal,
      steps: stepsFor(goal, aircraft, release, catalogue, bay),
      documents: await pinDocuments(),
      headline,
      ordered_by: wish.account,
      ended_at: null,
    });
    return job.id;
  } catch (error) {
    if (error instanceof UniqueConstraintError) throw await whoHas(wish.bayNo, aircraft.id);
    throw error;
  }
}
