import { UniqueConstraintError } from "sequelize";
import { ProblemError } from "@/core/problem";
import { getDb } from "@/server/db";
import { one, rows } from "@/server/sql";
import { type Aircraft } from "@/server/models";

export interface RegisterRow {
  readonly id: number;
  readonly tag: string;
  readonly label: string;
  readonly type: string;
  readonly state: Aircraft["state"];
  readonly state_reason: string;
  readonly model_id: string | null;
  readonly target: string | null;
  readonly release_id: string | null;
  readonly chip_id: string | null;
  readonly complete_at: Date | null;
  readonly complete_id: number | null;
  readonly last_verdict: string | null;
  readonly job_id: number | null;
  readonly job_headline: string | null;
}

const REGISTER = `
  select a.id, a.tag, a.label, a.type, a.state, a.state_reason, b.model_id, b.target, b.release_id, b.chip_id,
         c.taken_at as complete_at, c.id as complete_id, l.verdict as last_verdict, j.id as job_id, j.headline as job_headline
  from aircraft a
  left join lateral (select * from boards where aircraft_id = a.id order by id desc limit 1) b on true
  left join lateral (select id, taken_at from backups where aircraft_id = a.id and verdict = 'complete' and source <> 'merged' order by taken_at desc limit 1) c on true
  left join lateral (select verdict from backups where aircraft_id = a.id and source in ('job', 'bay', 'file') order by taken_at desc limit 1) l on true
  left join jobs j on j.aircraft_id = a.id and j.state = 'open'`;

/** So many aircraft are shown at once; a larger fleet is narrowed by searching. */
export const REGISTER_SHOWN = 300;

export const readRegister = (): Promise<RegisterRow[]> => rows(`${REGISTER} order by a.tag`);

/** The part of the register that fits a search, and how many aircraft there are in all. */
export async function searchRegister(query: string): Promise<{ rows: RegisterRow[]; total: number }> {
  const wanted = `%${query.trim().replace(/[\\%_]/g, (mark) => `\\${mark}`)}%`;
  const [count] = await rows<{ total: number }>("select count(*)::int as total from aircraft");
  const found = await rows<RegisterRow>(
    `${REGISTER} where a.tag ilike $1 or a.label ilike $1 or a.type ilike $1 or b.target ilike $1
     order by (a.state = 'in-service'), a.tag limit $2`,
    [wanted, REGISTER_SHOWN],
  );
  return { rows: found, total: count?.total ?? 0 };
}

/** Tags of the fleet, for choosing one. */
export async function listTags(): Promise<string[]> {
  return (await rows<{ tag: string }>("select tag from aircraft order by tag limit 5000")).map((row) => row.tag);
}

export const aircraftByTag = (tag: string): Promise<RegisterRow | undefined> =>
  one(`${REGISTER} where a.tag = $1`, [tag]);

export const aircraftById = (id: number): Promise<RegisterRow | undefined> => one(`${REGISTER} where a.id = $1`, [id]);

export interface NewAircraft {
  readonly tag: string;
  readonly label: string;
  readonly type: string;
}

export async function addAircraft(aircraft: NewAircraft): Promise<number> {
  try {
    const row = await getDb().Aircraft.create({
      ...aircraft,
      state: "out-of-service",
      state_reason: "Never had a board on this bench",
    });
    return row.id;
  } catch (error) {
    if (error instanceof UniqueConstraintError)
      throw new ProblemError({
        code: "tag-taken",
        message: `The tag ${aircraft.tag} is taken`,
        hint: "Tags are unique in a workshop",
      });
    throw error;
  }
}

export async function relabelAircraft(tag: string, label: string): Promise<void> {
  const [changed] = await getDb().Aircraft.update({ label }, { where: { tag } });
  if (changed === 0) throw new ProblemError({ code: "aircraft-none", message: `There is no aircraft ${tag}` });
}

export interface KnownBoard {
  readonly id: number;
  readonly chip_id: string;
  readonly model_id: string;
  readonly target: string;
  readonly release_id: string | null;
  readonly aircraft_id: number | null;
  readonly tag: string | null;
}

/** Boards that a chip id belongs to: none, one, or several where chip ids are not unique. */
export const boardsByChip = (chipId: string): Promise<KnownBoard[]> =>
  rows(
    "select b.*, a.tag from boards b left join aircraft a on a.id = b.aircraft_id where b.chip_id = $1 order by b.id",
    [chipId],
  );

/** Gives a board to an aircraft that has none yet. */
export async function adoptBoard(board: {
  chipId: string;
  modelId: string;
  target: string;
  releaseId: string | null;
  aircraftId: number;
}): Promise<void> {
  await getDb().Board.create({
    chip_id: board.chipId,
    model_id: board.modelId,
    target: board.target,
    release_id: board.releaseId,
    aircraft_id: board.aircraftId,
  });
}
