import type { BayLive } from "@/core/job";
import type { BoardLink } from "@/bench/link";
import type { OrderBody } from "@/contracts/order-shapes";

/** What hands do to a board in a socket where they are simulated. */
export type HandsOrder = Extract<
  OrderBody,
  { kind: "plug" | "unplug" | "adapter" | "battery" | "lean" | "stick" | "fault" | "calibrate" | "afflict" }
>;

/** What a socket shows of itself, beside what stands on its cable. */
export type SocketFace = Pick<
  BayLive,
  | "simBoardId"
  | "simLabel"
  | "cable"
  | "battery"
  | "secondBattery"
  | "faults"
  | "senses"
  | "hands"
  | "adapter"
  | "lamp"
  | "line"
>;

/** What a bay needs of the place where boards are plugged in, whatever is behind it. */
export interface Socket {
  /** Stays valid while boards come and go; shows nothing while none is there. */
  readonly link: BoardLink;
  /** Undefined while nothing is in the socket, as far as the socket can tell by itself. */
  face(): SocketFace | undefined;
  /** Puts on disk what would be lost with the process. The record must never know more than that. */
  checkpoint(): Promise<void>;
  /** Gives back whatever it holds of the machine. */
  letGo(): Promise<void>;
  /** Where boards and hands are simulated: putting one in, taking it out, what is done to it. */
  readonly simulated?: {
    bring(boardId: number): Promise<void>;
    takeOut(): Promise<void>;
    handle(order: HandsOrder): void;
    setFactor(factor: number): void;
  };
}
