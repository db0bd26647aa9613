import { col, fn, literal, Op, where, type Transaction, type WhereOptions } from "sequelize";
import { loaderIdOf, releaseById, releaseTitle, sameChip, type Catalogue } from "@/core/catalog";
import { ProblemError } from "@/core/problem";
import { holdFence } from "@/server/repositories/bench";
import { backupName } from "@/server/repositories/backups";
import { addGrounding, settleState } from "@/server/repositories/groundings";
import { getDb } from "@/server/db";
import type { Board, BoardMove as BoardMoveRow } from "@/server/models";
import { first, inTransaction, list, NOW, oneAtATime, run, type Row } from "@/server/sql";

export interface KnownBoard extends Row<Board> {
  readonly tag: string | null;
  readonly aircraft_state: string | null;
}

async function knownBoards(which: WhereOptions<Board>, transaction?: Transaction): Promise<KnownBoard[]> {
  const include = [{ association: "aircraft", attributes: ["tag", "state"] }];
  const found = await list(getDb().Board, { where: which, include, order: ["id"], transaction });
  // of a board that flies on none, all columns of its aircraft are empty
  return found.map((board) => ({
    ...board,
    tag: board.aircraft?.tag ?? null,
    aircraft_state: board.aircraft?.state ?? null,
  }));
}

/**
 * Boards that a chip id belongs to: none, one, or several where chip ids are not unique. Of a board that only its loader
 * told, a word may not be known yet.
 */
export async function boardsByChip(chipId: string, transaction?: Transaction): Promise<KnownBoard[]> {
  const partly = where(fn("strpos", col("Board.chip_id"), "?"), Op.gt, 0);
  const found = await knownBoards({ [Op.or]: [{ chip_id: chipId }, partly] }, transaction);
  const exact = found.filter((board) => board.chip_id === chipId);
  return exact.length > 0 ? exact : found.filter((board) => sameChip(chipId, board.chip_id));
}

/** Boards that a loader's id can be derived from, whether or not an aircraft flies them. */
export async function boardsByLoader(loaderId: string, catalogue: Catalogue): Promise<KnownBoard[]> {
  return (await knownBoards({})).filter((board) => {
    const model = catalogue.models.get(board.model_id);
    const processor = model && catalogue.processors.get(model.processor);
    return processor !== undefined && loaderIdOf(board.chip_id, processor) === loaderId;
  });
}

/** A board as it stands on the bench, and the aircraft that somebody says it belongs to. */
export interface BoardGift {
  readonly chipId: string;
  readonly modelId: string;
  readonly target: string;
  readonly releaseId: string | null;
  readonly tag: string;
  readonly account: string;
  /** It comes off another aircraft, or another board comes off this one, and whoever gives it knows. */
  readonly replace: boolean;
  /** It was taken for its model against what it says: a sentence, with the reason. */
  readonly against?: string;
  /** When it was given, if not now. */
  readonly at?: Date;
  /** The bench that gives it: only for as long as it holds its fence. */
  readonly fence?: { readonly benchId: number; readonly fence: string };
}

interface Receiver {
  readonly id: number;
  readonly state: string;
  /** Chip id of the board that it has. */
  readonly present: string | null;
}

/** The aircraft that a board is given to, held until that is done. */
async function receiverOf(tag: string, transaction: Transaction): Promise<Receiver> {
  const { Aircraft, Board } = getDb();
  const found = await first(Aircraft, {
    where: { tag },
    attributes: ["id", "state"],
    lock: transaction.LOCK.UPDATE,
    transaction,
  });
  if (!found)
    throw new ProblemError({
      code: "aircraft-none",
      message: `There is no aircraft ${tag}`,
      hint: "Add it to the register first",
    });
  const [board] = await list(Board, {
    where: { aircraft_id: found.id },
    attributes: ["chip_id"],
    order: [["id", "desc"]],
    limit: 1,
    transaction,
  });
  return { ...found, present: board?.chip_id ?? null };
}

