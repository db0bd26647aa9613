import { loaderIdOf, loaderOn, type LoaderTransport, type Processor, type ProcessorLoader } from "@/core/catalog";
import { eraseAllBut, type FlashMemory } from "@/core/sim/flash-memory";
import type { DriveDevice, LineDevice, LoaderDevice, LoaderHost, UsbDevice } from "@/core/sim/loaders/device";
import { DriveLoaderDevice } from "@/core/sim/loaders/drive";
import { SerialLoaderDevice } from "@/core/sim/loaders/serial";
import { UsbLoaderDevice } from "@/core/sim/loaders/usb";
import type { LoaderShown } from "@/core/sim/presence";

type Makers = {
  readonly [L in ProcessorLoader as L["kind"]]: (loader: L, host: LoaderHost) => LoaderDevice;
};
/** The device side of every kind of loader: one file each, one row here. */
const DEVICES: Makers = {
  usb: (loader, host) => new UsbLoaderDevice(loader, host),
  serial: (loader, host) => new SerialLoaderDevice(loader, host),
  drive: (loader, host) => new DriveLoaderDevice(loader, host),
};

const deviceOf = (loader: ProcessorLoader, host: LoaderHost): LoaderDevice =>
  (DEVICES[loader.kind] as (loader: ProcessorLoader, host: LoaderHost) => LoaderDevice)(loader, host);

/** The board that loaders are on. */
export interface LoaderBoard extends Pick<LoaderHost, "protected" | "stallEvery" | "failPower" | "start"> {
  readonly processor: Processor;
  readonly flash: FlashMemory;
  readonly chipId: string;
  readonly unprotect: () => void;
}

/** The loaders of one board, as they stand between two power cycles. Times in µs of the board's clock. */
export class BoardLoaders {
  private readonly devices = new Map<LoaderTransport, LoaderDevice>();
  private readonly host: LoaderHost;
  /** What the host's side of a serial line is set to. */
  private hostBaud: number | undefined;

  constructor(private readonly board: LoaderBoard) {
    const { processor, flash, chipId, unprotect, start } = board;
    this.host = {
      ...board,
      loaderId: loaderIdOf(chipId, processor),
      lift: (nowUs) => {
        unprotect();
        start(nowUs + eraseAllBut(flash, processor.loaderSectors));
      },
    };
  }

  private on<T extends LoaderTransport>(transport: T): Extract<LoaderDevice, { transport: T }> {
    let device = this.devices.get(transport);
    if (!device) {
      const { processor } = this.board;
      const loader = loaderOn(processor, transport);
      if (!loader) throw new Error(`${processor.id} has no loader on ${transport}`);
      this.devices.set(transport, (device = deviceOf(loader, this.host)));
    }
    return device as Extract<LoaderDevice, { transport: T }>;
  }

  /** What a loader shows of itself; `version` where it lives in flash. */
  shown(transport: LoaderTransport, version: number | undefined): LoaderShown {
    return this.on(transport).shown(version);
  }

  /** As after a power cycle. */
  reset(): void {
    this.devices.clear();
  }

  get usb(): UsbDevice {
    return this.on("usb");
  }

  get serial(): LineDevice {
    const device = this.on("serial");
    if (this.hostBaud !== undefined) device.hostBaud = this.hostBaud;
    return device;
  }

  get drive(): DriveDevice {
    return this.on("drive");
  }

  setHostBaud(baud: number): void {
    this.hostBaud = baud;
  }
}
