import { UniqueConstraintError } from "sequelize";
import { routeBetween } from "@/core/carryover";
import { findRelease, findTarget, releaseById, releaseTitle, type Catalogue, type Release } from "@/core/catalog";
import { EMPTY_BAY, planJob, specOf, type BayLive, type Facts, type Goal, type StepSpec } from "@/core/job";
import { ProblemError, valueOf } from "@/core/problem";
import { getDb } from "@/server/db";
import { readBays, readBench } from "@/server/repositories/bench";
import { lastComplete } from "@/server/repositories/backups";
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
  readonly goal:
    | { readonly kind: "update"; readonly releaseId: string }
    | { readonly kind: "set-up"; readonly backupId: number }
    | { readonly kind: "revive"; readonly releaseId: string };
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

async function settleUpdate(releaseId: string, target: string, catalogue: Catalogue, bay: BayLive): Promise<Settled> {
  const release = await writable(releaseId, target, catalogue);
  const here = findRelease(catalogue, bay.family, bay.release);
  const verb = here.ok
    ? HEADLINES[relationOf(here.value, release, valueOf(routeBetween(catalogue, here.value, release)))]
    : HEADLINES.next;
  return { goal: { kind: "update", releaseId }, release, headline: `${verb} ${releaseTitle(release)}` };
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
async function settleRevive(releaseId: string, aircraft: RegisterRow, catalogue: Catalogue): Promise<Settled> {
  const release = await writable(releaseId, aircraft.target ?? "", catalogue);
  const backup = await lastComplete(aircraft.id);
  if (!backup)
    throw new ProblemError({
      code: "backup-none",
      message: `No complete backup of ${aircraft.tag} is on file`,
      hint: "Import one under its history: a board that says nothing can only be set up from what was kept of it",
    });
  valueOf(routeBetween(catalogue, valueOf(releaseById(catalogue, backup.release_id)), release));
  return {
    goal: { kind: "revive", releaseId, backupId: backup.id },
    release,
    headline: `Revive on ${releaseTitle(release)}`,
  };
}

function settle(goal: JobWish["goal"], aircraft: RegisterRow, catalogue: Catalogue, bay: BayLive): Promise<Settled> {
  switch (goal.kind) {
    case "update":
      return settleUpdate(goal.releaseId, bay.target ?? aircraft.target ?? "", catalogue, bay);
    case "set-up":
      return settleSetUp(goal.backupId, aircraft, catalogue, bay);
    case "revive":
      return settleRevive(goal.releaseId, aircraft, catalogue);
  }
}

/** What a bay sees of its board, as a planner takes it. */
const seen = (bay: BayLive): Facts =>
  bay.presence === "console"
    ? { "board: shows": "console" }
    : bay.presence === "usb-loader"
      ? { "board: shows": "loader" }
      : {};

/** The steps to a goal from what is seen now, or what is missing for it. */
function stepsFor(goal: Goal, tag: string, release: Release, bay: BayLive): StepSpec[] {
  const planned = planJob(goal, { tag, release: { id: release.id, title: releaseTitle(release) } }, seen(bay));
  if (planned.kind === "plan") return planned.moves.map(specOf);
  throw new ProblemError({
    code: "goal-out-of-reach",
    message: "From how the board stands now there is no way there",
    detail: `Missing: ${[...planned.missing, ...planned.because].join("; ")}`,
    hint:
      bay.presence === "usb-loader"
        ? "It shows only its loader: revive it, or plug it in again without its boot button"
        : "Plug the board in and wait until it is identified",
  });
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
  const { goal, release, headline } = await settle(wish.goal, aircraft, catalogue, bay);
  try {
    const job = await getDb().Job.create({
      bench_id: bench.id,
      bay_no: wish.bayNo,
      aircraft_id: aircraft.id,
      chip_id: bay.chipId,
      goal,
      steps: stepsFor(goal, aircraft.tag, release, bay),
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
