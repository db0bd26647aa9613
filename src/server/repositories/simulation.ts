import { ProblemError } from "@/core/problem";
import type { BoardSnapshot } from "@/core/sim";
import { rows, run, inTransaction, one, jsonText } from "@/server/sql";
import { holdFence } from "@/server/repositories/bench";

export interface SimBoardRow {
  readonly id: number;
  readonly label: string;
  readonly chip_id: string;
  readonly model_id: string;
  readonly first_port: number;
  readonly bench_id: number | null;
  readonly bay_no: number | null;
  readonly clock_us: string;
  readonly snapshot: BoardSnapshot | Record<string, never>;
}

const COLUMNS = "id, label, chip_id, model_id, first_port, bench_id, bay_no, clock_us, snapshot";

export const listSimBoards = (): Promise<SimBoardRow[]> => rows(`select ${COLUMNS} from sim_boards order by label`);

export const simBoardsOn = (benchId: number): Promise<SimBoardRow[]> =>
  rows(`select ${COLUMNS} from sim_boards where bench_id = $1 and bay_no is not null`, [benchId]);

export const simBoardById = (id: number): Promise<SimBoardRow | undefined> =>
  one(`select ${COLUMNS} from sim_boards where id = $1`, [id]);

/**
 * Gives a simulated board to a bay, for this bench and no other; refuses one that lies in another bay, wherever that is.
 */
export const claimBoard = (
  boardId: number,
  { benchId, fence, no }: { readonly benchId: number; readonly fence: string; readonly no: number },
): Promise<void> =>
  inTransaction(async (transaction) => {
    await holdFence(benchId, fence, transaction);
    const taken = await one(
      `update sim_boards set bench_id = $2, bay_no = $3
       where id = $1 and (bay_no is null or (bench_id = $2 and bay_no = $3)) returning id`,
      [boardId, benchId, no],
      transaction,
    );
    if (taken) return;
    const elsewhere = await one<{ bay_no: number }>(
      "select bay_no from sim_boards where id = $1",
      [boardId],
      transaction,
    );
    throw elsewhere
      ? new ProblemError({
          code: "sim-elsewhere",
          message: `This board lies in bay ${elsewhere.bay_no}`,
          hint: "Take it out there first",
        })
      : new ProblemError({ code: "sim-none", message: "There is no such simulated board" });
  });

export const flashChunks = (boardId: number): Promise<{ chunk: number; bytes: Buffer }[]> =>
  rows("select chunk, bytes from sim_flash where board_id = $1", [boardId]);

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
    await run(
      "update sim_boards set bench_id = $2, bay_no = $3, clock_us = $4, snapshot = $5 where id = $1",
      [
        state.boardId,
        state.bayNo === null ? null : benchId,
        state.bayNo,
        Math.round(state.clockUs),
        jsonText(state.snapshot),
      ],
      transaction,
    );
    for (const { chunk, bytes } of state.chunks)
      await run(
        "insert into sim_flash (board_id, chunk, bytes) values ($1, $2, $3) on conflict (board_id, chunk) do update set bytes = excluded.bytes",
        [state.boardId, chunk, Buffer.from(bytes)],
        transaction,
      );
  });
}

export async function createSimBoard(board: {
  label: string;
  chipId: string;
  modelId: string;
  firstPort: number;
}): Promise<number> {
  const row = await one<{ id: number }>(
    "insert into sim_boards (label, chip_id, model_id, first_port) values ($1, $2, $3, $4) returning id",
    [board.label, board.chipId, board.modelId, board.firstPort],
  );
  if (!row) throw new Error("the simulated board could not be made");
  return row.id;
}

/** Puts a stored board back on the shelf, as it is, when it cannot be taken out in the ordinary way. */
export const shelveBoard = (boardId: number, { benchId, fence }: { benchId: number; fence: string }): Promise<void> =>
  inTransaction(async (transaction) => {
    await holdFence(benchId, fence, transaction);
    await run("update sim_boards set bench_id = null, bay_no = null where id = $1", [boardId], transaction);
  });
