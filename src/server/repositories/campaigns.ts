import {
  nextOf,
  standingOf,
  TAKEN_BACK,
  wishProblem,
  type Call,
  type CampaignDecision,
  type CampaignGoal,
  type Member,
  type WantedDecision,
} from "@/core/campaign";
import { releaseById, releaseTitle } from "@/core/catalog";
import { ProblemError, valueOf } from "@/core/problem";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { atPartRelease, partRelease } from "@/server/repositories/campaign-parts";
import { judgedDrift } from "@/server/repositories/policy";
import { membersOf, standardsOf } from "@/server/repositories/standards";
import { getDb } from "@/server/db";
import type { CampaignRow } from "@/server/models";
import { first, inTransaction, list, NOW, oneAtATime, rows, run, type Row } from "@/server/sql";
import { literal, Op, type Transaction } from "sequelize";

export type Campaign = Omit<Row<CampaignRow>, "members">;

export interface CampaignMember extends Member {
  readonly aircraftId: number;
  readonly label: string;
  readonly leftOutBecause?: { readonly reason: string; readonly account: string };
  readonly jobId?: number;
  readonly bayNo?: number;
  /** When its job came to its end. */
  readonly endedAt?: Date;
}

export const campaignById = (id: number): Promise<Campaign | undefined> =>
  first(getDb().CampaignRow, { where: { id } });

/** Those that go on first, then the newest. */
export const listCampaigns = (): Promise<Campaign[]> =>
  list(getDb().CampaignRow, { order: [literal("state = 'ended'"), ["id", "desc"]], limit: 200 });

async function needCampaign(id: number): Promise<Campaign> {
  const found = await campaignById(id);
  if (!found) throw new ProblemError({ code: "campaign-none", message: "There is no such campaign" });
  return found;
}

export interface CampaignWish {
  readonly type: string;
  readonly goal: CampaignGoal;
  readonly note: string;
  readonly account: string;
}

/** What it is called: by its release, or by the standard, and by its type. */
async function titleOf({ goal, type }: CampaignWish): Promise<string> {
  if (goal.kind === "parts") {
    const release = partRelease(await loadCatalogue(), goal.releaseId);
    return `${releaseTitle(release)} for the ${release.part} of every ${type}`;
  }
  if (goal.kind === "update")
    return `${releaseTitle(valueOf(releaseById(await loadCatalogue(), goal.releaseId)))} for every ${type}`;
  const [standard] = await standardsOf(type);
  if (!standard)
    throw new ProblemError({
      code: "standard-none",
      message: `${type} has no standard`,
      hint: "Make one of its aircraft the standard first",
    });
  return `Every ${type} back to its standard`;
}

/** Begins a campaign with every aircraft of the type, in the order of their tags. One for a type goes on at a time. */
export async function beginCampaign(wish: CampaignWish): Promise<number> {
  const title = await titleOf(wish);
  return inTransaction(async (transaction) => {
    const { type, goal, note, account } = wish;
    await oneAtATime(`campaign of ${type}`, transaction);
    const { Aircraft, CampaignMemberRow, CampaignRow } = getDb();
    const other = await first(CampaignRow, {
      where: { type, state: { [Op.ne]: "ended" } },
      attributes: ["title"],
      transaction,
    });
    if (other)
      throw new ProblemError({
        code: "campaign-other",
        message: `There is a campaign for ${type} already: ${other.title}`,
        hint: "End it first; what is done stays done",
      });
    const { id } = await CampaignRow.create(
      { type, title, goal, note, made_by: account, state: "open" },
      { transaction },
    );
    const members = await list(Aircraft, { where: { type }, attributes: ["id"], order: ["tag"], transaction });
    if (members.length === 0) throw new ProblemError({ code: "type-none", message: `No aircraft is of type ${type}` });
    await CampaignMemberRow.bulkCreate(
      members.map((member, i) => ({ campaign_id: id, aircraft_id: member.id, place: i + 1 })),
      { transaction },
    );
    return id;
  });
}

/** Tags of those that hold the standard, by their newest read-outs and what is allowed. */
async function atStandard(type: string): Promise<ReadonlySet<string>> {
  const [standard] = await standardsOf(type);
  if (!standard) return new Set();
  const members = await membersOf(type);
  const { drift } = await judgedDrift(standard, members);
  return new Set(drift.rows.flatMap(({ tag, cells, problem }) => (cells.length === 0 && !problem ? [tag] : [])));
}

