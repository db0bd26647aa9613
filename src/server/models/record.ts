import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type NonAttribute,
  type Sequelize,
} from "sequelize";
import type { Vector } from "@/core/compare";
import type { VisitStatement } from "@/core/papers";
import { bigSerial, over, serial } from "@/server/models/columns";
import { Aircraft } from "@/server/models/fleet";

/** Bytes by their hash. */
export class Blob extends Model<InferAttributes<Blob>, InferCreationAttributes<Blob>> {
  declare sha256: string;
  declare bytes: Buffer;
  declare size_bytes: number;
}

export class DamagedBlob extends Model<InferAttributes<DamagedBlob>, InferCreationAttributes<DamagedBlob>> {
  declare sha256: string;
  declare found_at: CreationOptional<Date>;
}

export class Backup extends Model<InferAttributes<Backup>, InferCreationAttributes<Backup>> {
  declare id: CreationOptional<number>;
  declare aircraft_id: number | null;
  declare job_id: number | null;
  declare chip_id: string | null;
  declare sha256: string;
  declare source: "job" | "bay" | "file" | "rescue" | "merged";
  declare name: string;
  declare release_id: string | null;
  declare target: string | null;
  declare verdict: "complete" | "moved-only" | "incomplete" | "raw";
  declare findings: object;
  declare taken_by: string;
  declare taken_at: CreationOptional<Date>;
  /** Which part it is of, by its kind and number; null: the main one. */
  declare part: CreationOptional<string | null>;
  /** Where that part is, as people say it. */
  declare place: CreationOptional<string | null>;
  /** The read-out of the board that it was taken with. */
  declare with_id: CreationOptional<number | null>;
  declare aircraft?: NonAttribute<Aircraft | null>;
}

/** Where read-outs come from that are a board's own, all of it: no settings region, nothing that was put together. */
export const READ_OUT = ["job", "bay", "file"] as const satisfies readonly Backup["source"][];

export class BackupNote extends Model<InferAttributes<BackupNote>, InferCreationAttributes<BackupNote>> {
  declare id: CreationOptional<number>;
  declare backup_id: number;
  /** `wiring`: jumpers, pads, radio set-up; what no read-out can say. */
  declare kind: "note" | "wiring";
  declare text: string;
  declare account: string;
  declare at: CreationOptional<Date>;
}

export class StandardRow extends Model<InferAttributes<StandardRow>, InferCreationAttributes<StandardRow>> {
  declare id: CreationOptional<number>;
  declare type: string;
  declare version: number;
  declare backup_id: number;
  declare note: string;
  declare made_by: string;
  declare made_at: CreationOptional<Date>;
  declare backup?: NonAttribute<Backup>;
}

/** What somebody said that a text is: the newest row of its bytes counts. */
export class ReadAsRow extends Model<InferAttributes<ReadAsRow>, InferCreationAttributes<ReadAsRow>> {
  declare id: CreationOptional<number>;
  declare sha256: string;
  declare release_id: string;
  declare extent: "all" | "moved" | null;
  declare account: string;
  declare at: CreationOptional<Date>;
}

/** Derived: what a text means, in short, by the catalogue of a stamp. */
export class ReadText extends Model<InferAttributes<ReadText>, InferCreationAttributes<ReadText>> {
  declare sha256: string;
  declare stamp: string;
  declare vector: Vector;
}

export class VisitStatementRow extends Model<
  InferAttributes<VisitStatementRow>,
  InferCreationAttributes<VisitStatementRow>
> {
  declare job_id: number;
  declare says: VisitStatement;
  declare made_at: CreationOptional<Date>;
}

/** What the workshop's keeper found and did. */
export class Keeping extends Model<InferAttributes<Keeping>, InferCreationAttributes<Keeping>> {
  declare id: CreationOptional<string>;
  declare kind: "copy" | "chain" | "bytes";
  declare at: CreationOptional<Date>;
  declare good: boolean;
  declare says: string;
  declare facts: Readonly<Record<string, unknown>>;
}

export const record = {
  Blob,
  DamagedBlob,
  Backup,
  BackupNote,
  StandardRow,
  ReadAsRow,
  ReadText,
  VisitStatementRow,
  Keeping,
};

export function defineRecord(sequelize: Sequelize): void {
  const { BLOB, BOOLEAN, DATE, INTEGER, JSONB, TEXT } = DataTypes;
  Blob.init(
    { sha256: { type: TEXT, primaryKey: true }, bytes: BLOB, size_bytes: INTEGER },
    over(sequelize, "Blob", "blobs"),
  );
  DamagedBlob.init(
    { sha256: { type: TEXT, primaryKey: true }, found_at: DATE },
    over(sequelize, "DamagedBlob", "damaged_blobs"),
  );
  Backup.init(
    {
      id: serial,
      aircraft_id: INTEGER,
      job_id: INTEGER,
      chip_id: TEXT,
      sha256: TEXT,
      source: TEXT,
      name: TEXT,
      release_id: TEXT,
      target: TEXT,
      verdict: TEXT,
      findings: JSONB,
      taken_by: TEXT,
      taken_at: DATE,
      part: TEXT,
      place: TEXT,
      with_id: INTEGER,
    },
    // what is asked of the backups of an aircraft is asked of its main part; `unscoped` where every part is meant
    { ...over(sequelize, "Backup", "backups"), defaultScope: { where: { part: null } } },
  );
  BackupNote.init(
    { id: serial, backup_id: INTEGER, kind: TEXT, text: TEXT, account: TEXT, at: DATE },
    over(sequelize, "BackupNote", "backup_notes"),
  );
  StandardRow.init(
    { id: serial, type: TEXT, version: INTEGER, backup_id: INTEGER, note: TEXT, made_by: TEXT, made_at: DATE },
    over(sequelize, "StandardRow", "standards"),
  );
  ReadAsRow.init(
    { id: serial, sha256: TEXT, release_id: TEXT, extent: TEXT, account: TEXT, at: DATE },
    over(sequelize, "ReadAsRow", "read_as"),
  );
  ReadText.init(
    { sha256: { type: TEXT, primaryKey: true }, stamp: TEXT, vector: JSONB },
    over(sequelize, "ReadText", "read_texts"),
  );
  VisitStatementRow.init(
    { job_id: { type: INTEGER, primaryKey: true }, says: JSONB, made_at: DATE },
    over(sequelize, "VisitStatementRow", "visit_statements"),
  );
  Keeping.init(
    { id: bigSerial, kind: TEXT, at: DATE, good: BOOLEAN, says: TEXT, facts: JSONB },
    over(sequelize, "Keeping", "keeping"),
  );
  Backup.belongsTo(Aircraft, { as: "aircraft", foreignKey: "aircraft_id" });
  StandardRow.belongsTo(Backup, { as: "backup", foreignKey: "backup_id" });
}
