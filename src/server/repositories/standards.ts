import { ProblemError } from "@/core/problem";
import { inTransaction, one, rows } from "@/server/sql";

/** A type's standard: the configuration of one backup, in a version. Versions are kept. */
export interface Standard {
  readonly id: number;
  readonly type: string;
  readonly version: number;
  readonly backup_id: number;
  readonly sha256: string;
  readonly release_id: string | null;
  readonly tag: string | null;
  readonly backup_name: string;
  readonly note: string;
  readonly made_by: string;
  readonly made_at: Date;
}

const STANDARDS = `
  select s.*, b.sha256, b.release_id, b.name as backup_name, a.tag
  from standards s join backups b on b.id = s.backup_id left join aircraft a on a.id = b.aircraft_id`;

export const standardsOf = (type: string): Promise<Standard[]> =>
  rows(`${STANDARDS} where s.type = $1 order by s.version desc`, [type]);

export const standardById = (id: number): Promise<Standard | undefined> => one(`${STANDARDS} where s.id = $1`, [id]);

/** The newest standard of each type. */
export const newestStandards = (): Promise<Standard[]> =>
  rows(`select distinct on (type) * from (${STANDARDS}) all_standards order by type, version desc`);

/** Makes the configuration of a backup the next version of a type's standard. Only a complete one can be that. */
export async function makeStandard(type: string, backupId: number, note: string, account: string): Promise<number> {
  return inTransaction(async (transaction) => {
    const backup = await one<{ verdict: string; source: string }>(
      "select verdict, source from backups where id = $1",
      [backupId],
      transaction,
    );
    if (!backup) throw new ProblemError({ code: "backup-none", message: "There is no such backup" });
    if (backup.verdict !== "complete")
      throw new ProblemError({
        code: "standard-incomplete",
        message: "Only a complete read-out can be a standard",
        detail: `This one is judged: ${backup.verdict}`,
        hint: "Back the aircraft up on the bench and take that",
      });
    const known = await one("select 1 from aircraft where type = $1 limit 1", [type], transaction);
    if (!known) throw new ProblemError({ code: "type-none", message: `No aircraft is of type ${type}` });
    const made = await one<{ version: number }>(
      `insert into standards (type, version, backup_id, note, made_by)
       select $1, coalesce(max(version), 0) + 1, $2, $3, $4 from standards where type = $1 returning version`,
      [type, backupId, note, account],
      transaction,
    );
    return made?.version ?? 1;
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

/** The aircraft of a type with the newest read-out of each that tells all or what was moved. */
export const membersOf = (type: string): Promise<FleetMember[]> =>
  rows(
    `select a.tag, a.label, b.id as backup_id, b.sha256, b.taken_at, b.release_id
     from aircraft a
     left join lateral (
       select id, sha256, taken_at, release_id from backups
       where aircraft_id = a.id and verdict in ('complete', 'moved-only') and source in ('job', 'bay', 'file')
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

export const listTypes = (): Promise<TypeRow[]> =>
  rows(
    `select a.type, a.count, s.id as standard_id, s.version
     from (select type, count(*)::int as count from aircraft group by type) a
     left join lateral (select id, version from standards where type = a.type order by version desc limit 1) s on true
     order by a.type`,
  );
