import { loaderIdOf, loaderOf, type Processor, type ProcessorLoader } from "@/core/catalog";
import { alternatesOf } from "@/core/sim/boot";
import {
  handleDfu,
  powerOnDfu,
  STATUS,
  type DeviceReply,
  type DeviceRequest,
  type DfuDevice,
  type DfuHardware,
} from "@/core/sim/dfu-device";
import { DriveLoaderDevice } from "@/core/sim/drive-loader";
import { eraseAllBut, eraseRange, program, readRange, type FlashMemory } from "@/core/sim/flash-memory";
import type { LoaderShown } from "@/core/sim/presence";
import { SerialLoaderDevice } from "@/core/sim/serial-loader";

export type LoaderWay = ProcessorLoader["kind"];

const USB_OVERHEAD_US = 125;
const USB_US_PER_BYTE = 1;
const MANIFEST_US = 1_000;
/** A drive over USB takes so long for each block of 512 bytes. */
const DRIVE_US_PER_BYTE = 1;

/** What the loaders of a board need of it. */
export interface LoaderHost {
  readonly processor: Processor;
  readonly flash: FlashMemory;
  readonly chipId: string;
  /** Nothing is given out. */
  readonly protected: () => boolean;
  readonly unprotect: () => void;
  /** Every n-th transfer goes wrong; 0: none. */
  readonly stallEvery: () => number;
  readonly failPower: (nowUs: number) => void;
  /** Out of the loader: whatever starts then. */
  readonly start: (nowUs: number) => void;
}

/** The loaders of one board, as they stand between two power cycles. Times in µs of the board's clock. */
export class BoardLoaders {
  private dfu: DfuDevice = powerOnDfu();
  private serialDevice: SerialLoaderDevice | undefined;
  private driveDevice: DriveLoaderDevice | undefined;
  transfers = 0;
  /** What the host's side of the serial line is set to. */
  private hostBaud: number | undefined;

  constructor(private readonly host: LoaderHost) {}

  get loaderId(): string {
    return loaderIdOf(this.host.chipId, this.host.processor);
  }

  /** What a loader shows of itself; `version` where it lives in flash. */
  shown(way: LoaderWay, version: number | undefined): LoaderShown {
    if (way === "serial") return { way };
    const { processor } = this.host;
    const loader = loaderOf(processor, way);
    if (!loader) throw new Error(`${processor.id} has no ${way} loader`);
    const { vendorId, productId } = loader;
    const shown = { vendorId, productId, serial: this.loaderId };
    if (loader.kind === "drive") return { way: "drive", ...shown };
    const { transferSizeBytes } = loader;
    const canUpload = loader.canUpload && !this.host.protected();
    const alternates = alternatesOf(processor).map(({ name }) => name);
    return {
      way: "usb",
      ...shown,
      ...(version === undefined ? {} : { version }),
      alternates,
      transferSizeBytes,
      canUpload,
    };
  }

  /** As after a power cycle. */
  reset(): void {
    this.dfu = powerOnDfu();
    this.serialDevice = undefined;
    this.driveDevice = undefined;
  }

  /** One control transfer that begins at a time: the reply, and when it is there. */
  control(request: DeviceRequest, atUs: number): { reply: DeviceReply; doneUs: number } {
    this.transfers++;
    const bytes = request.data?.length ?? request.length ?? 0;
    const doneUs = atUs + USB_OVERHEAD_US + bytes * USB_US_PER_BYTE;
    const every = this.host.stallEvery();
    if (every > 0 && this.transfers % every === 0 && request.request <= 2) {
      this.dfu = { ...this.dfu, state: 10, status: STATUS.stalledPacket };
      return { reply: { kind: "stall" }, doneUs };
    }
    const [device, reply] = handleDfu(this.dfu, request, this.hardware(doneUs), doneUs);
    this.dfu = device;
    return { reply, doneUs };
  }

  /** The first write to a protected board: all but a loader is erased, and the board starts anew when that is over. */
  private lift(nowUs: number): void {
    const { flash, processor, unprotect, start } = this.host;
    unprotect();
    start(nowUs + eraseAllBut(flash, processor.loaderSectors));
  }

  private hardware(nowUs: number): DfuHardware {
    const { processor, flash, failPower } = this.host;
    const loader = loaderOf(processor, "usb");
    const alternates = alternatesOf(processor);
    return {
      alternates,
      transferSizeBytes: loader?.transferSizeBytes ?? 0,
      canUpload: (loader?.canUpload ?? false) && !this.host.protected(),
      manifestUs: MANIFEST_US,
      manifestationTolerant: true,
      read: (alternate, offset, lengthBytes) =>
        readRange(flash, (alternates[alternate]?.start ?? 0) + offset, lengthBytes).slice(),
      write: (alternate, offset, data) => {
        const segment = alternates[alternate];
        if (!segment) return { status: STATUS.address };
        if (this.host.protected()) {
          this.lift(nowUs);
          return { status: STATUS.write };
        }
        const erased = offset === 0 ? eraseRange(flash, segment.start, segment.lengthBytes) : { us: 0, cut: false };
        const written = erased.cut ? { cut: true } : program(flash, segment.start + offset, data);
        if (written.cut) failPower(nowUs);
        return { us: erased.us + data.length * processor.programUsPerByte };
      },
    };
  }

  /** The loader on the bare serial line, once it has been reached. */
  get serial(): SerialLoaderDevice {
    const loader = loaderOf(this.host.processor, "serial");
    if (!loader) throw new Error(`${this.host.processor.id} has no serial loader`);
    if (!this.serialDevice) {
      const { processor, flash, failPower, start, stallEvery } = this.host;
      const loaderId = this.loaderId;
      this.serialDevice = new SerialLoaderDevice({
        processor,
        loader,
        flash,
        loaderId,
        damageEvery: stallEvery,
        protected: () => this.host.protected(),
        lift: (nowUs) => this.lift(nowUs),
        failPower,
        start,
      });
    }
    if (this.hostBaud !== undefined) this.serialDevice.hostBaud = this.hostBaud;
    return this.serialDevice;
  }

  setHostBaud(baud: number): void {
    this.hostBaud = baud;
  }

  private get drive(): DriveLoaderDevice {
    const loader = loaderOf(this.host.processor, "drive");
    if (!loader) throw new Error(`${this.host.processor.id} has no drive loader`);
    const { processor, flash, failPower, stallEvery } = this.host;
    return (this.driveDevice ??= new DriveLoaderDevice({ processor, loader, flash, failPower, loseEvery: stallEvery }));
  }

  driveWrite(bytes: Uint8Array, atUs: number): number {
    if (this.host.protected()) {
      this.lift(atUs);
      return atUs;
    }
    const wireUs = bytes.length * DRIVE_US_PER_BYTE;
    // the cable and the flash work at once: the slower one counts
    return atUs + Math.max(wireUs, this.drive.write(bytes, atUs));
  }

  driveRead(name: string, offset: number, length: number, atUs: number): { bytes?: Uint8Array; doneUs: number } {
    const bytes = this.host.protected() ? undefined : this.drive.read(name, offset, length);
    return { ...(bytes ? { bytes } : {}), doneUs: atUs + USB_OVERHEAD_US + (bytes?.length ?? 0) * DRIVE_US_PER_BYTE };
  }
}
