import type { Catalogue } from "@/core/catalog";
import { padsOf, resolve } from "@/core/compare";
import { cluesOf, type Clue, type PadUses } from "@/core/identify";
import type { BayLive } from "@/core/job";
import { boardsByChip } from "@/server/repositories/boards";
import { readBay } from "@/server/repositories/bench";
import { readingOf } from "@/server/repositories/readings";
import { one, rows } from "@/server/sql";

/** How common each model is in this workshop: one more than it has boards of it. */
export async function modelPrior(): Promise<Map<string, number>> {
  const counted = await rows<{ model_id: string; n: number }>(
    "select model_id, count(*)::int as n from boards group by model_id",
  );
  return new Map(counted.map(({ model_id, n }) => [model_id, n + 1]));
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
  const newest = await one<{ sha256: string; name: string; release_id: string; target: string | null }>(
    `select b.sha256, b.name, b.release_id, b.target from backups b join aircraft a on a.id = b.aircraft_id
     where a.tag = $1 and b.verdict = 'complete' and b.release_id is not null order by b.taken_at desc limit 1`,
    [tag],
  );
  const release = newest && catalogue.releases.get(newest.release_id);
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

/** Tags of the aircraft that fly with a model. */
export async function aircraftWith(modelId: string): Promise<string[]> {
  const found = await rows<{ tag: string }>(
    "select distinct a.tag from boards b join aircraft a on a.id = b.aircraft_id where b.model_id = $1 order by a.tag limit 300",
    [modelId],
  );
  return found.map(({ tag }) => tag);
}

/** Tags that have a complete read-out, for choosing whose pads are looked at. */
export async function tagsWithReadouts(): Promise<string[]> {
  const found = await rows<{ tag: string }>(
    "select distinct a.tag from backups b join aircraft a on a.id = b.aircraft_id where b.verdict = 'complete' order by a.tag limit 3000",
  );
  return found.map(({ tag }) => tag);
}
