import type { Transaction } from "sequelize";
import { loaderIdOf, releaseById, releaseTitle, sameChip, type Catalogue } from "@/core/catalog";
import { ProblemError } from "@/core/problem";
import { holdFence } from "@/server/repositories/bench";
import { backupName } from "@/server/repositories/backups";
import { addGrounding, settleState } from "@/server/repositories/groundings";
import { inTransaction, one, rows, run } from "@/server/sql";

export interface KnownBoard {
  readonly id: number;
  readonly chip_id: string;
  readonly model_id: string;
  readonly target: string;
  readonly release_id: string | null;
  readonly aircraft_id: number | null;
  readonly tag: string | null;
  readonly aircraft_state: string | null;
}

/**
 * Boards that a chip id belongs to: none, one, or several where chip ids are not unique. Of a board that only its loader
 * told, a word may not be known yet.
 */
export async function boardsByChip(chipId: string, transaction?: Transaction): Promise<KnownBoard[]> {
  const found = await rows<KnownBoard>(
    `select b.*, a.tag, a.state as aircraft_state from boards b left join aircraft a on a.id = b.aircraft_id
     where b.chip_id = $1 or position('?' in b.chip_id) > 0 order by b.id`,
    [chipId],
    transaction,
  );
  const exact = found.filter((board) => board.chip_id === chipId);
  return exact.length > 0 ? exact : found.filter((board) => sameChip(chipId, board.chip_id));
}

/** Boards that a loader's id can be derived from, whether or not an aircraft flies them. */
export async function boardsByLoader(loaderId: string, catalogue: Catalogue): Promise<KnownBoard[]> {
  const all = await rows<KnownBoard>(
    "select b.*, a.tag, a.state as aircraft_state from boards b left join aircraft a on a.id = b.aircraft_id order by b.id",
  );
  return all.filter((board) => {
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
  readonly present: string | null;
}

const SELECT_RECEIVER = `select a.id, a.state, b.chip_id as present from aircraft a
  left join lateral (select chip_id from boards where aircraft_id = a.id order by id desc limit 1) b on true
  where a.tag = $1 for update of a`;

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
    await run("select pg_advisory_xact_lock(hashtextextended('boards are given', 0))", [], transaction);
    const receiver = await one<Receiver>(SELECT_RECEIVER, [gift.tag], transaction);
    if (!receiver)
      throw new ProblemError({
        code: "aircraft-none",
        message: `There is no aircraft ${gift.tag}`,
        hint: "Add it to the register first",
      });
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
    await run(
      "insert into board_moves (board_id, aircraft_id, from_aircraft_id, chip_id, model_id, account, at) values ($1, $2, $3, $4, $5, $6, $7)",
      [boardId, receiver.id, from, gift.chipId, gift.modelId, gift.account, gift.at ?? new Date()],
      transaction,
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
  await run(
    "update boards set aircraft_id = null where aircraft_id = $1 and chip_id <> $2",
    [aircraftId, gift.chipId],
    transaction,
  );
  const values = [gift.chipId, gift.modelId, gift.target, gift.releaseId, aircraftId];
  const written = board
    ? await one<{ id: number }>(
        "update boards set chip_id = $1, model_id = $2, target = $3, release_id = $4, aircraft_id = $5 where id = $6 returning id",
        [...values, board.id],
        transaction,
      )
    : await one<{ id: number }>(
        "insert into boards (chip_id, model_id, target, release_id, aircraft_id) values ($1, $2, $3, $4, $5) returning id",
        values,
        transaction,
      );
  if (!written) throw new Error("the board's row was not written");
  return written.id;
}

async function ground(aircraftId: number, reason: string, account: string, transaction: Transaction): Promise<void> {
  // the newest says how it stands with its boards; what was said of them before is over
  await run(
    "update groundings set lifted_by = $2, lifted_at = now() where aircraft_id = $1 and cause = 'board' and lifted_at is null",
    [aircraftId, account],
    transaction,
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
  const ownerless = await rows<{ id: number; release_id: string | null; taken_at: Date }>(
    `select id, release_id, taken_at from backups b
     where chip_id = $1 and aircraft_id is null and source in ('bay', 'file') and not exists
       (select 1 from backups f where f.sha256 = b.sha256 and f.taken_at = b.taken_at and f.aircraft_id is not null)
     order by id limit 500`,
    [gift.chipId],
    transaction,
  );
  for (const { id, release_id, taken_at } of ownerless) {
    const release = releaseById(catalogue, release_id ?? "");
    if (!release.ok) continue;
    await run(
      `insert into backups (aircraft_id, chip_id, sha256, source, name, release_id, target, verdict, findings, taken_by, taken_at)
       select $2, chip_id, sha256, source, $3, release_id, target, verdict, findings, taken_by, taken_at from backups where id = $1`,
      [id, aircraftId, backupName(gift.tag, releaseTitle(release.value), taken_at.toISOString())],
      transaction,
    );
  }
}

export interface BoardMove {
  readonly id: number;
  readonly chip_id: string;
  readonly model_id: string;
  readonly tag: string;
  readonly from_tag: string | null;
  readonly account: string;
  readonly at: Date;
}

/** Boards that came to an aircraft or left it for another. */
export const movesOf = (aircraftId: number): Promise<BoardMove[]> =>
  rows(
    `select m.id, m.chip_id, m.model_id, a.tag, f.tag as from_tag, m.account, m.at
     from board_moves m join aircraft a on a.id = m.aircraft_id left join aircraft f on f.id = m.from_aircraft_id
     where m.aircraft_id = $1 or m.from_aircraft_id = $1 order by m.id desc limit 60`,
    [aircraftId],
  );

/** Tags that have no board yet, for choosing one. */
export async function boardlessTags(): Promise<string[]> {
  const found = await rows<{ tag: string }>(
    "select tag from aircraft a where not exists (select 1 from boards where aircraft_id = a.id) order by tag limit 300",
  );
  return found.map(({ tag }) => tag);
}

/** Aircraft whose board is of a target, by any of its names, and the release that each runs. */
export const aircraftOfTarget = (names: readonly string[]): Promise<{ tag: string; release_id: string | null }[]> =>
  rows(
    `select a.tag, b.release_id from boards b join aircraft a on a.id = b.aircraft_id
     where b.target in (select value from json_array_elements_text($1::json)) order by a.tag limit 500`,
    [JSON.stringify(names)],
  );