/** Tags of those for whom nothing is left to do, where their boards alone do not say it. */
const thereAlready = async (type: string, goal: CampaignGoal): Promise<ReadonlySet<string> | undefined> => {
  if (goal.kind === "standard") return atStandard(type);
  return goal.kind === "parts" ? atPartRelease(type, goal.releaseId) : undefined;
};

/** The aircraft of a campaign in their order, each with where it stands: by its last board, its last job, and that job's last word on its plan. */
export async function membersOfCampaign({ id, type, goal }: Campaign): Promise<CampaignMember[]> {
  const found = await rows<{
    aircraft_id: number;
    tag: string;
    label: string;
    place: number;
    left_out: string | null;
    left_out_by: string | null;
    release_id: string | null;
    job_id: number | null;
    job_state: "open" | "finished" | "stopped" | null;
    taken: boolean;
    bay_no: number | null;
    ended_at: Date | null;
  }>(
    `select m.aircraft_id, a.tag, a.label, m.place, m.left_out, m.left_out_by, b.release_id,
            j.id as job_id, j.state as job_state, j.bay_no, j.ended_at,
            coalesce((select entry->>'kind' = 'taken' from journal where job_id = j.id
                      and entry->>'kind' in ('taken', 'reopened') order by no desc limit 1), false) as taken
     from campaign_members m join aircraft a on a.id = m.aircraft_id
     left join lateral (select release_id from boards where aircraft_id = a.id order by id desc limit 1) b on true
     left join lateral (
       select jobs.* from campaign_jobs c join jobs on jobs.id = c.job_id
       where c.campaign_id = m.campaign_id and jobs.aircraft_id = a.id order by jobs.id desc limit 1) j on true
     where m.campaign_id = $1 order by m.place, a.tag`,
    [id],
  );
  const there = await thereAlready(type, goal);
  return found.map((row) => ({
    ...{ aircraftId: row.aircraft_id, tag: row.tag, label: row.label, place: row.place },
    leftOut: row.left_out !== null,
    isThere: there ? there.has(row.tag) : goal.kind === "update" && row.release_id === goal.releaseId,
    ...(row.left_out === null ? {} : { leftOutBecause: { reason: row.left_out, account: row.left_out_by ?? "" } }),
    ...(row.job_state === null ? {} : { job: { state: row.job_state, taken: row.taken } }),
    ...(row.job_id === null ? {} : { jobId: row.job_id }),
    ...(row.bay_no === null || row.job_state !== "open" ? {} : { bayNo: row.bay_no }),
    ...(row.ended_at === null ? {} : { endedAt: row.ended_at }),
  }));
}

/** What was decided for all, the newest of each key; not what was taken back. */
export async function decisionsOf(campaignId: number, transaction?: Transaction): Promise<CampaignDecision[]> {
  const said = await list(getDb().CampaignDecisionRow, {
    where: { campaign_id: campaignId },
    order: ["key", "id"],
    transaction,
  });
  return [...new Map(said.map((each) => [each.key, each])).values()]
    .filter(({ choice_id }) => choice_id !== TAKEN_BACK)
    .map(({ key, choice_id: choiceId, account, at }) => ({ key, choiceId, account, at: at.getTime() }));
}

const needGoing = ({ state, title }: Campaign) => {
  if (state === "open") return;
  throw new ProblemError({
    code: "campaign-rests",
    message: state === "paused" ? `${title} is paused` : `${title} has ended`,
    hint: state === "paused" ? "A lead lets it go on" : "Begin another one",
  });
};

/**
 * Decides something for every aircraft that meets it, or takes that back; who has gone already is not touched. `calls` is
 * what they meet. Of two who decide the same at once the second is told.
 */
