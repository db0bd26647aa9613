import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type NonAttribute,
  type Sequelize,
} from "sequelize";
import type { BayLive, KeptGoal, StepSpec } from "@/core/job";
import type { Problem } from "@/core/problem";
import type { BoardSnapshot } from "@/core/sim";
import { bigSerial, over, serial } from "@/server/models/columns";
import { Aircraft } from "@/server/models/fleet";
import type { PortSeen } from "@/contracts/answers/live";
import type { PinnedDocument } from "@/server/models/shapes";

export class Bench extends Model<InferAttributes<Bench>, InferCreationAttributes<Bench>> {
  declare id: CreationOptional<number>;
  declare name: string;
  /** Raised by each process that takes the bench over. */
  declare fence: CreationOptional<string>;
  /** Number of the next entry of its journal. */
  declare next_no: CreationOptional<string>;
  declare clock_factor: CreationOptional<number>;
  declare seen_at: CreationOptional<Date | null>;
  /** The serial ports that its machine has. */
  declare ports: CreationOptional<readonly PortSeen[]>;
}

export class BayRow extends Model<InferAttributes<BayRow>, InferCreationAttributes<BayRow>> {
  declare bench_id: number;
  declare no: number;
  declare live: BayLive;
  /** The port of the machine that it is; null: a simulated socket. */
  declare port: CreationOptional<string | null>;
}

export class Job extends Model<InferAttributes<Job>, InferCreationAttributes<Job>> {
  declare id: CreationOptional<number>;
  declare bench_id: number;
  declare bay_no: number;
  declare aircraft_id: number;
  declare chip_id: string;
  declare goal: KeptGoal;
  declare steps: readonly StepSpec[];
  /** Versions of the documents that it rests on; null for jobs from before they were noted. */
  declare documents: readonly PinnedDocument[] | null;
  declare state: CreationOptional<"open" | "finished" | "stopped">;
  declare headline: CreationOptional<string>;
  declare ordered_by: string;
  declare ordered_at: CreationOptional<Date>;
  declare ended_at: Date | null;
  declare aircraft?: NonAttribute<Aircraft>;
}

export class JournalRow extends Model<InferAttributes<JournalRow>, InferCreationAttributes<JournalRow>> {
  declare bench_id: number;
  /** Counted for each bench, in the order of commits. */
  declare no: string;
  declare at: CreationOptional<Date>;
  declare job_id: number | null;
  declare bay_no: number | null;
  declare account: string | null;
  declare entry: object;
}

export class Order extends Model<InferAttributes<Order>, InferCreationAttributes<Order>> {
  declare id: CreationOptional<string>;
  declare bench_id: number;
  declare bay_no: number;
  declare job_id: number | null;
  declare body: object;
  declare account: string;
  declare created_at: CreationOptional<Date>;
  declare good_until: CreationOptional<Date>;
  declare state: CreationOptional<"waiting" | "taken" | "done" | "refused">;
  declare problem: CreationOptional<Problem | null>;
  declare done_at: CreationOptional<Date | null>;
}

export class SimBoard extends Model<InferAttributes<SimBoard>, InferCreationAttributes<SimBoard>> {
  declare id: CreationOptional<number>;
  declare label: string;
  declare chip_id: string;
  declare model_id: string;
  declare first_port: number;
  declare bench_id: CreationOptional<number | null>;
  declare bay_no: CreationOptional<number | null>;
  declare clock_us: CreationOptional<string>;
  declare snapshot: CreationOptional<BoardSnapshot | Record<string, never>>;
}

export class SimFlash extends Model<InferAttributes<SimFlash>, InferCreationAttributes<SimFlash>> {
  declare board_id: number;
  declare chunk: number;
  declare bytes: Buffer;
}

export const bench = { Bench, BayRow, Job, JournalRow, Order, SimBoard, SimFlash };

export function defineBench(sequelize: Sequelize): void {
  const { BIGINT, BLOB, DATE, INTEGER, JSONB, REAL, TEXT } = DataTypes;
  Bench.init(
    { id: serial, name: TEXT, fence: BIGINT, next_no: BIGINT, clock_factor: REAL, seen_at: DATE, ports: JSONB },
    over(sequelize, "Bench", "benches"),
  );
  BayRow.init(
    { bench_id: { type: INTEGER, primaryKey: true }, no: { type: INTEGER, primaryKey: true }, live: JSONB, port: TEXT },
    over(sequelize, "BayRow", "bays"),
  );
  Job.init(
    {
      id: serial,
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
    over(sequelize, "Job", "jobs"),
  );
  JournalRow.init(
    {
      bench_id: { type: INTEGER, primaryKey: true },
      no: { type: BIGINT, primaryKey: true },
      at: DATE,
      job_id: INTEGER,
      bay_no: INTEGER,
      account: TEXT,
      entry: JSONB,
    },
    over(sequelize, "JournalRow", "journal"),
  );
  Order.init(
    {
      id: bigSerial,
      bench_id: INTEGER,
      bay_no: INTEGER,
      job_id: INTEGER,
      body: JSONB,
      account: TEXT,
      created_at: DATE,
      good_until: DATE,
      state: TEXT,
      problem: JSONB,
      done_at: DATE,
    },
    over(sequelize, "Order", "orders"),
  );
  SimBoard.init(
    {
      id: serial,
      label: TEXT,
      chip_id: TEXT,
      model_id: TEXT,
      first_port: INTEGER,
      bench_id: INTEGER,
      bay_no: INTEGER,
      clock_us: BIGINT,
      snapshot: JSONB,
    },
    over(sequelize, "SimBoard", "sim_boards"),
  );
  SimFlash.init(
    { board_id: { type: INTEGER, primaryKey: true }, chunk: { type: INTEGER, primaryKey: true }, bytes: BLOB },
    over(sequelize, "SimFlash", "sim_flash"),
  );
  Job.belongsTo(Aircraft, { as: "aircraft", foreignKey: "aircraft_id" });
}
