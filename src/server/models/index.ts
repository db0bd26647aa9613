import type { Model, ModelAttributes, Sequelize } from "sequelize";
import { bench, defineBench } from "@/server/models/bench";
import { campaign, defineCampaign } from "@/server/models/campaign";
import { catalogue, defineCatalogue } from "@/server/models/catalogue";
import { defineFleet, fleet } from "@/server/models/fleet";
import { definePeople, people } from "@/server/models/people";
import { defineRecord, record } from "@/server/models/record";
import { storable } from "@/server/storable";

export { STANDINGS } from "@/server/models/fleet";
export { READ_OUT } from "@/server/models/record";
export type * from "@/server/models/bench";
export type * from "@/server/models/campaign";
export type * from "@/server/models/catalogue";
export type * from "@/server/models/fleet";
export type * from "@/server/models/people";
export type * from "@/server/models/record";
export type * from "@/server/models/shapes";

const MODELS = { ...people, ...catalogue, ...fleet, ...bench, ...record, ...campaign };
export type Models = typeof MODELS;

/** Whatever is written to a column of text or JSON is such that PostgreSQL can keep it. */
function keepStorable(attributes: ModelAttributes): void {
  for (const [name, attribute] of Object.entries(attributes)) {
    const column = typeof attribute === "object" && "type" in attribute ? attribute : { type: attribute };
    attributes[name] = {
      ...column,
      set(this: Model, value: unknown) {
        this.setDataValue(name as never, storable(value));
      },
    };
  }
}

/** Defines the models on their connections. The chain of seals is the database's own, and read as text in `chain.ts`. */
export function initModels(sequelize: Sequelize): Models {
  sequelize.addHook("beforeDefine", keepStorable);
  for (const define of [definePeople, defineCatalogue, defineFleet, defineBench, defineRecord, defineCampaign])
    define(sequelize);
  return MODELS;
}
