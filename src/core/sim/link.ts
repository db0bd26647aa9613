import type { Clock } from "@/core/sim/clock";
import type { DeviceReply, DeviceRequest } from "@/core/sim/loaders/dfu-device";
import type { SimBoard } from "@/core/sim/board";
import type { Presence } from "@/core/sim/presence";
import { ProblemError } from "@/core/problem";

const gone = () =>
  new ProblemError({
    code: "link-lost",
    message: "The board has gone from its cable",
    hint: "Plug it in again; the job goes on from where it stopped",
  });

/** The cable between a host and a simulated board: both ports, on the board's clock. */
export interface SimLink {
  readonly board: SimBoard;
  readonly clock: Clock;
  presence(): Presence;
  readonly usb: {
    control(request: DeviceRequest): Promise<DeviceReply>;
    wait(ms: number): Promise<void>;
    nowUs(): number;
    reset(): Promise<void>;
  };
  readonly console: {
    send(bytes: Uint8Array): Promise<void>;
    receive(untilUs: number): Promise<Uint8Array | undefined>;
    nowUs(): number;
  };
  readonly serial: SimLink["console"] & { setBaud(baud: number): Promise<void> };
  readonly drive: {
    read(name: string, offset: number, lengthBytes: number): Promise<Uint8Array | undefined>;
    write(blocks: Uint8Array): Promise<void>;
    eject(): Promise<void>;
  };
}

/** Longest stretch of board time that is waited for in one go, so that hands on the board are noticed. */
const SLICE_US = 200_000;

export function linkTo(board: SimBoard, clock: Clock): SimLink {
  const shown = () => board.shows(clock.nowUs());
  const line = (on: "console" | "serial"): SimLink["console"] => ({
    nowUs: () => clock.nowUs(),
    send: (bytes) =>
      shown() === on && board.sendSerial(bytes, clock.nowUs()) ? Promise.resolve() : Promise.reject(gone()),
    receive: async (untilUs) => {
      for (;;) {
        const bytes = board.takeSerial(clock.nowUs());
        if (bytes.length > 0) return bytes;
        if (shown() !== on) throw gone();
        if (clock.nowUs() >= untilUs) return undefined;
        const next = Math.max(board.nextOutputUs() ?? untilUs, clock.nowUs() + 1);
        await clock.waitUntil(Math.min(next, untilUs, clock.nowUs() + SLICE_US));
      }
    },
  });
  const reset = () => {
    board.usbReset(clock.nowUs());
    return Promise.resolve();
  };
  return {
    board,
    clock,
    presence: () => {
      board.advance(clock.nowUs());
      return board.presence(clock.nowUs());
    },
    usb: {
      nowUs: () => clock.nowUs(),
      control: async (request) => {
        const result = board.control(request, clock.nowUs());
        if (!result) throw gone();
        await clock.waitUntil(result.doneUs);
        if (shown() !== "usb") throw gone();
        return result.reply;
      },
      reset,
      wait: async (ms) => {
        await clock.waitUntil(clock.nowUs() + ms * 1000);
      },
    },
    console: line("console"),
    serial: {
      ...line("serial"),
      setBaud: (baud) => {
        board.loaders.setHostBaud(baud);
        return Promise.resolve();
      },
    },
    drive: {
      read: async (name, offset, lengthBytes) => {
        const result = board.driveRead(name, offset, lengthBytes, clock.nowUs());
        if (!result) throw gone();
        await clock.waitUntil(result.doneUs);
        if (shown() !== "drive") throw gone();
        return result.bytes;
      },
      write: async (blocks) => {
        const doneUs = board.driveWrite(blocks, clock.nowUs());
        if (doneUs === undefined) throw gone();
        await clock.waitUntil(doneUs);
        if (shown() !== "drive") throw gone();
      },
      eject: reset,
    },
  };
}
