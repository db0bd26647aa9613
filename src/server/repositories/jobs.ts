import { UniqueConstraintError } from "sequelize";
import { findTarget, releaseById, releaseTitle } from "@/core/catalog";
import { EMPTY_BAY, planActions, type Action } from "@/core/job";
import { ProblemError, valueOf } from "@/core/problem";
import { getDb } from "@/server/db";
import { readBays, readBench } from "@/server/repositories/bench";
import { loadCatalogue, loadImage } from "@/server/repositories/catalogue";
import { aircraftById } from "@/server/repositories/fleet";
import { one, rows } from "@/server/sql";

export interface Goal {
  readonly kind: "update";
  readonly releaseId: string;
}

export interface JobRow {
  readonly id: number;
  readonly bench_id: number;
  readonly bay_no: number;
  readonly aircraft_id: number;
  readonly tag: string;
  readonly chip_id: string;
  readonly goal: Goal;
  readonly steps: readonly Pick<Action, "id" | "title" | "why">[];
  readonly state: "open" | "finished" | "stopped";
  readonly headline: string;
  readonly ordered_by: string;
  readonly ordered_at: Date;
  readonly ended_at: Date | null;
}

const SELECT = "select j.*, a.tag from jobs j join aircraft a on a.id = j.aircraft_id";

export const jobById = (id: number): Promise<JobRow | undefined> => one(`${SELECT} where j.id = $1`, [id]);
export const listJobs = (): Promise<JobRow[]> =>
  rows(`${SELECT} order by (j.state = 'open') desc, j.id desc limit 500`);
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

/**
 * Orders an update for the aircraft whose board is in a bay. All that can be known to fail is refused here, before
 * anything is touched: no board, another aircraft's, no such target, no image, a job that is there already.
 */
export async function orderUpdate(order: {
  bayNo: number;
  aircraftId: number;
  releaseId: string;
  account: string;
}): Promise<number> {
  const bench = await readBench();
  const bay = (await readBays(bench.id)).find((b) => b.no === order.bayNo)?.live ?? EMPTY_BAY;
  const aircraft = await aircraftById(order.aircraftId);
  if (!aircraft) throw new ProblemError({ code: "aircraft-none", message: "There is no such aircraft" });
  if (bay.aircraftId !== aircraft.id || bay.chipId === undefined)
    throw new ProblemError({
      code: "board-elsewhere",
      message: `The board of ${aircraft.tag} is not in bay ${order.bayNo}`,
      detail: bay.say,
      hint: "Plug it in and wait until the bay names the aircraft",
    });
  const catalogue = await loadCatalogue();
  const release = valueOf(releaseById(catalogue, order.releaseId));
  const target = findTarget(release, bay.target ?? aircraft.target ?? "");
  if (!target)
    throw new ProblemError({
      code: "target-missing",
      message: `${releaseTitle(release)} is not built for ${bay.target ?? "this board"}`,
      hint: "Choose a release that builds this target",
    });
  await loadImage(catalogue, release.id, target.id);
  const headline = `Update to ${releaseTitle(release)}`;
  const fill = (text: string) => text.replaceAll("{release}", releaseTitle(release)).replaceAll("{tag}", aircraft.tag);
  const steps = planActions("signed-off").map((action) => ({
    id: action.id,
    title: fill(action.title),
    why: action.why,
  }));
  try {
    const job = await getDb().Job.create({
      bench_id: bench.id,
      bay_no: order.bayNo,
      aircraft_id: aircraft.id,
      chip_id: bay.chipId,
      goal: { kind: "update", releaseId: release.id } satisfies Goal,
      steps,
      headline,
      ordered_by: order.account,
      ended_at: null,
    });
    return job.id;
  } catch (error) {
    if (error instanceof UniqueConstraintError) throw await whoHas(order.bayNo, aircraft.id);
    throw error;
  }
}
