import { LOADER_PART, MAIN_PART, mountsOf, partOf, type Catalogue, type Firmware } from "@/core/catalog";
import { saidByName } from "@/core/part";
import { getDb } from "@/server/db";
import { list } from "@/server/sql";
import { Op } from "sequelize";

/** What of the workshop an image fits: asked of its release and target. */
export type Fits = (release: Firmware, target: string) => boolean;

const named = (kind: string, target: string) => `${kind} ${target}`;

/** What there is in the workshop for images to fit: boards by their targets and processors, parts by what they are built for, read or said. */
export async function whatFits(catalogue: Catalogue): Promise<Fits> {
  const { Backup, Board, FittingRow } = getDb();
  const boards = await Board.findAll({ attributes: ["model_id", "target"], group: ["model_id", "target"], raw: true });
  const models = boards.flatMap(({ model_id: id }) => catalogue.models.get(id) ?? []);
  const read = await Backup.unscoped().findAll({
    where: { part: { [Op.ne]: null }, target: { [Op.ne]: null } },
    attributes: ["part", "target"],
    group: ["part", "target"],
    raw: true,
  });
  const said = [
    ...(await list(FittingRow, { attributes: ["mount"] })).map(({ mount }) => mount),
    ...models.flatMap(mountsOf),
  ];
  const there = new Set([
    ...boards.map(({ target }) => named(MAIN_PART, target)),
    ...models.map(({ target }) => named(MAIN_PART, target)),
    ...models.map(({ processor }) => named(LOADER_PART, processor)),
    ...read.map(({ part, target }) => named(saidByName(part ?? "").part, target ?? "")),
    ...said.flatMap(({ part, target }) => (target === undefined ? [] : [named(part, target)])),
  ]);
  // of a part whose code nobody has said or read, any could be right
  const open = new Set(said.flatMap(({ part, target }) => (target === undefined ? [part] : [])));
  return (release, target) => {
    const kind = partOf(release);
    // a loader is for every board with its processor
    const { processor } = release.targets.find(({ id }) => id === target) ?? {};
    return open.has(kind) || [target, processor].some((each) => each !== undefined && there.has(named(kind, each)));
  };
}
