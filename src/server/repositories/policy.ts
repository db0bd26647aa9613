import type { Parts } from "@/core/carryover";
import { fleetDrift, withoutAllowed, type Allowance, type Drift, type Judged } from "@/core/compare";
import { isPartAddress } from "@/core/part";
import { ProblemError } from "@/core/problem";
import { needAreas } from "@/server/repositories/areas";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { aircraftByTag } from "@/server/repositories/fleet";
import { readingOf, vectorsOf } from "@/server/repositories/readings";
import type { FleetMember, Standard } from "@/server/repositories/standards";
import { getDb } from "@/server/db";
import { exists, list, NOW } from "@/server/sql";

/** The differences from its standard that a type may have now. */
export async function allowancesOf(type: string): Promise<Allowance[]> {
  const found = await list(getDb().AllowanceRow, {
    where: { type, ended_at: null },
    include: [{ association: "aircraft", attributes: ["tag"] }],
    order: ["id"],
  });
  return found.map(({ id, kind, name, aircraft, reason, made_by: account, made_at: at }) => ({
    ...{ id, kind, name, reason, account, at: at.getTime() },
    ...(aircraft?.tag ? { tag: aircraft.tag } : {}),
  }));
}

/** What of an aircraft's own stays when it goes back to its type's standard, because it is allowed to differ. */
export async function keptByPolicy(
  type: string,
  tag: string,
): Promise<{ readonly parts: Parts; readonly keep: readonly string[] }> {
  const mine = (await allowancesOf(type)).filter((each) => each.tag === undefined || each.tag === tag);
  return {
    parts: Object.fromEntries(mine.flatMap(({ kind, name }) => (kind === "area" ? [[name, "board" as const]] : []))),
    // a job goes back to the standard of the board; what differs behind it is not touched
    keep: mine.flatMap(({ kind, name }) => (kind === "place" && !isPartAddress(name) ? [name] : [])),
  };
}

export interface AllowanceWish extends Pick<Allowance, "kind" | "name" | "reason"> {
  readonly type: string;
  /** One aircraft of the type; all of them without it. */
  readonly tag?: string;
  readonly account: string;
}

/** A lead lets a difference be from now on. Refuses an area that there is not, and an aircraft of another type. */
export async function allow({ type, kind, name, tag, reason, account }: AllowanceWish): Promise<number> {
  const { Aircraft, AllowanceRow } = getDb();
  if (!(await exists(Aircraft, { type })))
    throw new ProblemError({ code: "type-none", message: `No aircraft is of type ${type}` });
  if (kind === "area") await needAreas([name]);
  const aircraft = tag === undefined ? undefined : await aircraftByTag(tag);
  if (tag !== undefined && aircraft?.type !== type)
    throw new ProblemError({ code: "aircraft-none", message: `${tag} is no ${type}` });
  const about = { type, kind, name, aircraft_id: aircraft?.id ?? null };
  return (await AllowanceRow.create({ ...about, reason, made_by: account })).id;
}

/** It counts as a difference again. */
export async function endAllowance(id: number, account: string): Promise<void> {
  const end = { ended_by: account, ended_at: NOW };
  const [ended] = await getDb().AllowanceRow.update(end, { where: { id, ended_at: null } });
  if (ended === 0) throw new ProblemError({ code: "allowance-none", message: "There is no such allowance any more" });
}

/** How the aircraft of a type stand off a standard: all that differs. */
export async function driftOf(standard: Standard, members: readonly FleetMember[]): Promise<Drift> {
  const { configuration, release } = await readingOf(standard.sha256);
  const vectors = await vectorsOf(members.flatMap((member) => member.sha256 ?? []));
  const fleet = members.flatMap(({ tag, sha256 }) => {
    const vector = vectors.get(sha256 ?? "");
    return vector ? [{ tag, vector }] : [];
  });
  return fleetDrift({ configuration, release }, fleet, await loadCatalogue());
}

/** The same without what is allowed. */
export const judgedDrift = async (standard: Standard, members: readonly FleetMember[]): Promise<Judged> =>
  withoutAllowed(await driftOf(standard, members), await allowancesOf(standard.type));
