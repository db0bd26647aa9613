import { DataTypes, type Sequelize } from "sequelize";

const { BIGINT, INTEGER } = DataTypes;

/** Numbered by the database. */
export const serial = { type: INTEGER, autoIncrement: true, primaryKey: true } as const;
export const bigSerial = { type: BIGINT, autoIncrement: true, primaryKey: true } as const;

/** Options of a model over a table or view; every column is named as in the database. */
export const over = (sequelize: Sequelize, modelName: string, tableName: string) => ({
  sequelize,
  modelName,
  tableName,
  timestamps: false,
});