export async function decideForAll(
  id: number,
  wanted: readonly WantedDecision[],
  calls: readonly Call[],
  account: string,
): Promise<void> {
  const campaign = await needCampaign(id);
  if (campaign.state === "ended") needGoing(campaign);
  await inTransaction(async (transaction) => {
    await oneAtATime(`decisions of ${id}`, transaction);
    const standing = new Map((await decisionsOf(id, transaction)).map((each) => [each.key, each]));
    for (const wish of wanted) {
      const problem = wishProblem(wish, calls, standing.get(wish.key));
      if (problem) throw new ProblemError(problem);
      const { key, choiceId: choice_id } = wish;
      await getDb().CampaignDecisionRow.create({ campaign_id: id, key, choice_id, account }, { transaction });
    }
  });
}

/** Pauses it, lets it go on, or ends it. An ended one stays ended; what is under way goes on. */
export async function changeCampaign(
  id: number,
  state: Campaign["state"],
  reason: string,
  account: string,
): Promise<void> {
  const campaign = await needCampaign(id);
  if (campaign.state === "ended") needGoing(campaign);
  await getDb().CampaignRow.update(
    { state, state_reason: reason, changed_by: account, changed_at: NOW },
    { where: { id, state: { [Op.ne]: "ended" } } },
  );
}

export type MemberChange =
  | { readonly kind: "leave-out"; readonly reason: string }
  | { readonly kind: "take-in" }
  /** One place earlier or later. */
  | { readonly kind: "move"; readonly by: -1 | 1 };

export async function changeMember(id: number, tag: string, change: MemberChange, account: string): Promise<void> {
  const campaign = await needCampaign(id);
  if (campaign.state === "ended") needGoing(campaign);
  const members = await membersOfCampaign(campaign);
  const at = members.findIndex((each) => each.tag === tag);
  const member = members[at];
  if (!member) throw new ProblemError({ code: "aircraft-none", message: `${tag} is not in this campaign` });
  if (change.kind === "move") {
    const order = members.map(({ aircraftId }) => aircraftId);
    const to = at + change.by;
    const other = order[to];
    if (other === undefined) return;
    [order[at], order[to]] = [other, member.aircraftId];
    // all places in one statement
    await run(
      `update campaign_members m set place = o.place from unnest($2::int[]) with ordinality as o (aircraft_id, place)
       where m.campaign_id = $1 and m.aircraft_id = o.aircraft_id`,
      [id, order],
    );
    return;
  }
  await getDb().CampaignMemberRow.update(
    change.kind === "leave-out"
      ? { left_out: change.reason, left_out_by: account, left_out_at: NOW }
      : { left_out: null, left_out_by: null, left_out_at: null },
    { where: { campaign_id: id, aircraft_id: member.aircraftId } },
  );
}

/** The campaign in which an aircraft has its turn still to come, with its place among those. */
export async function campaignFor(
  aircraftId: number,
): Promise<{ readonly campaign: Campaign; readonly turn: number; readonly waiting: number } | undefined> {
  const mine = { aircraft_id: aircraftId, left_out: null };
  const [campaign] = await list(getDb().CampaignRow, {
    where: { state: "open" },
    include: [{ association: "members", attributes: [], where: mine, required: true }],
    order: [["id", "desc"]],
  });
  if (!campaign) return undefined;
  const next = nextOf(await membersOfCampaign(campaign));
  const turn = next.findIndex((member) => member.aircraftId === aircraftId) + 1;
  return turn === 0 ? undefined : { campaign, turn, waiting: next.length };
}

/** What a job of a campaign is ordered for; refuses while it rests, and for whom it is not to be. */
export async function turnOf(id: number, aircraftId: number): Promise<Campaign> {
  const campaign = await needCampaign(id);
  needGoing(campaign);
  const member = (await membersOfCampaign(campaign)).find((each) => each.aircraftId === aircraftId);
  const standing = member && standingOf(member);
  if (member && (standing === "waiting" || standing === "stopped")) return campaign;
  throw new ProblemError({
    code: "campaign-turn",
    message: member
      ? `${member.tag} has no turn in this campaign: ${standing === "left-out" ? "it was left out" : standing === "under-way" ? "its job is open" : "it is there already"}`
      : "This aircraft is not in the campaign",
    hint: "Look at the campaign",
  });
}

/** The open or latest campaign that a job was ordered in. */
export const campaignOfJob = async (jobId: number): Promise<Campaign | undefined> =>
  (await first(getDb().CampaignJob, { where: { job_id: jobId }, include: ["campaign"] }))?.campaign;
