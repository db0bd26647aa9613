import { ProblemError } from "@/core/problem";
import { Op, type WhereOptions } from "sequelize";
import { getDb } from "@/server/db";
import type { StandardRow } from "@/server/models";
import { exists, first, inTransaction, list, rows, type Row } from "@/server/sql";

/** A type's standard: the configuration of one backup, in a version. Versions are kept. */
export interface Standard extends Omit<Row<StandardRow>, "backup"> {
  readonly sha256: string;
  readonly release_id: string | null;
  readonly tag: string | null;
  readonly backup_name: string;
}

/** Standards that fit, by type, the newest of each first. */
async function standardsWhere(where: WhereOptions<StandardRow>): Promise<Standard[]> {
  const aircraft = { association: "aircraft", attributes: ["tag"] };
  const backup = { association: "backup", attributes: ["sha256", "release_id", "name"], required: true };
  const found = await list(getDb().StandardRow, {
    where,
    include: [{ ...backup, include: [aircraft] }],
    order: ["type", ["version", "desc"]],
  });
  return found.map(({ backup: of, ...standard }) => ({
    ...standard,
    sha256: of?.sha256 ?? "",
    release_id: of?.release_id ?? null,
    tag: of?.aircraft?.tag ?? null,
    backup_name: of?.name ?? "",
  }));
}

export const standardsOf = (type: string): Promise<Standard[]> => standardsWhere({ type });

export const standardById = async (id: number): Promise<Standard | undefined> => (await standardsWhere({ id }))[0];

/** The newest standard of each type. */
export async function newestStandards(): Promise<Standard[]> {
  const byType = new Map<string, Standard>();
  for (const each of await standardsWhere({})) if (!byType.has(each.type)) byType.set(each.type, each);
  return [...byType.values()];
}

/** Makes the configuration of a backup the next version of a type's standard. Only a complete one can be that. */
export async function makeStandard(type: string, backupId: number, note: string, account: string): Promise<number> {
  return inTransaction(async (transaction) => {
    const { Aircraft, Backup, StandardRow } = getDb();
    const backup = await first(Backup, { where: { id: backupId }, attributes: ["verdict"], transaction });
    if (!backup) throw new ProblemError({ code: "backup-none", message: "There is no such backup" });
    if (backup.verdict !== "complete")
      throw new ProblemError({
        code: "standard-incomplete",
        message: "Only a complete read-out can be a standard",
        detail: `This one is judged: ${backup.verdict}`,
        hint: "Back the aircraft up on the bench and take that",
      });
    if (!(await exists(Aircraft, { type }, transaction)))
      throw new ProblemError({ code: "type-none", message: `No aircraft is of type ${type}` });
    const newest = await first(StandardRow, {
      where: { type },
      attributes: ["version"],
      order: [["version", "desc"]],
      transaction,
    });
    const version = (newest?.version ?? 0) + 1;
    await StandardRow.create({ type, version, backup_id: backupId, note, made_by: account }, { transaction });
    return version;
  });
}

export interface FleetMember {
  readonly tag: string;
  readonly label: string;
  readonly backup_id: number | null;
  readonly sha256: string | null;
  readonly taken_at: Date | null;
  readonly release_id: string | null;
}

/** The aircraft of a type with the newest read-out of each that tells all or what was moved; a join that a model can't say. */
export const membersOf = (type: string): Promise<FleetMember[]> =>
  rows(
    `select a.tag, a.label, b.id as backup_id, b.sha256, b.taken_at, b.release_id
     from aircraft a
     left join lateral (
       select id, sha256, taken_at, release_id from backups
       where aircraft_id = a.id and verdict in ('complete', 'moved-only') and source in ('job', 'bay', 'file') and part is null
       order by taken_at desc limit 1) b on true
     where a.type = $1 order by a.tag`,
    [type],
  );

export interface TypeRow {
  readonly type: string;
  readonly count: number;
  readonly standard_id: number | null;
  readonly version: number | null;
}

/** Types with how many aircraft each has and its newest standard; counted and joined in one. */
export const listTypes = (): Promise<TypeRow[]> =>
  rows(
    `select a.type, a.count, s.id as standard_id, s.version
     from (select type, count(*)::int as count from aircraft group by type) a
     left join lateral (select id, version from standards where type = a.type order by version desc limit 1) s on true
     order by a.type`,
  );

/** Types whose names fit a pattern. */
export async function typesLike(pattern: string, limit: number): Promise<string[]> {
  const found = await getDb().Aircraft.findAll({
    where: { type: { [Op.iLike]: pattern } },
    attributes: ["type"],
    group: ["type"],
    order: ["type"],
    limit,
    raw: true,
  });
  return found.map(({ type }) => type);
}
