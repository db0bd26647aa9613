import type { LoaderTransport } from "@/core/catalog";
import type { ControlReply, ControlRequest, LoaderDescriptor } from "@/core/loader/dfu/protocol";

/** What a loader shows of itself on USB (USB 2.0, 9.6; DFU 1.1, 4.1.3). */
export type UsbSeen = LoaderDescriptor & { readonly transport: "usb" };

/** A serial line on which no console answers: a loader may stand there. */
export interface SerialSeen {
  readonly transport: "serial";
}

export interface DriveSeen {
  readonly transport: "drive";
  readonly vendorId: number;
  readonly productId: number;
  readonly serial: string;
}

/** What a loader shows of itself on its cable, by what it is reached over. */
export type LoaderSeen = UsbSeen | SerialSeen | DriveSeen;
export type SeenOn<T extends LoaderTransport> = Extract<LoaderSeen, { transport: T }>;

/** A loader on a USB cable. A transfer on a board that has gone rejects with a ProblemError. */
export interface UsbPort {
  control(request: ControlRequest): Promise<ControlReply>;
  wait(ms: number): Promise<void>;
  nowUs(): number;
  /** A reset of the bus: the loader is left (DFU 1.1, Appendix A.1). */
  reset(): Promise<void>;
}

/** A serial line. On a line that has gone, calls reject with a ProblemError. */
export interface SerialPort {
  send(bytes: Uint8Array): Promise<void>;
  /** The next bytes to arrive, or undefined when none have come until the given time. */
  receive(untilUs: number): Promise<Uint8Array | undefined>;
  nowUs(): number;
  setBaud(baud: number): Promise<void>;
}

/** A drive that a loader shows. Calls on one that has gone reject with a ProblemError. */
export interface DrivePort {
  /** Bytes of a file from an offset; undefined: there is no such file. */
  read(name: string, offset: number, lengthBytes: number): Promise<Uint8Array | undefined>;
  write(blocks: Uint8Array): Promise<void>;
  eject(): Promise<void>;
}

/** The way to a board's loaders, whichever it shows. */
export interface LoaderPorts {
  readonly usb: UsbPort;
  readonly serial: SerialPort;
  readonly drive: DrivePort;
}

/** What a person calls whatever shows itself there. */
export const LOADER_TITLES: Readonly<Record<LoaderTransport, string>> = {
  usb: "USB loader",
  serial: "serial loader",
  drive: "drive loader",
};

/** The version that a loader in flash says itself: bcdDevice (USB 2.0, 9.6.1). */
export const versionShown = (seen: LoaderSeen): number | undefined =>
  seen.transport === "usb" ? seen.version : undefined;
