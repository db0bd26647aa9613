import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type NonAttribute,
  type Sequelize,
} from "sequelize";
import type { CampaignGoal } from "@/core/campaign";
import { over, serial } from "@/server/models/columns";

export class CampaignRow extends Model<InferAttributes<CampaignRow>, InferCreationAttributes<CampaignRow>> {
  declare id: CreationOptional<number>;
  declare type: string;
  declare title: string;
  declare goal: CampaignGoal;
  declare note: string;
  declare made_by: string;
  declare made_at: CreationOptional<Date>;
  declare state: "open" | "paused" | "ended";
  declare state_reason: CreationOptional<string>;
  declare changed_by: CreationOptional<string | null>;
  declare changed_at: CreationOptional<Date | null>;
  declare members?: NonAttribute<CampaignMemberRow[]>;
}

export class CampaignMemberRow extends Model<
  InferAttributes<CampaignMemberRow>,
  InferCreationAttributes<CampaignMemberRow>
> {
  declare campaign_id: number;
  declare aircraft_id: number;
  declare place: number;
  declare left_out: CreationOptional<string | null>;
  declare left_out_by: CreationOptional<string | null>;
  declare left_out_at: CreationOptional<Date | null>;
}

/** The newest of a key counts; the older ones stay. */
export class CampaignDecisionRow extends Model<
  InferAttributes<CampaignDecisionRow>,
  InferCreationAttributes<CampaignDecisionRow>
> {
  declare id: CreationOptional<number>;
  declare campaign_id: number;
  declare key: string;
  declare choice_id: string;
  declare account: string;
  declare at: CreationOptional<Date>;
}

export class CampaignJob extends Model<InferAttributes<CampaignJob>, InferCreationAttributes<CampaignJob>> {
  declare job_id: number;
  declare campaign_id: number;
  declare campaign?: NonAttribute<CampaignRow>;
}

export const campaign = { CampaignRow, CampaignMemberRow, CampaignDecisionRow, CampaignJob };

export function defineCampaign(sequelize: Sequelize): void {
  const { DATE, INTEGER, JSONB, TEXT } = DataTypes;
  CampaignRow.init(
    {
      id: serial,
      type: TEXT,
      title: TEXT,
      goal: JSONB,
      note: TEXT,
      made_by: TEXT,
      made_at: DATE,
      state: TEXT,
      state_reason: TEXT,
      changed_by: TEXT,
      changed_at: DATE,
    },
    over(sequelize, "CampaignRow", "campaigns"),
  );
  CampaignMemberRow.init(
    {
      campaign_id: { type: INTEGER, primaryKey: true },
      aircraft_id: { type: INTEGER, primaryKey: true },
      place: INTEGER,
      left_out: TEXT,
      left_out_by: TEXT,
      left_out_at: DATE,
    },
    over(sequelize, "CampaignMemberRow", "campaign_members"),
  );
  CampaignDecisionRow.init(
    { id: serial, campaign_id: INTEGER, key: TEXT, choice_id: TEXT, account: TEXT, at: DATE },
    over(sequelize, "CampaignDecisionRow", "campaign_decisions"),
  );
  CampaignJob.init(
    { job_id: { type: INTEGER, primaryKey: true }, campaign_id: INTEGER },
    over(sequelize, "CampaignJob", "campaign_jobs"),
  );
  CampaignRow.hasMany(CampaignMemberRow, { as: "members", foreignKey: "campaign_id" });
  CampaignJob.belongsTo(CampaignRow, { as: "campaign", foreignKey: "campaign_id" });
}
