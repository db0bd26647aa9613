import { ProblemError } from "@/core/problem";
import type { BoardSnapshot } from "@/core/sim";
import { Op } from "sequelize";
import { getDb } from "@/server/db";
import type { SimBoard } from "@/server/models";
import { first, inTransaction, list, type Row } from "@/server/sql";
import { holdFence } from "@/server/repositories/bench";

export type SimBoardRow = Row<SimBoard>;

export const listSimBoards = (): Promise<SimBoardRow[]> => list(getDb().SimBoard, { order: ["label"] });

export const simBoardsOn = (benchId: number): Promise<SimBoardRow[]> =>
  list(getDb().SimBoard, { where: { bench_id: benchId, bay_no: { [Op.ne]: null } } });

export const simBoardById = (id: number): Promise<SimBoardRow | undefined> =>
  first(getDb().SimBoard, { where: { id } });

/**
 * Gives a simulated board to a bay, for this bench and no other; refuses one that lies in another bay, wherever that is.
 */
export const claimBoard = (
  boardId: number,
  { benchId, fence, no }: { readonly benchId: number; readonly fence: string; readonly no: number },
): Promise<void> =>
  inTransaction(async (transaction) => {
    await holdFence(benchId, fence, transaction);
    const { SimBoard } = getDb();
    const here = { bench_id: benchId, bay_no: no };
    const [taken] = await SimBoard.update(here, {
      where: { id: boardId, [Op.or]: [{ bay_no: null }, here] },
      transaction,
    });
    if (taken > 0) return;
    const elsewhere = await first(SimBoard, { where: { id: boardId }, attributes: ["bay_no"], transaction });
    throw elsewhere
      ? new ProblemError({
          code: "sim-elsewhere",
          message: `This board lies in bay ${elsewhere.bay_no}`,
          hint: "Take it out there first",
        })
      : new ProblemError({ code: "sim-none", message: "There is no such simulated board" });
  });

export const flashChunks = (boardId: number): Promise<{ chunk: number; bytes: Buffer }[]> =>
  list(getDb().SimFlash, { where: { board_id: boardId }, attributes: ["chunk", "bytes"] });

export interface SimState {
  readonly boardId: number;
  readonly bayNo: number | null;
  readonly clockUs: number;
  readonly snapshot: BoardSnapshot;
  readonly chunks: readonly { readonly chunk: number; readonly bytes: Uint8Array }[];
}

/** Stores a simulated board as its flash and its hands stand at one moment, all or nothing. */
export async function saveSimBoard(benchId: number, fence: string | null, state: SimState): Promise<void> {
  await inTransaction(async (transaction) => {
    if (fence !== null) await holdFence(benchId, fence, transaction);
    const { SimBoard, SimFlash } = getDb();
    await SimBoard.update(
      {
        bench_id: state.bayNo === null ? null : benchId,
        bay_no: state.bayNo,
        clock_us: String(Math.round(state.clockUs)),
        snapshot: state.snapshot,
      },
      { where: { id: state.boardId }, transaction },
    );
    for (const { chunk, bytes } of state.chunks)
      await SimFlash.upsert({ board_id: state.boardId, chunk, bytes: Buffer.from(bytes) }, { transaction });
  });
}

export async function createSimBoard(board: {
  label: string;
  chipId: string;
  modelId: string;
  firstPort: number;
}): Promise<number> {
  const { label, chipId: chip_id, modelId: model_id, firstPort: first_port } = board;
  return (await getDb().SimBoard.create({ label, chip_id, model_id, first_port })).id;
}

/** Puts a stored board back on the shelf, as it is, when it cannot be taken out in the ordinary way. */
export const shelveBoard = (boardId: number, { benchId, fence }: { benchId: number; fence: string }): Promise<void> =>
  inTransaction(async (transaction) => {
    await holdFence(benchId, fence, transaction);
    await getDb().SimBoard.update({ bench_id: null, bay_no: null }, { where: { id: boardId }, transaction });
  });
