import { rows, run } from "@/server/sql";

export interface BackupNote {
  readonly id: number;
  readonly backup_id: number;
  /** `wiring`: jumpers, pads, radio set-up; what no read-out can say. */
  readonly kind: "note" | "wiring";
  readonly text: string;
  readonly account: string;
  readonly at: Date;
}

export const notesOf = (backupIds: readonly number[]): Promise<BackupNote[]> =>
  rows("select * from backup_notes where backup_id = any($1) order by id", [backupIds]);

/** Adds a note to a backup. Notes are kept as they were written; a correction is another note. */
export const addNote = (backupId: number, kind: BackupNote["kind"], text: string, account: string): Promise<void> =>
  run("insert into backup_notes (backup_id, kind, text, account) values ($1, $2, $3, $4)", [
    backupId,
    kind,
    text,
    account,
  ]);
