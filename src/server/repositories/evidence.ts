import type { Catalogue } from "@/core/catalog";
import { padsOf, resolve } from "@/core/compare";
import { cluesOf, type Clue, type PadUses } from "@/core/identify";
import type { BayLive } from "@/core/job";
import { boardsByChip } from "@/server/repositories/boards";
import { readBay } from "@/server/repositories/bench";
import { readingOf } from "@/server/repositories/readings";
import { literal, Op } from "sequelize";
import { getDb } from "@/server/db";
import { first, list } from "@/server/sql";

/** How common each model is in this workshop: one more than it has boards of it. */
export async function modelPrior(): Promise<Map<string, number>> {
  const counted = await getDb().Board.count({ group: ["model_id"] });
  return new Map(counted.map(({ model_id, count }) => [String(model_id), count + 1]));
}

export interface BaySigns {
  readonly live: BayLive;
  readonly clues: readonly Clue[];
}

/** What the board in a bay says by itself, and what the register says of it. Undefined: there is no such bay. */
export async function signsOfBay(bayNo: number, catalogue: Catalogue): Promise<BaySigns | undefined> {
  const live = (await readBay(bayNo))?.live;
  if (!live) return undefined;
  if (live.presence === undefined || live.presence === "none") return { live, clues: [] };
  const known = live.chipId === undefined ? [] : await boardsByChip(live.chipId);
  const { usb, target, boardName, processor } = live;
  const signs = {
    ...(usb === undefined ? {} : { usb }),
    ...(target === undefined ? {} : { target }),
    ...(boardName === undefined ? {} : { boardName }),
    ...(processor === undefined ? {} : { processor }),
    ...(known.length === 1 && known[0] ? { modelId: known[0].model_id } : {}),
  };
  return { live, clues: cluesOf(signs, catalogue) };
}

/** What each pad of an aircraft serves by its newest complete read-out, and under which target and release that was. */
export interface AircraftPads {
  readonly backup: string;
  readonly releaseId: string;
  readonly target: string;
  readonly uses: PadUses;
}

export async function padsOfAircraft(tag: string, catalogue: Catalogue): Promise<AircraftPads | undefined> {
  const newest = await first(getDb().Backup, {
    where: { verdict: "complete", release_id: { [Op.ne]: null } },
    attributes: ["sha256", "name", "release_id", "target"],
    include: [{ association: "aircraft", attributes: [], where: { tag }, required: true }],
    order: [["taken_at", "desc"]],
  });
  const release = newest && catalogue.releases.get(newest.release_id ?? "");
  if (!release || newest.target === null) return undefined;
  const { pins } = release;
  const { configuration } = await readingOf(newest.sha256);
  const pads = pins ? padsOf(resolve(configuration, release), pins) : [];
  return {
    backup: newest.name,
    releaseId: release.id,
    target: newest.target,
    uses: new Map(pads.map(({ pad, does }) => [pad, does])),
  };
}

/** Tags that have a complete read-out, for choosing whose pads are looked at. */
export async function tagsWithReadouts(): Promise<string[]> {
  const found = await list(getDb().Aircraft, {
    where: literal(
      `exists (select from backups where aircraft_id = "Aircraft".id and verdict = 'complete' and part is null)`,
    ),
    attributes: ["tag"],
    order: ["tag"],
    limit: 3000,
  });
  return found.map(({ tag }) => tag);
}
