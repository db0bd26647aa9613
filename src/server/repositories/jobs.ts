import type { JobRequest } from "@/contracts/job-wish";
import { literal, Op, UniqueConstraintError, type FindOptions } from "sequelize";
import { batteriesWith, type Catalogue, type Release } from "@/core/catalog";
import { goalFrom, planJob, specOf, wishFor, type BayLive, type Facts, type Goal, type StepSpec } from "@/core/job";
import { ProblemError } from "@/core/problem";
import { getDb } from "@/server/db";
import { readBay } from "@/server/repositories/bench";
import { loadCatalogue, pinDocuments } from "@/server/repositories/catalogue";
import { aircraftById, type RegisterRow } from "@/server/repositories/fleet";
import { partsOfAircraft } from "@/server/repositories/fittings";
import { settleGoal } from "@/server/repositories/settle-goal";
import { inTransaction, list, type Row } from "@/server/sql";
import type { Job } from "@/server/models";

/** A job with the tag of its aircraft. */
export interface JobRow extends Omit<Row<Job>, "aircraft" | "goal"> {
  readonly goal: Goal;
  readonly tag: string;
}

async function jobsWhere(options: Pick<FindOptions<Job>, "where" | "order" | "limit">): Promise<JobRow[]> {
  const include = [{ association: "aircraft", attributes: ["tag"], required: true }];
  const found = await list(getDb().Job, { ...options, include });
  return found.map(({ aircraft, goal, ...job }) => ({ ...job, goal: goalFrom(goal), tag: aircraft?.tag ?? "" }));
}

export const jobById = async (id: number): Promise<JobRow | undefined> => (await jobsWhere({ where: { id } }))[0];
/** So many jobs are listed; older ones are found by aircraft. */
export const LISTED_JOBS = 500;
export const listJobs = (): Promise<JobRow[]> =>
  jobsWhere({ order: [literal(`"Job".state = 'open' desc`), ["id", "desc"]], limit: LISTED_JOBS });
export const jobsOfAircraft = (aircraftId: number): Promise<JobRow[]> =>
  jobsWhere({ where: { aircraft_id: aircraftId }, order: [["id", "desc"]], limit: 100 });
export const openJobsOf = (benchId: number): Promise<JobRow[]> =>
  jobsWhere({ where: { bench_id: benchId, state: "open" }, order: ["id"] });

async function whoHas(bayNo: number, aircraftId: number): Promise<ProblemError> {
  const [other] = await jobsWhere({
    where: { state: "open", [Op.or]: [{ bay_no: bayNo }, { aircraft_id: aircraftId }] },
    limit: 1,
  });
  const since = other?.ordered_at.toISOString().slice(0, 16).replace("T", " ") ?? "";
  return new ProblemError({
    code: "bay-taken",
    message: `There is a job already: ${other?.headline ?? "just ordered"}`,
    detail: `For ${other?.tag ?? "an aircraft"} in bay ${other?.bay_no ?? bayNo}, ordered by ${other?.ordered_by ?? "somebody"} on ${since} UTC`,
    hint: "Finish it or stop it first",
  });
}

export interface JobWish extends JobRequest {
  readonly account: string;
}

/** What a bay sees of its board, as a planner takes it. */
const seen = (bay: BayLive): Facts =>
  bay.presence === "console"
    ? { "main: shows": "console" }
    : bay.presence === "loader"
      ? { "main: shows": "loader" }
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
  const planned = planJob(goal, wishFor({ tag, goal }, release, processor, catalogue), seen(bay));
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

/** What feeds parts of an aircraft says which batteries it has, where that is more than one. */
async function batteriesOf({ id, model_id }: RegisterRow): Promise<Pick<Goal, "batteries">> {
  const batteries = batteriesWith(await partsOfAircraft(id, model_id));
  return batteries.length > 1 ? { batteries } : {};
}

/**
 * Orders a job for the aircraft whose board is in a bay. All that can be known to fail is refused here, before anything
 * is touched: no board, another aircraft's, no such target, no image, no way, a job that is there already.
 */
export async function orderJob(wish: JobWish): Promise<number> {
  const found = await readBay(wish.bayNo);
  if (!found) throw new ProblemError({ code: "bay-none", message: "There is no such bay" });
  const { live: bay, benchId } = found;
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
  const { goal: settled, release, headline } = await settleGoal(wish, aircraft, catalogue, bay);
  const goal: Goal = { ...settled, ...(await batteriesOf(aircraft)) };
  try {
    const order = {
      bench_id: benchId,
      bay_no: wish.bayNo,
      aircraft_id: aircraft.id,
      chip_id: bay.chipId,
      goal,
      steps: stepsFor(goal, aircraft, release, catalogue, bay),
      documents: await pinDocuments(),
      headline,
      ordered_by: wish.account,
      ended_at: null,
    };
    return await inTransaction(async (transaction) => {
      const { id } = await getDb().Job.create(order, { transaction });
      if (wish.goal.kind === "campaign")
        await getDb().CampaignJob.create({ job_id: id, campaign_id: wish.goal.campaignId }, { transaction });
      return id;
    });
  } catch (error) {
    if (error instanceof UniqueConstraintError) throw await whoHas(wish.bayNo, aircraft.id);
    throw error;
  }
}