/** Refuses what would leave two aircraft or two boards in doubt. */
function checkGift(gift: BoardGift, receiver: Receiver, board: KnownBoard | undefined): void {
  const { tag, chipId, replace } = gift;
  const busy = receiver.state === "on-bench" ? tag : board?.aircraft_state === "on-bench" ? board.tag : null;
  if (busy !== null)
    throw new ProblemError({
      code: "aircraft-busy",
      message: `A job on ${busy} is open`,
      hint: "Finish it or stop it first: it is about the board that it was ordered for",
    });
  if (replace || board?.aircraft_id === receiver.id) return;
  const other = receiver.present === null || receiver.present === chipId ? undefined : receiver.present;
  const left = other === undefined ? "" : `, and the board of ${tag}, chip ${other}, no aircraft`;
  if (board?.tag)
    throw new ProblemError({
      code: "board-taken",
      message: `This board belongs to ${board.tag}`,
      detail: `Chip ${chipId}; ${board.tag} would have no board then${left}`,
      hint: `Give it to ${tag} all the same, if it was moved over`,
    });
  if (other !== undefined)
    throw new ProblemError({
      code: "aircraft-has-board",
      message: `${tag} has another board`,
      detail: `Its chip id is ${other}; it would belong to no aircraft then`,
      hint: "Give it all the same, if this one took its place",
    });
}

/**
 * Gives a board to an aircraft: new to the workshop, off the shelf, or off another aircraft. Its read-outs that belonged
 * to nobody come with it. Whoever is concerned stays on the ground until a job is signed off. Recorded by name.
 */
export async function giveBoard(gift: BoardGift, catalogue: Catalogue): Promise<void> {
  await inTransaction(async (transaction) => {
    if (gift.fence) await holdFence(gift.fence.benchId, gift.fence.fence, transaction);
    // one after the other: a board that nobody knows yet has no row to lock, and a move touches two aircraft
    await oneAtATime("boards", transaction);
    const receiver = await receiverOf(gift.tag, transaction);
    const known = await boardsByChip(gift.chipId, transaction);
    if (known.length > 1)
      throw new ProblemError({
        code: "chip-doubled",
        message: "Several boards of this workshop have this chip id",
        detail: `${gift.chipId}: ${known.map((board) => board.tag ?? "of no aircraft").join(", ")}`,
        hint: "A chip id alone does not tell them apart",
      });
    const [board] = known;
    checkGift(gift, receiver, board);
    const boardId = await writeBoard(gift, receiver.id, board, transaction);
    const from = board?.aircraft_id === receiver.id ? null : (board?.aircraft_id ?? null);
    await getDb().BoardMove.create(
      {
        board_id: boardId,
        aircraft_id: receiver.id,
        from_aircraft_id: from,
        chip_id: gift.chipId,
        model_id: gift.modelId,
        account: gift.account,
        at: gift.at ?? new Date(),
      },
      { transaction },
    );
    if (board?.aircraft_id === receiver.id) return;
    const why = ["No job was signed off on its board yet", gift.against].filter(Boolean).join(". ");
    await ground(receiver.id, why, gift.account, transaction);
    if (from !== null) await ground(from, `Its board flies on ${gift.tag} now`, gift.account, transaction);
    await bringReadouts(gift, receiver.id, catalogue, transaction);
  });
}

/** The board's row, belonging to the aircraft; what it had before belongs to none. */
async function writeBoard(
  gift: BoardGift,
  aircraftId: number,
  board: KnownBoard | undefined,
  transaction: Transaction,
): Promise<number> {
  const { Board } = getDb();
  await Board.update(
    { aircraft_id: null },
    { where: { aircraft_id: aircraftId, chip_id: { [Op.ne]: gift.chipId } }, transaction },
  );
  const { chipId: chip_id, modelId: model_id, target, releaseId: release_id } = gift;
  const is = { chip_id, model_id, target, release_id, aircraft_id: aircraftId };
  if (!board) return (await Board.create(is, { transaction })).id;
  await Board.update(is, { where: { id: board.id }, transaction });
  return board.id;
}

