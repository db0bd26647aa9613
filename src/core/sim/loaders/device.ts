import type { LoaderTransport, Processor } from "@/core/catalog";
import type { FlashMemory } from "@/core/sim/flash-memory";
import type { DeviceReply, DeviceRequest } from "@/core/sim/loaders/dfu-device";
import type { LoaderShown } from "@/core/sim/presence";

/** What the loaders of a board need of it. Times in µs of the board's clock. */
export interface LoaderHost {
  readonly processor: Processor;
  readonly flash: FlashMemory;
  /** By which a loader names the chip. */
  readonly loaderId: string;
  /** Nothing is given out. */
  readonly protected: () => boolean;
  /** The first write to a protected board: all but a loader is erased, and the board starts anew when that is over. */
  readonly lift: (nowUs: number) => void;
  /** Every n-th transfer goes wrong; 0: none. */
  readonly stallEvery: () => number;
  /** The power went while flash was written. */
  readonly failPower: (nowUs: number) => void;
  /** Out of the loader: whatever starts then. */
  readonly start: (nowUs: number) => void;
}

type ShownOn<T extends LoaderTransport> = Extract<LoaderShown, { transport: T }>;
/** `version`: of a loader that lives in flash. */
interface Device<T extends LoaderTransport> {
  readonly transport: T;
  shown(version: number | undefined): ShownOn<T>;
}

/** On a USB cable: control transfers. */
export interface UsbDevice extends Device<"usb"> {
  /** The reply to a transfer that begins at a time, and when it is there. */
  control(request: DeviceRequest, atUs: number): { reply: DeviceReply; doneUs: number };
}

/** On a bare serial line: bytes. */
export interface LineDevice extends Device<"serial"> {
  /** What the host's side of the line is set to. */
  hostBaud: number;
  /** Bytes that begin to arrive at a time. */
  arrive(bytes: Uint8Array, atUs: number): void;
  /** When the host's last byte has arrived. */
  readonly sentUs: number;
  nextUs(): number | undefined;
  /** What has reached the host by a time. */
  output(untilUs: number): Uint8Array;
}

/** A drive that the host writes files to. */
export interface DriveDevice extends Device<"drive"> {
  /** Takes bytes that the host writes; when it is through. */
  write(bytes: Uint8Array, atUs: number): number;
  /** Bytes of a file from an offset, none where there is no such file, and when they are there. */
  read(name: string, offset: number, length: number, atUs: number): { bytes?: Uint8Array; doneUs: number };
}

/** A loader as it stands between two power cycles, by what it is reached over. */
export type LoaderDevice = UsbDevice | LineDevice | DriveDevice;

/** Each transfer on a USB cable takes so long, beside its bytes. */
export const USB_OVERHEAD_US = 125;
