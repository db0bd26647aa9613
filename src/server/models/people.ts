import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type NonAttribute,
  type Sequelize,
} from "sequelize";
import { bigSerial, over, serial } from "@/server/models/columns";
import type { Role } from "@/server/roles";

export class Account extends Model<InferAttributes<Account>, InferCreationAttributes<Account>> {
  declare id: CreationOptional<number>;
  declare name: string;
  declare person: CreationOptional<string>;
  declare role: Role;
  declare password_hash: string;
  /** It was given by somebody else, and has to be replaced. */
  declare password_temporary: CreationOptional<boolean>;
  declare disabled_at: CreationOptional<Date | null>;
  declare created_at: CreationOptional<Date>;
  declare second_key: CreationOptional<string | null>;
  /** Of the code that counted last (RFC 6238). */
  declare second_step: CreationOptional<string | null>;
}

export class Session extends Model<InferAttributes<Session>, InferCreationAttributes<Session>> {
  /** SHA-256 of the token that only the browser holds. */
  declare id: string;
  declare account_id: number;
  declare address: string;
  declare browser: string;
  declare created_at: CreationOptional<Date>;
  declare seen_at: CreationOptional<Date>;
  declare ended_at: CreationOptional<Date | null>;
  declare ended_why: CreationOptional<string | null>;
  declare account?: NonAttribute<Account>;
}

export type SignInOutcome = "in" | "refused" | "throttled" | "out" | "unlocked";

export class SignIn extends Model<InferAttributes<SignIn>, InferCreationAttributes<SignIn>> {
  declare id: CreationOptional<string>;
  declare at: CreationOptional<Date>;
  declare account_id: number | null;
  /** Keyed hash of the name as it was typed, which may have been a password. */
  declare who: string;
  declare device: string;
  declare address: string;
  declare browser: string;
  declare outcome: SignInOutcome;
  declare detail: string;
  declare account?: NonAttribute<Account | null>;
}

/** What only this workshop knows. */
export class Secret extends Model<InferAttributes<Secret>, InferCreationAttributes<Secret>> {
  declare name: string;
  declare value: string;
  declare made_at: CreationOptional<Date>;
}

/** Public half of a key that signs visits' papers (Ed25519, RFC 8032); its secret of the same name is the other half. */
export class SigningKey extends Model<InferAttributes<SigningKey>, InferCreationAttributes<SigningKey>> {
  declare id: CreationOptional<number>;
  declare name: string;
  /** RFC 7638. */
  declare thumbprint: string;
  declare x: string;
  declare made_by: string;
  declare made_at: CreationOptional<Date>;
  declare reason: string;
  declare secret?: NonAttribute<Secret>;
}

export const people = { Account, Session, SignIn, Secret, SigningKey };

export function definePeople(sequelize: Sequelize): void {
  const { BIGINT, BOOLEAN, DATE, INTEGER, TEXT } = DataTypes;
  Account.init(
    {
      id: serial,
      name: TEXT,
      person: TEXT,
      role: TEXT,
      password_hash: TEXT,
      password_temporary: BOOLEAN,
      disabled_at: DATE,
      created_at: DATE,
      second_key: TEXT,
      second_step: BIGINT,
    },
    over(sequelize, "Account", "accounts"),
  );
  Session.init(
    {
      id: { type: TEXT, primaryKey: true },
      account_id: INTEGER,
      address: TEXT,
      browser: TEXT,
      created_at: DATE,
      seen_at: DATE,
      ended_at: DATE,
      ended_why: TEXT,
    },
    over(sequelize, "Session", "sessions"),
  );
  SignIn.init(
    {
      id: bigSerial,
      at: DATE,
      account_id: INTEGER,
      who: TEXT,
      device: TEXT,
      address: TEXT,
      browser: TEXT,
      outcome: TEXT,
      detail: TEXT,
    },
    over(sequelize, "SignIn", "sign_ins"),
  );
  Secret.init(
    { name: { type: TEXT, primaryKey: true }, value: TEXT, made_at: DATE },
    over(sequelize, "Secret", "secrets"),
  );
  SigningKey.init(
    { id: serial, name: TEXT, thumbprint: TEXT, x: TEXT, made_by: TEXT, made_at: DATE, reason: TEXT },
    over(sequelize, "SigningKey", "signing_keys"),
  );
  Session.belongsTo(Account, { as: "account", foreignKey: "account_id" });
  SignIn.belongsTo(Account, { as: "account", foreignKey: "account_id" });
  SigningKey.belongsTo(Secret, { as: "secret", foreignKey: "name", targetKey: "name" });
}
