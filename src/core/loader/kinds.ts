import type { Processor } from "@/core/catalog";
import { DFU, type DfuSeen, type UsbPort } from "@/core/loader/dfu/open";
import { DRIVE, type DrivePort, type DriveSeen } from "@/core/loader/drive/open";
import type { Loader, LoaderKind, LoaderWord } from "@/core/loader/loader";
import { SERIAL, type SerialSeen } from "@/core/loader/serial/open";
import type { SerialPort } from "@/core/loader/serial/menu";

/** What a loader shows of itself on its cable, by the way that it is reached. */
export type LoaderSeen = DfuSeen | SerialSeen | DriveSeen;
export type LoaderWay = LoaderSeen["way"];

/** The way to a board's loaders, whichever it shows. */
export interface LoaderPorts {
  readonly usb: UsbPort;
  readonly serial: SerialPort;
  readonly drive: DrivePort;
}

type Kinds = { readonly [S in LoaderSeen as S["way"]]: LoaderKind<S, LoaderPorts[S["way"]]> };
/** Every kind of loader: one folder each, one row here. */
export const LOADERS: Kinds = { usb: DFU, serial: SERIAL, drive: DRIVE };

/** A kind and its port, taken together so that neither can be of another way than what was seen. */
const of = (ports: LoaderPorts, { way }: LoaderSeen) => ({
  kind: LOADERS[way] as LoaderKind<LoaderSeen, LoaderPorts[LoaderWay]>,
  port: ports[way],
});

export const openLoader = (ports: LoaderPorts, seen: LoaderSeen, processor: Processor): Loader => {
  const { kind, port } = of(ports, seen);
  return kind.open(port, seen, processor);
};

/** Asks a loader who it is; undefined when it answers as none of these processors' loaders would. */
export const askLoader = (
  ports: LoaderPorts,
  seen: LoaderSeen,
  processors: readonly Processor[],
): Promise<LoaderWord | undefined> => {
  const { kind, port } = of(ports, seen);
  return kind.ask(port, seen, processors);
};

/** “USB loader”, “serial loader”, “drive loader”. */
export const LOADER_TITLES: Readonly<Record<LoaderWay, string>> = {
  usb: "USB loader",
  serial: "serial loader",
  drive: "drive loader",
};
