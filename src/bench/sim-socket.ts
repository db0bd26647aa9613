import {
  afflict,
  calibrate,
  linkTo,
  NO_FAULTS,
  putChunk,
  resumeBoard,
  SimBoard,
  snapshotOf,
  staysDirty,
  takeDirtyChunks,
  type Ailment,
  type BoardSnapshot,
  type Faults,
  type SimLink,
} from "@/core/sim";
import { BATTERIES, loaderOn } from "@/core/catalog";
import { ProblemError } from "@/core/problem";
import type { BoardLink } from "@/bench/link";
import { pacedClock, type PacedClock } from "@/bench/paced-clock";
import type { HandsOrder, Socket, SocketFace } from "@/bench/socket";
import { loadCatalogue } from "@/server/repositories/catalogue";
import {
  claimBoard,
  flashChunks,
  saveSimBoard,
  shelveBoard,
  simBoardById,
  type SimBoardRow,
} from "@/server/repositories/simulation";

/** A simulated board in its socket: the machine, its clock and the cable to it. */
interface Seat {
  readonly row: SimBoardRow;
  readonly board: SimBoard;
  readonly clock: PacedClock;
  readonly link: SimLink;
}

interface Place {
  readonly no: number;
  readonly benchId: number;
  readonly fence: string;
}

/** Takes a board out of storage, as its flash and its hands stood when it was last stored. */
async function seatBoard(id: number, factor: number): Promise<Seat> {
  const catalogue = await loadCatalogue();
  const row = await simBoardById(id);
  const model = row && catalogue.models.get(row.model_id);
  if (!row || !model) throw new ProblemError({ code: "sim-none", message: "There is no such simulated board" });
  const { parts } = row.snapshot as Partial<BoardSnapshot>;
  const spec = { model, chipId: row.chip_id, firstPort: row.first_port, ...(parts ? { parts } : {}) };
  const board = new SimBoard(spec, catalogue);
  for (const { chunk, bytes } of await flashChunks(id)) putChunk(board, chunk, bytes);
  const clock = pacedClock(Number(row.clock_us), factor);
  if ("running" in row.snapshot) resumeBoard(board, row.snapshot as BoardSnapshot, clock.nowUs());
  return { row, board, clock, link: linkTo(board, clock) };
}

const setFault = (faults: Faults, name: keyof Faults, value: number): Faults => ({
  ...faults,
  [name]: typeof NO_FAULTS[name] === "number" ? value : value !== 0,
});

/** A socket into which simulated boards are put from the shelf. Its boards are stored with their flash. */
export class SimSocket implements Socket {
  private seat: Seat | undefined;
  private saving: Promise<void> = Promise.resolve();
  readonly link: BoardLink;

  constructor(
    private readonly place: Place,
    private factor: number,
  ) {
    this.link = this.makeLink();
  }

  readonly simulated: NonNullable<Socket["simulated"]> = {
    bring: async (boardId) => {
      if (this.seat)
        throw new ProblemError({
          code: "bay-full",
          message: `Bay ${this.place.no} holds a board already`,
          detail: this.seat.row.label,
          hint: "Take it out first",
        });
      await claimBoard(boardId, this.place);
      try {
        this.seat = await seatBoard(boardId, this.factor);
      } catch (error) {
        await shelveBoard(boardId, this.place);
        throw error;
      }
    },
    takeOut: async () => {
      const { seat } = this;
      if (!seat) return;
      seat.board.unplug(seat.clock.nowUs());
      for (const which of BATTERIES) seat.board.setBattery(seat.clock.nowUs(), false, which);
      this.seat = undefined;
      await this.afterSaving(() => this.store(seat, null));
    },
    handle: (order) => this.handle(order),
    setFactor: (factor) => {
      this.factor = factor;
      this.seat?.clock.setFactor(factor);
    },
  };

