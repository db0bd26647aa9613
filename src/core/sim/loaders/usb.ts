import {
  applicationSegments,
  compilePattern,
  fillPattern,
  loaderSegments,
  settingsSegment,
  type Processor,
  type Segment,
  type UsbLoader,
} from "@/core/catalog";
import { eraseRange, program, readRange } from "@/core/sim/flash-memory";
import { USB_OVERHEAD_US, type LoaderHost, type UsbDevice } from "@/core/sim/loaders/device";
import { handleDfu, powerOnDfu, STATUS, type DeviceRequest, type DfuHardware } from "@/core/sim/loaders/dfu-device";

const USB_US_PER_BYTE = 1;
const MANIFEST_US = 1_000;

/** The alternate settings of a USB loader: the settings region, the application's segments, its own. */
function alternatesOf({ segmentName, settingsName, loaderName }: UsbLoader, processor: Processor) {
  const named = (template: string, no: number, segment: Segment) => ({
    ...segment,
    name: fillPattern(compilePattern(template), {
      no,
      start: `0x${segment.start.toString(16).padStart(8, "0")}`,
      length: segment.lengthBytes,
    }),
  });
  return [
    named(settingsName, 0, settingsSegment(processor)),
    ...applicationSegments(processor).map((segment, i) => named(segmentName, i + 1, segment)),
    ...(loaderName === undefined
      ? []
      : loaderSegments(processor).map((segment, i) => named(loaderName, i + 1, segment))),
  ];
}

/** A loader by USB DFU 1.1 over a board's flash. */
export class UsbLoaderDevice implements UsbDevice {
  readonly transport = "usb" as const;
  private dfu = powerOnDfu();
  private transfers = 0;
  private readonly alternates: ReturnType<typeof alternatesOf>;

  constructor(
    private readonly loader: UsbLoader,
    private readonly host: LoaderHost,
  ) {
    this.alternates = alternatesOf(loader, host.processor);
  }

  private get canUpload() {
    return this.loader.canUpload && !this.host.protected();
  }

  shown(version: number | undefined) {
    const { vendorId, productId, transferSizeBytes } = this.loader;
    return {
      transport: this.transport,
      ...{ vendorId, productId, serial: this.host.loaderId },
      ...(version === undefined ? {} : { version }),
      alternates: this.alternates.map(({ name }) => name),
      transferSizeBytes,
      canUpload: this.canUpload,
    };
  }

  control(request: DeviceRequest, atUs: number) {
    this.transfers++;
    const bytes = request.data?.length ?? request.length ?? 0;
    const doneUs = atUs + USB_OVERHEAD_US + bytes * USB_US_PER_BYTE;
    const every = this.host.stallEvery();
    if (every > 0 && this.transfers % every === 0 && request.request <= 2) {
      this.dfu = { ...this.dfu, state: 10, status: STATUS.stalledPacket };
      return { reply: { kind: "stall" } as const, doneUs };
    }
    const [device, reply] = handleDfu(this.dfu, request, this.hardware(doneUs), doneUs);
    this.dfu = device;
    return { reply, doneUs };
  }

  private hardware(nowUs: number): DfuHardware {
    const { alternates, loader, canUpload } = this;
    const { processor, flash, failPower, lift } = this.host;
    return {
      alternates,
      transferSizeBytes: loader.transferSizeBytes,
      canUpload,
      manifestUs: MANIFEST_US,
      manifestationTolerant: true,
      read: (alternate, offset, lengthBytes) =>
        readRange(flash, (alternates[alternate]?.start ?? 0) + offset, lengthBytes).slice(),
      write: (alternate, offset, data) => {
        const segment = alternates[alternate];
        if (!segment) return { status: STATUS.address };
        if (this.host.protected()) {
          lift(nowUs);
          return { status: STATUS.write };
        }
        const erased = offset === 0 ? eraseRange(flash, segment.start, segment.lengthBytes) : { us: 0, cut: false };
        const written = erased.cut ? { cut: true } : program(flash, segment.start + offset, data);
        if (written.cut) failPower(nowUs);
        return { us: erased.us + data.length * processor.programUsPerByte };
      },
    };
  }
}
