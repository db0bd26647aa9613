import { getDb } from "@/server/db";
import { list, type Row } from "@/server/sql";
import type { BackupNote as NoteRow } from "@/server/models";

export type BackupNote = Row<NoteRow>;

export const notesOf = (backupIds: readonly number[]): Promise<BackupNote[]> =>
  list(getDb().BackupNote, { where: { backup_id: [...backupIds] }, order: ["id"] });

/** Adds a note to a backup. Notes are kept as they were written; a correction is another note. */
export async function addNote(
  backupId: number,
  kind: BackupNote["kind"],
  text: string,
  account: string,
): Promise<void> {
  await getDb().BackupNote.create({ backup_id: backupId, kind, text, account });
}