  face(): SocketFace | undefined {
    if (!this.seat) return undefined;
    const { row, board } = this.seat;
    const { roll, pitch, heading, sticks } = board.senses;
    const { bootButton, bootPads } = board.spec.model;
    const serial = loaderOn(board.processor, "serial") !== undefined;
    return {
      simBoardId: row.id,
      simLabel: row.label,
      cable: board.cable,
      battery: board.batteries.has("battery"),
      ...(board.senses.secondVolts === undefined ? {} : { secondBattery: board.batteries.has("second battery") }),
      faults: { ...board.faults },
      senses: { roll, pitch, heading, sticks: [...sticks] },
      hands: { bootButton, bootPads, serial },
      adapter: board.adapter,
      lamp: board.lamp,
    };
  }

  checkpoint(): Promise<void> {
    return this.afterSaving(() => (this.seat ? this.store(this.seat, this.place.no) : Promise.resolve()));
  }

  letGo(): Promise<void> {
    return this.saving;
  }

  /** One after the other: an older state must never come to lie over a newer one. */
  private afterSaving(save: () => Promise<void>): Promise<void> {
    const next = this.saving.catch(() => undefined).then(save);
    this.saving = next;
    return next;
  }

  /** Stores a board. What could not be stored stays marked, and goes with the next call. */
  private async store(seat: Seat, bayNo: number | null): Promise<void> {
    const chunks = takeDirtyChunks(seat.board);
    try {
      await saveSimBoard(this.place.benchId, this.place.fence, {
        boardId: seat.row.id,
        bayNo,
        clockUs: seat.clock.nowUs(),
        snapshot: snapshotOf(seat.board),
        chunks,
      });
    } catch (error) {
      for (const { chunk } of chunks) staysDirty(seat.board, chunk);
      throw error;
    }
  }

  private makeLink(): BoardLink {
    const seat = () => {
      if (!this.seat)
        throw new ProblemError({ code: "link-lost", message: "There is no board in the bay", hint: "Put it back" });
      return this.seat.link;
    };
    return {
      presence: () => this.seat?.link.presence() ?? { kind: "none" },
      clock: { nowUs: () => this.seat?.clock.nowUs() ?? 0, waitUntil: (us) => seat().clock.waitUntil(us) },
      console: {
        send: (bytes) => seat().console.send(bytes),
        receive: (us) => seat().console.receive(us),
        nowUs: () => seat().clock.nowUs(),
      },
      usb: {
        control: (r) => seat().usb.control(r),
        wait: (ms) => seat().usb.wait(ms),
        nowUs: () => seat().clock.nowUs(),
        reset: () => seat().usb.reset(),
      },
      serial: {
        send: (bytes) => seat().serial.send(bytes),
        receive: (us) => seat().serial.receive(us),
        nowUs: () => seat().clock.nowUs(),
        setBaud: (baud) => seat().serial.setBaud(baud),
      },
      drive: {
        read: (name, offset, lengthBytes) => seat().drive.read(name, offset, lengthBytes),
        write: (blocks) => seat().drive.write(blocks),
        eject: () => seat().drive.eject(),
      },
    };
  }

  /** Simulated hands on the board. */
  private handle(order: HandsOrder): void {
    const { seat } = this;
    if (!seat)
      throw new ProblemError({
        code: "bay-empty",
        message: `Bay ${this.place.no} is empty`,
        hint: "Put a board in first",
      });
    const { board, clock } = seat;
    if (order.kind === "plug") board.plug(clock.nowUs(), { button: order.button, pads: order.pads });
    else if (order.kind === "unplug") board.unplug(clock.nowUs());
    else if (order.kind === "adapter") board.adapter = order.wired;
    else if (order.kind === "battery") board.setBattery(clock.nowUs(), order.fitted, order.which);
    else if (order.kind === "lean")
      Object.assign(board.senses, { roll: order.roll, pitch: order.pitch, heading: order.heading });
    else if (order.kind === "stick")
      board.senses.sticks = board.senses.sticks.map((old, i) => (i === order.index ? order.pulse : old));
    else if (order.kind === "calibrate") calibrate(board);
    else if (order.kind === "afflict") this.afflict(board, order.ailment);
    else board.faults = setFault(board.faults, order.name, order.value);
  }

  private afflict(board: SimBoard, ailment: Ailment): void {
    if (board.powered)
      throw new ProblemError({
        code: "board-powered",
        message: "That is done to a board without power",
        hint: "Pull its cable and take its battery out",
      });
    afflict(board, ailment);
  }
}
