import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type NonAttribute,
  type Sequelize,
} from "sequelize";
import type { PartMount } from "@/core/catalog";
import { over, serial } from "@/server/models/columns";

export type AircraftState = "in-service" | "out-of-service" | "on-bench";

export class Aircraft extends Model<InferAttributes<Aircraft>, InferCreationAttributes<Aircraft>> {
  declare id: CreationOptional<number>;
  declare tag: string;
  declare label: string;
  declare type: string;
  declare state: AircraftState;
  declare state_reason: string;
  declare added_at: CreationOptional<Date>;
  /** When its newest read-out was taken; kept by the database as read-outs are filed. */
  declare last_at: CreationOptional<Date | null>;
}

export class Board extends Model<InferAttributes<Board>, InferCreationAttributes<Board>> {
  declare id: CreationOptional<number>;
  declare chip_id: string;
  declare model_id: string;
  declare target: string;
  declare release_id: string | null;
  declare aircraft_id: number | null;
  declare aircraft?: NonAttribute<Aircraft | null>;
}

/** A board that came to an aircraft, and the one that it came off. */
export class BoardMove extends Model<InferAttributes<BoardMove>, InferCreationAttributes<BoardMove>> {
  declare id: CreationOptional<number>;
  declare board_id: number;
  declare aircraft_id: number;
  declare from_aircraft_id: number | null;
  declare chip_id: string;
  declare model_id: string;
  declare account: string;
  declare at: CreationOptional<Date>;
  declare aircraft?: NonAttribute<Aircraft>;
  declare from?: NonAttribute<Aircraft | null>;
}

/**
 * Who keeps an aircraft on the ground: `person`, for a reason of the workshop's, which only a person takes back; `board`
 * and `job`, until a job on it is signed off.
 */
export type GroundingCause = "person" | "board" | "job";

export class GroundingRow extends Model<InferAttributes<GroundingRow>, InferCreationAttributes<GroundingRow>> {
  declare id: CreationOptional<number>;
  declare aircraft_id: number;
  declare cause: GroundingCause;
  declare reason: string;
  declare job_id: number | null;
  declare account: string;
  declare at: CreationOptional<Date>;
  declare lifted_by: CreationOptional<string | null>;
  declare lifted_at: CreationOptional<Date | null>;
}

/** The state of an aircraft in one word, the most urgent first. */
export const STANDINGS = ["out-of-service", "on-bench", "no-backup", "old-backup", "in-service"] as const;
export type StandingKind = (typeof STANDINGS)[number];

/** A view: an aircraft with its board, its newest complete read-out and its open job. */
export class RegisterEntry extends Model<InferAttributes<RegisterEntry>> {
  declare id: number;
  declare tag: string;
  declare label: string;
  declare type: string;
  declare state: AircraftState;
  declare state_reason: string;
  declare standing: StandingKind;
  /** Place of the standing in `STANDINGS`, from 1. */
  declare urgency: number;
  declare model_id: string | null;
  declare target: string | null;
  declare release_id: string | null;
  declare chip_id: string | null;
  declare complete_at: Date | null;
  declare complete_id: number | null;
  declare last_verdict: string | null;
  declare job_id: number | null;
  declare job_headline: string | null;
}

/** What somebody said that is fitted to an aircraft beside its board. */
export class FittingRow extends Model<InferAttributes<FittingRow>, InferCreationAttributes<FittingRow>> {
  declare id: CreationOptional<number>;
  declare aircraft_id: number;
  declare part: string;
  declare mount: PartMount;
  declare account: string;
  declare at: CreationOptional<Date>;
}

/** A difference from its standard that a type, or one aircraft of it, may have. */
export class AllowanceRow extends Model<InferAttributes<AllowanceRow>, InferCreationAttributes<AllowanceRow>> {
  declare id: CreationOptional<number>;
  declare type: string;
  declare kind: "area" | "place";
  declare name: string;
  declare aircraft_id: number | null;
  declare reason: string;
  declare made_by: string;
  declare made_at: CreationOptional<Date>;
  declare ended_by: CreationOptional<string | null>;
  declare ended_at: CreationOptional<Date | null>;
  declare aircraft?: NonAttribute<Aircraft | null>;
}

export const fleet = { Aircraft, Board, BoardMove, GroundingRow, RegisterEntry, AllowanceRow, FittingRow };

export function defineFleet(sequelize: Sequelize): void {
  const { DATE, INTEGER, JSONB, TEXT } = DataTypes;
  Aircraft.init(
    { id: serial, tag: TEXT, label: TEXT, type: TEXT, state: TEXT, state_reason: TEXT, added_at: DATE, last_at: DATE },
    over(sequelize, "Aircraft", "aircraft"),
  );
  Board.init(
    { id: serial, chip_id: TEXT, model_id: TEXT, target: TEXT, release_id: TEXT, aircraft_id: INTEGER },
    over(sequelize, "Board", "boards"),
  );
  BoardMove.init(
    {
      id: serial,
      board_id: INTEGER,
      aircraft_id: INTEGER,
      from_aircraft_id: INTEGER,
      chip_id: TEXT,
      model_id: TEXT,
      account: TEXT,
      at: DATE,
    },
    over(sequelize, "BoardMove", "board_moves"),
  );
  GroundingRow.init(
    {
      id: serial,
      aircraft_id: INTEGER,
      cause: TEXT,
      reason: TEXT,
      job_id: INTEGER,
      account: TEXT,
      at: DATE,
      lifted_by: TEXT,
      lifted_at: DATE,
    },
    over(sequelize, "GroundingRow", "groundings"),
  );
  RegisterEntry.init(
    {
      id: { type: INTEGER, primaryKey: true },
      tag: TEXT,
      label: TEXT,
      type: TEXT,
      state: TEXT,
      state_reason: TEXT,
      standing: TEXT,
      urgency: INTEGER,
      model_id: TEXT,
      target: TEXT,
      release_id: TEXT,
      chip_id: TEXT,
      complete_at: DATE,
      complete_id: INTEGER,
      last_verdict: TEXT,
      job_id: INTEGER,
      job_headline: TEXT,
    },
    over(sequelize, "RegisterEntry", "register"),
  );
  FittingRow.init(
    { id: serial, aircraft_id: INTEGER, part: TEXT, mount: JSONB, account: TEXT, at: DATE },
    over(sequelize, "FittingRow", "fittings"),
  );
  AllowanceRow.init(
    {
      id: serial,
      type: TEXT,
      kind: TEXT,
      name: TEXT,
      aircraft_id: INTEGER,
      reason: TEXT,
      made_by: TEXT,
      made_at: DATE,
      ended_by: TEXT,
      ended_at: DATE,
    },
    over(sequelize, "AllowanceRow", "allowances"),
  );
  Board.belongsTo(Aircraft, { as: "aircraft", foreignKey: "aircraft_id" });
  Aircraft.hasMany(Board, { as: "boards", foreignKey: "aircraft_id" });
  BoardMove.belongsTo(Aircraft, { as: "aircraft", foreignKey: "aircraft_id" });
  BoardMove.belongsTo(Aircraft, { as: "from", foreignKey: "from_aircraft_id" });
  AllowanceRow.belongsTo(Aircraft, { as: "aircraft", foreignKey: "aircraft_id" });
}
