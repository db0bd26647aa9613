import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from "sequelize";
import type { Problem } from "@/core/problem";

export class CatalogueDocumentRow extends Model<
  InferAttributes<CatalogueDocumentRow>,
  InferCreationAttributes<CatalogueDocumentRow>
> {
  declare id: CreationOptional<number>;
  declare kind: string;
  declare document_id: string;
  declare version: number;
  declare text: string;
  declare sha256: string;
  declare imported_by: string;
  declare imported_at: CreationOptional<Date>;
}
export class ImageRow extends Model<InferAttributes<ImageRow>, InferCreationAttributes<ImageRow>> {
  declare id: CreationOptional<number>;
  declare release_id: string;
  declare target: string;
  declare sha256: string;
  declare length_bytes: number;
  declare imported_by: string;
  declare imported_at: CreationOptional<Date>;
}
export class Aircraft extends Model<InferAttributes<Aircraft>, InferCreationAttributes<Aircraft>> {
  declare id: CreationOptional<number>;
  declare tag: string;
  declare label: string;
  declare type: string;
  declare state: "in-service" | "out-of-service" | "on-bench";
  declare state_reason: string;
  declare added_at: CreationOptional<Date>;
}
export class Board extends Model<InferAttributes<Board>, InferCreationAttributes<Board>> {
  declare id: CreationOptional<number>;
  declare chip_id: string;
  declare model_id: string;
  declare target: string;
  declare release_id: string | null;
  declare aircraft_id: number | null;
}
export class Job extends Model<InferAttributes<Job>, InferCreationAttributes<Job>> {
  declare id: CreationOptional<number>;
  declare bench_id: number;
  declare bay_no: number;
  declare aircraft_id: number;
  declare chip_id: string;
  declare goal: object;
  declare steps: object;
  declare documents: object | null;
  declare state: CreationOptional<"open" | "finished" | "stopped">;
  declare headline: CreationOptional<string>;
  declare ordered_by: string;
  declare ordered_at: CreationOptional<Date>;
  declare ended_at: Date | null;
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
}
export class Order extends Model<InferAttributes<Order>, InferCreationAttributes<Order>> {
  declare id: CreationOptional<string>;
  declare bench_id: number;
  declare bay_no: number;
  declare job_id: number | null;
  declare body: object;
  declare account: string;
  declare created_at: CreationOptional<Date>;
  declare state: CreationOptional<"waiting" | "taken" | "done" | "refused">;
  declare problem: Problem | null;
  declare done_at: Date | null;
}

export interface Models {
  readonly CatalogueDocumentRow: typeof CatalogueDocumentRow;
  readonly ImageRow: typeof ImageRow;
  readonly Aircraft: typeof Aircraft;
  readonly Board: typeof Board;
  readonly Job: typeof Job;
  readonly Backup: typeof Backup;
  readonly Order: typeof Order;
}

/** Defines the models on a connection. What is guarded or hot (accounts, blobs, journal, bays, simulated flash) is plain SQL. */
export function initModels(sequelize: Sequelize): Models {
  const { TEXT, INTEGER, DATE, JSONB, BIGINT } = DataTypes;
  const id = { type: INTEGER, autoIncrement: true, primaryKey: true };
  const options = (modelName: string, tableName: string) => ({ sequelize, modelName, tableName, timestamps: false });
  CatalogueDocumentRow.init(
    {
      id,
      kind: TEXT,
      document_id: TEXT,
      version: INTEGER,
      text: TEXT,
      sha256: TEXT,
      imported_by: TEXT,
      imported_at: DATE,
    },
    options("CatalogueDocumentRow", "catalogue_documents"),
  );
  ImageRow.init(
    { id, release_id: TEXT, target: TEXT, sha256: TEXT, length_bytes: INTEGER, imported_by: TEXT, imported_at: DATE },
    options("ImageRow", "images"),
  );
  Aircraft.init(
    { id, tag: TEXT, label: TEXT, type: TEXT, state: TEXT, state_reason: TEXT, added_at: DATE },
    options("Aircraft", "aircraft"),
  );
  Board.init(
    { id, chip_id: TEXT, model_id: TEXT, target: TEXT, release_id: TEXT, aircraft_id: INTEGER },
    options("Board", "boards"),
  );
  Job.init(
    {
      id,
      bench_id: INTEGER,
      bay_no: INTEGER,
      aircraft_id: INTEGER,
      chip_id: TEXT,
      goal: JSONB,
      steps: JSONB,
      documents: JSONB,
      state: TEXT,
      headline: TEXT,
      ordered_by: TEXT,
      ordered_at: DATE,
      ended_at: DATE,
    },
    options("Job", "jobs"),
  );
  Backup.init(
    {
      id,
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
    },
    options("Backup", "backups"),
  );
  Order.init(
    {
      id: { type: BIGINT, autoIncrement: true, primaryKey: true },
      bench_id: INTEGER,
      bay_no: INTEGER,
      job_id: INTEGER,
      body: JSONB,
      account: TEXT,
      created_at: DATE,
      state: TEXT,
      problem: JSONB,
      done_at: DATE,
    },
    options("Order", "orders"),
  );
  return { CatalogueDocumentRow, ImageRow, Aircraft, Board, Job, Backup, Order };
}
