import { UniqueConstraintError } from "sequelize";
import { ProblemError } from "@/core/problem";
import { getDb } from "@/server/db";
import { addGrounding } from "@/server/repositories/groundings";
import { inTransaction, likeText, one, rows } from "@/server/sql";
import type { Aircraft } from "@/server/models";

/** The state of an aircraft in one word, the most urgent first. */
export const STANDINGS = ["out-of-service", "on-bench", "no-backup", "old-backup", "in-service"] as const;
export type StandingKind = (typeof STANDINGS)[number];

export interface RegisterRow {
  readonly id: number;
  readonly tag: string;
  readonly label: string;
  readonly type: string;
  readonly state: Aircraft["state"];
  readonly state_reason: string;
  readonly standing: StandingKind;
  readonly model_id: string | null;
  readonly target: string | null;
  readonly release_id: string | null;
  readonly chip_id: string | null;
  readonly complete_at: Date | null;
  readonly complete_id: number | null;
  readonly last_verdict: string | null;
  readonly job_id: number | null;
  readonly job_headline: string | null;
}

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

const FITS = `($1 = '' or tag ilike $1 or label ilike $1 or type ilike $1 or target ilike $1 or state_reason ilike $1
    or model_id = any($2) or release_id = any($3))
  and ($4 = '' or type = $4) and ($5 = '' or release_id = $5) and ($6 = '' or standing = $6)`;

/** One page of the part of the register that fits. */
export async function readRegister(view: RegisterView = {}): Promise<RegisterPage> {
  const text = view.text?.trim() ?? "";
  const wanted = text === "" ? "" : likeText(text);
  const fits = [
    wanted,
    view.modelIds ?? [],
    view.releaseIds ?? [],
    view.type ?? "",
    view.releaseId ?? "",
    view.standing ?? "",
  ];
  // what is not known stands first going up; tags are always known, and so an index gives their order
  const direction = view.down === true ? "desc nulls last" : "asc nulls first";
  const turn = view.down === true ? "desc" : "asc";
  const order = [...ORDERS[view.order ?? "tag"].map((column) => `${column} ${direction}`), `tag ${turn}`].join(", ");
  const narrowed = fits.some((part) => part.length > 0);
  const [count, page] = await Promise.all([
    one<{ found: number }>(
      narrowed
        ? `select count(*)::int as found from register where ${FITS}`
        : "select count(*)::int as found from aircraft",
      narrowed ? fits : [],
    ),
    rows<RegisterRow>(`select * from register where ${FITS} order by ${order} limit $7 offset $8`, [
      ...fits,
      REGISTER_PAGE,
      ((view.page ?? 1) - 1) * REGISTER_PAGE,
    ]),
  ]);
  return { rows: page, found: count?.found ?? 0 };
}

export interface RegisterSummary {
  readonly total: number;
  readonly standings: Readonly<Partial<Record<StandingKind, number>>>;
  readonly types: readonly string[];
  readonly releaseIds: readonly string[];
}

/** The fleet in figures, and what it can be narrowed to. */
export async function summariseRegister(): Promise<RegisterSummary> {
  const groups = await rows<{ standing: StandingKind; type: string; release_id: string | null; count: number }>(
    "select standing, type, release_id, count(*)::int as count from register group by standing, type, release_id",
  );
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
  rows("select * from register where standing <> 'in-service' order by urgency, tag limit $1", [count]);

/** Tags of the fleet, for choosing one. */
export async function listTags(): Promise<string[]> {
  return (await rows<{ tag: string }>("select tag from aircraft order by tag limit 5000")).map((row) => row.tag);
}

export const aircraftByTag = (tag: string): Promise<RegisterRow | undefined> =>
  one("select * from register where tag = $1", [tag]);

export const aircraftById = (id: number): Promise<RegisterRow | undefined> =>
  one("select * from register where id = $1", [id]);

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
