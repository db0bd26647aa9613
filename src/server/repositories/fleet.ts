import { Op, UniqueConstraintError, type Order, type WhereOptions } from "sequelize";
import { ProblemError } from "@/core/problem";
import { getDb } from "@/server/db";
import { addGrounding } from "@/server/repositories/groundings";
import { first, inTransaction, likeText, list, type Row } from "@/server/sql";
import type { RegisterEntry, StandingKind } from "@/server/models";

export { STANDINGS, type StandingKind } from "@/server/models";

export type RegisterRow = Row<RegisterEntry>;

/** What the register can be sorted by; each order ends with the tag, so that it is one. */
const ORDERS = {
  tag: [],
  type: ["type"],
  board: ["model_id", "target"],
  firmware: ["release_id"],
  backup: ["complete_at"],
  state: ["urgency"],
} as const;
export const REGISTER_ORDERS = Object.keys(ORDERS) as (keyof typeof ORDERS)[];

/** So many aircraft stand on one page of the register. */
export const REGISTER_PAGE = 50;

export interface RegisterView {
  readonly text?: string;
  readonly type?: string;
  readonly releaseId?: string;
  readonly standing?: StandingKind | undefined;
  readonly order?: keyof typeof ORDERS;
  readonly down?: boolean;
  /** From 1. */
  readonly page?: number;
  /** Models and releases whose titles fit the text: the database does not know titles. */
  readonly modelIds?: readonly string[];
  readonly releaseIds?: readonly string[];
}

export interface RegisterPage {
  readonly rows: readonly RegisterRow[];
  /** How many fit the view. */
  readonly found: number;
}

const SEARCHED = ["tag", "label", "type", "target", "state_reason"] as const;

function fitting({ text = "", type = "", releaseId = "", standing, modelIds = [], releaseIds = [] }: RegisterView) {
  const wanted = text.trim();
  const says = { [Op.iLike]: likeText(wanted) };
  const anywhere = [
    ...SEARCHED.map((column) => ({ [column]: says })),
    { model_id: [...modelIds] },
    { release_id: [...releaseIds] },
  ];
  return [
    ...(wanted === "" ? [] : [{ [Op.or]: anywhere }]),
    ...(type === "" ? [] : [{ type }]),
    ...(releaseId === "" ? [] : [{ release_id: releaseId }]),
    ...(standing === undefined ? [] : [{ standing }]),
  ] satisfies WhereOptions<RegisterEntry>[];
}

/** One page of the part of the register that fits. */
export async function readRegister(view: RegisterView = {}): Promise<RegisterPage> {
  const { Aircraft, RegisterEntry } = getDb();
  // what is not known stands first going up; tags are always known, and so an index gives their order
  const [unknown, turn] = view.down === true ? ["desc nulls last", "desc"] : ["asc nulls first", "asc"];
  const order: Order = [
    ...ORDERS[view.order ?? "tag"].map((column): [string, string] => [column, unknown]),
    ["tag", turn],
  ];
  const fits = fitting(view);
  const where = { [Op.and]: fits };
  const [found, page] = await Promise.all([
    // all of them are counted without what the view joins
    fits.length > 0 ? RegisterEntry.count({ where }) : Aircraft.count(),
    list(RegisterEntry, { where, order, limit: REGISTER_PAGE, offset: ((view.page ?? 1) - 1) * REGISTER_PAGE }),
  ]);
  return { rows: page, found };
}

export interface RegisterSummary {
  readonly total: number;
  readonly standings: Readonly<Partial<Record<StandingKind, number>>>;
  readonly types: readonly string[];
  readonly releaseIds: readonly string[];
}

/** The fleet in figures, and what it can be narrowed to. */
export async function summariseRegister(): Promise<RegisterSummary> {
  const groups = (await getDb().RegisterEntry.count({
    group: ["standing", "type", "release_id"],
  })) as unknown as { standing: StandingKind; type: string; release_id: string | null; count: number }[];
  const standings: Partial<Record<StandingKind, number>> = {};
  for (const { standing, count } of groups) standings[standing] = (standings[standing] ?? 0) + count;
  return {
    total: groups.reduce((sum, group) => sum + group.count, 0),
    standings,
    types: [...new Set(groups.map((group) => group.type))].toSorted(),
    releaseIds: [...new Set(groups.flatMap((group) => group.release_id ?? []))].toSorted(),
  };
}

/** The aircraft that need somebody, the most urgent first. */
export const mostUrgent = (count: number): Promise<RegisterRow[]> =>
  list(getDb().RegisterEntry, {
    where: { standing: { [Op.ne]: "in-service" } },
    order: ["urgency", "tag"],
    limit: count,
  });

/** Tags of the fleet, for choosing one. */
export async function listTags(): Promise<string[]> {
  const found = await list(getDb().Aircraft, { attributes: ["tag"], order: ["tag"], limit: 5000 });
  return found.map(({ tag }) => tag);
}

export const aircraftByTag = (tag: string): Promise<RegisterRow | undefined> =>
  first(getDb().RegisterEntry, { where: { tag } });

export const aircraftById = (id: number): Promise<RegisterRow | undefined> =>
  first(getDb().RegisterEntry, { where: { id } });

export interface NewAircraft {
  readonly tag: string;
  readonly label: string;
  readonly type: string;
}

export async function addAircraft(aircraft: NewAircraft): Promise<number> {
  try {
    return await inTransaction(async (transaction) => {
      const reason = "Never had a board on this bench";
      const fresh = { ...aircraft, state: "out-of-service", state_reason: reason } as const;
      const { id } = await getDb().Aircraft.create(fresh, { transaction });
      await addGrounding({ aircraftId: id, cause: "board", reason, account: "workshop" }, transaction);
      return id;
    });
  } catch (error) {
    if (error instanceof UniqueConstraintError)
      throw new ProblemError({
        code: "tag-taken",
        message: `The tag ${aircraft.tag} is taken`,
        hint: "Tags are unique in a workshop",
      });
    throw error;
  }
}

export async function relabelAircraft(tag: string, label: string): Promise<void> {
  const [changed] = await inTransaction((transaction) =>
    getDb().Aircraft.update({ label }, { where: { tag }, transaction }),
  );
  if (changed === 0) throw new ProblemError({ code: "aircraft-none", message: `There is no aircraft ${tag}` });
}