async function ground(aircraftId: number, reason: string, account: string, transaction: Transaction): Promise<void> {
  // the newest says how it stands with its boards; what was said of them before is over
  await getDb().GroundingRow.update(
    { lifted_by: account, lifted_at: NOW },
    { where: { aircraft_id: aircraftId, cause: "board", lifted_at: null }, transaction },
  );
  await addGrounding({ aircraftId, cause: "board", reason, account }, transaction);
  await settleState(aircraftId, transaction);
}

/** Read-outs of this chip that belonged to no aircraft are filed with it as well: the old ones stay as they are. */
async function bringReadouts(
  gift: BoardGift,
  aircraftId: number,
  catalogue: Catalogue,
  transaction: Transaction,
): Promise<void> {
  const { Backup } = getDb();
  const filed = literal(
    `not exists (select from backups f where f.sha256 = "Backup".sha256 and f.taken_at = "Backup".taken_at and f.aircraft_id is not null)`,
  );
  const ownerless = await list(Backup, {
    where: { [Op.and]: [{ chip_id: gift.chipId, aircraft_id: null, source: ["bay", "file"] }, filed] },
    attributes: ["id", "release_id", "taken_at"],
    order: ["id"],
    limit: 500,
    transaction,
  });
  for (const { id, release_id, taken_at } of ownerless) {
    const release = releaseById(catalogue, release_id ?? "");
    if (!release.ok) continue;
    const name = backupName(gift.tag, releaseTitle(release.value), taken_at.toISOString());
    await fileAgain(id, aircraftId, name, transaction);
  }
}

/** A read-out filed with an aircraft as well. Copied by the database: its times are finer than those of this program. */
const fileAgain = (id: number, aircraftId: number, name: string, transaction: Transaction): Promise<void> =>
  run(
    `insert into backups (aircraft_id, chip_id, sha256, source, name, release_id, target, verdict, findings, taken_by, taken_at)
     select $2, chip_id, sha256, source, $3, release_id, target, verdict, findings, taken_by, taken_at from backups where id = $1`,
    [id, aircraftId, name],
    transaction,
  );

export interface BoardMove extends Row<BoardMoveRow, "id" | "chip_id" | "model_id" | "account" | "at"> {
  readonly tag: string;
  readonly from_tag: string | null;
}

/** Boards that came to an aircraft or left it for another. */
export async function movesOf(aircraftId: number): Promise<BoardMove[]> {
  const found = await list(getDb().BoardMove, {
    where: { [Op.or]: [{ aircraft_id: aircraftId }, { from_aircraft_id: aircraftId }] },
    include: ["aircraft", "from"].map((association) => ({ association, attributes: ["tag"] })),
    order: [["id", "desc"]],
    limit: 60,
  });
  return found.map((move) => ({ ...move, tag: move.aircraft?.tag ?? "", from_tag: move.from?.tag ?? null }));
}

/** Tags that have no board yet, for choosing one. */
export async function boardlessTags(): Promise<string[]> {
  const bare = literal(`not exists (select from boards where aircraft_id = "Aircraft".id)`);
  const found = await list(getDb().Aircraft, { where: bare, attributes: ["tag"], order: ["tag"], limit: 300 });
  return found.map(({ tag }) => tag);
}

const TAG = [{ association: "aircraft", attributes: ["tag"], required: true }];

/** Aircraft whose board is of a target, by any of its names, and the release that each runs. */
export async function aircraftOfTarget(
  names: readonly string[],
): Promise<{ tag: string; release_id: string | null }[]> {
  const found = await list(getDb().Board, {
    where: { target: [...names] },
    attributes: ["release_id"],
    include: TAG,
    order: [["aircraft", "tag", "asc"]],
    limit: 500,
  });
  return found.map(({ aircraft, release_id }) => ({ tag: aircraft?.tag ?? "", release_id }));
}

/** Tags of the aircraft that fly with a model. */
export async function aircraftWith(modelId: string): Promise<string[]> {
  const found = await list(getDb().Board, {
    where: { model_id: modelId },
    attributes: ["id"],
    include: TAG,
    order: [["aircraft", "tag", "asc"]],
    limit: 300,
  });
  return [...new Set(found.flatMap(({ aircraft }) => aircraft?.tag ?? []))];
}
