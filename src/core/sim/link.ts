import type { Clock } from "@/core/sim/clock";
import type { DeviceReply, DeviceRequest } from "@/core/sim/dfu-device";
import type { Presence, SimBoard } from "@/core/sim/board";
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
}

/** Longest stretch of board time that is waited for in one go, so that hands on the board are noticed. */
const SLICE_US = 200_000;

export function linkTo(board: SimBoard, clock: Clock): SimLink {
  const present = (kind: Presence["kind"]) => board.presence(clock.nowUs()).kind === kind;
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
        if (!present("usb-loader")) throw gone();
        return result.reply;
      },
      reset: () => {
        board.usbReset(clock.nowUs());
        return Promise.resolve();
      },
      wait: async (ms) => {
        await clock.waitUntil(clock.nowUs() + ms * 1000);
      },
    },
    console: {
      nowUs: () => clock.nowUs(),
      send: (bytes) => (board.sendSerial(bytes, clock.nowUs()) ? Promise.resolve() : Promise.reject(gone())),
      receive: async (untilUs) => {
        for (;;) {
          const bytes = board.takeSerial(clock.nowUs());
          if (bytes.length > 0) return bytes;
          if (!present("console")) throw gone();
          if (clock.nowUs() >= untilUs) return undefined;
          await clock.waitUntil(Math.min(board.nextOutputUs() ?? untilUs, untilUs, clock.nowUs() + SLICE_US));
        }
      },
    },
  };
}
