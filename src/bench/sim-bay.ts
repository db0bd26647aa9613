import {
  linkTo,
  NO_FAULTS,
  resumeBoard,
  SimBoard,
  snapshotOf,
  takeDirtyChunks,
  CHUNK_BYTES,
  type BoardSnapshot,
  type Faults,
  type SimLink,
} from "@/core/sim";
import type { Catalogue } from "@/core/catalog";
import { ProblemError } from "@/core/problem";
import { flashChunks, saveSimBoard, simBoardById, type SimBoardRow } from "@/server/repositories/simulation";
import { pacedClock, type PacedClock } from "@/bench/paced-clock";

/** A simulated board in a bay: the machine, its clock and the cable to it. */
export interface SimSeat {
  readonly row: SimBoardRow;
  readonly board: SimBoard;
  readonly clock: PacedClock;
  readonly link: SimLink;
}

/** Takes a board out of storage, as its flash and its hands stood when it was last stored. */
export async function seatBoard(id: number, catalogue: Catalogue, factor: number): Promise<SimSeat> {
  const row = await simBoardById(id);
  const model = row && catalogue.models.get(row.model_id);
  if (!row || !model) throw new ProblemError({ code: "sim-none", message: "There is no such simulated board" });
  const board = new SimBoard({ model, chipId: row.chip_id, firstPort: row.first_port }, catalogue);
  for (const { chunk, bytes } of await flashChunks(id)) board.flash.bytes.set(bytes, chunk * CHUNK_BYTES);
  const clock = pacedClock(Number(row.clock_us), factor);
  if ("running" in row.snapshot) resumeBoard(board, row.snapshot as BoardSnapshot, clock.nowUs());
  return { row, board, clock, link: linkTo(board, clock) };
}

/** Stores a seated board. What could not be stored stays marked, and goes with the next call. */
export async function storeSeat(seat: SimSeat, benchId: number, fence: string, bayNo: number | null): Promise<void> {
  const chunks = takeDirtyChunks(seat.board);
  try {
    await saveSimBoard(benchId, fence, {
      boardId: seat.row.id,
      bayNo,
      clockUs: seat.clock.nowUs(),
      snapshot: snapshotOf(seat.board),
      chunks,
    });
  } catch (error) {
    for (const { chunk } of chunks) seat.board.flash.dirty.add(chunk);
    throw error;
  }
}

export function setFault(faults: Faults, name: string, value: number): Faults {
  if (name === "stallEvery") return { ...faults, stallEvery: value };
  if (name in NO_FAULTS) return { ...faults, [name]: value !== 0 };
  throw new ProblemError({ code: "fault-unknown", message: "There is no such fault", detail: name });
}
